from __future__ import annotations

from django.apps import AppConfig


class Config(AppConfig):
    name = "tallshelf.service.ledger"
    label = "ledger"

    def ready(self) -> None:
        from tallshelf.service.ledger.actions import record
        from tallshelf.service.people.actions import register_recorder

        register_recorder(record)
