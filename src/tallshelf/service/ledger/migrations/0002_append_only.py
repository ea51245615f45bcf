"""Triggers that refuse to change or remove an entry."""

from __future__ import annotations

from django.db import migrations

_TRIGGER = """
CREATE TRIGGER ledger_entry_no_{act} BEFORE {act} ON ledger_entry
BEGIN SELECT RAISE(ABORT, 'the ledger is append-only'); END
"""


class Migration(migrations.Migration):
    dependencies = [("ledger", "0001_initial")]

    operations = [
        migrations.RunSQL(_TRIGGER.format(act=act), f"DROP TRIGGER ledger_entry_no_{act}")
        for act in ("UPDATE", "DELETE")
    ]
