"""Tables and typical parts as data files, each with its source and a mark where a value is recalled from memory."""
