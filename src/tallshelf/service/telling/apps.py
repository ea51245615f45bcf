from __future__ import annotations

from django.apps import AppConfig


class Config(AppConfig):
    name = "tallshelf.service.telling"
    label = "telling"

    def ready(self) -> None:
        from tallshelf.service.ledger.actions import register_teller
        from tallshelf.service.telling import notices, rows
        from tallshelf.service.verifying import register_rows

        register_teller(notices.tell)
        register_rows(rows.differences)
