"""Data classes of servers."""

from __future__ import annotations

DATA_CLASSES = ("public", "internal", "confidential", "restricted")
"""From what anyone may see to what few may."""
