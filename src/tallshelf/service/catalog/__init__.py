"""App `catalog`."""
