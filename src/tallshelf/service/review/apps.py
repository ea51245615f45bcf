from __future__ import annotations

from django.apps import AppConfig


class Config(AppConfig):
    name = "tallshelf.service.review"
    label = "review"

    def ready(self) -> None:
        from tallshelf.service.catalog.shelf import register_state
        from tallshelf.service.invalidation import register_mark
        from tallshelf.service.jobs.actions import register
        from tallshelf.service.kits.using import Asking, register_asking
        from tallshelf.service.review import queries
        from tallshelf.service.review.actions import reassessment, using

        register_state("waits-for-me", queries.servers_waiting_for)
        register_asking(Asking(using.ask_use, using.take_back_uses))
        register_mark(reassessment.mark_moved)
        register(reassessment.JOB, reassessment.assess_anew)
