"""What a job states, step by step. No physics here."""
