"""The job itself: values in, values out. No Django, HTTP, transport, clock or environment."""
