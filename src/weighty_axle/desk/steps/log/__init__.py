"""Log: what happened since."""
