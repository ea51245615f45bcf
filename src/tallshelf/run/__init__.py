"""Running things: the entry point, ``serve``, ``admin`` and ``demo``. Above service and cli."""
