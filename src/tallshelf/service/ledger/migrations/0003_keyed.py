"""What an entry is about, and its MAC; and a trigger that refuses to put an entry in another's place."""

from __future__ import annotations

from django.db import migrations, models

_TRIGGER = """
CREATE TRIGGER ledger_entry_no_replace BEFORE INSERT ON ledger_entry
WHEN EXISTS (SELECT 1 FROM ledger_entry WHERE number = NEW.number OR hash = NEW.hash)
BEGIN SELECT RAISE(ABORT, 'the ledger is append-only'); END
"""


class Migration(migrations.Migration):
    dependencies = [("ledger", "0002_append_only")]

    operations = [
        # Columns are added beside the triggers of before: SQLite does so without making the table anew.
        migrations.AddField("entry", "subjects", models.TextField(null=True)),
        migrations.AddField("entry", "mac", models.CharField(max_length=64, null=True)),
        migrations.RunSQL(_TRIGGER, "DROP TRIGGER ledger_entry_no_replace"),
    ]
