"""Powers that change over the day."""
