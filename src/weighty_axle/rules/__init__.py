"""What to say about a design: one module per step, each rule a small function in one registry."""
