"""App `people`."""
