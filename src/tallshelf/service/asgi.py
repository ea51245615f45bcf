"""The ASGI entry that the production server runs, with the clock and the post of its worker process."""

from __future__ import annotations

import os

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tallshelf.service.settings")

from django.conf import settings

from tallshelf.service import directory, listening, scheduler
from tallshelf.service.front import Django, Front, Limits
from tallshelf.service.telling import pool

directory.share(settings.CONFIG.data)
application = Front(Django().answer, at_first=lambda: listening.cut_stalled(Limits.send))
scheduler.start()
pool.start()
