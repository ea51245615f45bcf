from __future__ import annotations

from django.apps import AppConfig


class Config(AppConfig):
    name = "tallshelf.service.jobs"
    label = "jobs"
