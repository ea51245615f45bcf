"""Tall Shelf: an internal catalog of approved tool servers."""

__version__ = "0.2.0"
