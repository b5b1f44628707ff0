"""A year step by step: the bank between sun, engine, hook-up, generator and what must run."""
