"""App `jobs`."""
