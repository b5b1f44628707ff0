"""What charges the bank."""
