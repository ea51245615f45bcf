"""When the ledger last told of a request: kept by a trigger, so that no act forgets it."""

from __future__ import annotations

from django.db import migrations, models

_TOLD = """
UPDATE review_request SET changed_at = told.at FROM (
    SELECT json_extract(body, '$.request') AS request, max(at) AS at FROM ledger_entry GROUP BY 1
) AS told WHERE told.request = review_request.id
"""
_TRIGGER = """
CREATE TRIGGER review_request_told_of AFTER INSERT ON ledger_entry
WHEN json_type(NEW.body, '$.request') = 'integer'
BEGIN
    UPDATE review_request SET changed_at = NEW.at WHERE id = json_extract(NEW.body, '$.request');
END
"""


class Migration(migrations.Migration):
    dependencies = [("review", "0006_version_schemes"), ("ledger", "0003_keyed")]

    operations = [
        migrations.AddField(
            "request", "changed_at", models.CharField(max_length=40, default="", db_index=True)
        ),
        migrations.RunSQL(_TOLD, migrations.RunSQL.noop),
        migrations.RunSQL(_TRIGGER, "DROP TRIGGER review_request_told_of"),
    ]
