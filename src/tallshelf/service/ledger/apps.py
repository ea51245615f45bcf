from __future__ import annotations

from django.apps import AppConfig


class Config(AppConfig):
    name = "tallshelf.service.ledger"
    label = "ledger"

    def ready(self) -> None:
        from tallshelf.service.ledger import memory
        from tallshelf.service.ledger.actions import record
        from tallshelf.service.people.entries import register_ledger

        register_ledger(record, memory.told)
