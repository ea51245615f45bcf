"""The service: one Django app for each noun, over the core."""
