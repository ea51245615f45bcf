"""The WSGI entry that the production server runs, with the clock of its worker process."""

from __future__ import annotations

import os

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tallshelf.service.settings")

from django.core.wsgi import get_wsgi_application

from tallshelf.service import scheduler

application = get_wsgi_application()
scheduler.start()
