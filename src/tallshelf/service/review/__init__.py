"""App `review`."""
