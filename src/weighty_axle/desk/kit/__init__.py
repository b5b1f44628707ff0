"""What views are made of."""
