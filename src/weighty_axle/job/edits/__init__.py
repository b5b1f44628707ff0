"""Named changes to a job, step by step."""
