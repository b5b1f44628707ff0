"""The fault finder: symptoms, causes, measurements with this job's numbers, ranked by what they tell a minute."""
