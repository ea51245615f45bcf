"""When the ledger last told of a kit: kept by a trigger, so that no act forgets it."""

from __future__ import annotations

from django.db import migrations

_TRIGGER = """
CREATE TRIGGER kits_kit_told_of AFTER INSERT ON ledger_entry
WHEN NEW.subject LIKE 'kit:%'
BEGIN
    UPDATE kits_storedkit SET changed_at = NEW.at WHERE name = substr(NEW.subject, 5);
END
"""


class Migration(migrations.Migration):
    dependencies = [("kits", "0001_initial"), ("ledger", "0003_keyed")]

    operations = [migrations.RunSQL(_TRIGGER, "DROP TRIGGER kits_kit_told_of")]
