"""When the ledger last told of a server: kept by a trigger, so that no act forgets it."""

from __future__ import annotations

from django.db import migrations, models

_TOLD = """
UPDATE catalog_server SET changed_at = coalesce(
    (SELECT max(at) FROM ledger_entry WHERE subject = catalog_server.slug), '')
"""
_TRIGGER = """
CREATE TRIGGER catalog_server_told_of AFTER INSERT ON ledger_entry
WHEN NEW.subjects IS NOT NULL
BEGIN
    UPDATE catalog_server SET changed_at = NEW.at WHERE slug IN (SELECT value FROM json_each(NEW.subjects));
END
"""


class Migration(migrations.Migration):
    dependencies = [("catalog", "0009_version_schemes"), ("ledger", "0003_keyed")]

    operations = [
        migrations.AddField(
            "server", "changed_at", models.CharField(max_length=40, default="", db_index=True)
        ),
        migrations.RunSQL(_TOLD, migrations.RunSQL.noop),
        migrations.RunSQL(_TRIGGER, "DROP TRIGGER catalog_server_told_of"),
    ]
