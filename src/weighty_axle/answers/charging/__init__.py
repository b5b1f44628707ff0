"""Step Charging: filling, and the balance of a day."""
