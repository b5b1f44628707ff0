"""First power: what is checked before it, and the cards it follows."""
