"""What must run, when and together; the year's stays; what is on board."""
