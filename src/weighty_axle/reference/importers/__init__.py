"""Open tables and files of others, read with a sentence for every bad row."""
