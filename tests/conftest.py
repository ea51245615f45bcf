"""No test fails by the clock: what is slow is measured under bench/."""

from __future__ import annotations

from hypothesis import settings

settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
