from __future__ import annotations

from django.apps import AppConfig


class Config(AppConfig):
    name = "tallshelf.service.kits"
    label = "kits"

    def ready(self) -> None:
        from tallshelf.service.jobs.actions import register
        from tallshelf.service.kits import moving, using

        register(moving.JOB, moving.move_all)
        register(using.PUT_JOB, moving.put_asked)
