"""What follows from a job: one module per step in the order of the work, and `derive(job) -> Design`."""
