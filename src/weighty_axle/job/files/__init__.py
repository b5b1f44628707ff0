"""Job files and the journal: read with suspicion, written so that nothing is lost."""
