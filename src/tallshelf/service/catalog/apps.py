from __future__ import annotations

from django.apps import AppConfig


class Config(AppConfig):
    name = "tallshelf.service.catalog"
    label = "catalog"

    def ready(self) -> None:
        from tallshelf.service.catalog import findings, steps
        from tallshelf.service.catalog.overlap import found
        from tallshelf.service.invalidation import register_mark
        from tallshelf.service.jobs.actions import register

        register_mark(findings.refresh)
        register_mark(steps.refresh)
        register_mark(found.refresh)
        register(findings.JOB, findings.judge_all)
        register(steps.JOB, steps.judge)
        register(found.JOB, found.read_anew)
