"""Tokens know the one they were made by, and kept answers whose they are; those of before are forgotten."""

from __future__ import annotations

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("people", "0006_subject_at_the_issuer")]

    operations = [
        migrations.AddField(
            "token",
            "parent",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="children",
                to="people.token",
            ),
        ),
        migrations.RunSQL("DELETE FROM people_keptanswer", migrations.RunSQL.noop),
        migrations.RemoveConstraint("keptanswer", "one_answer_a_key"),
        migrations.AddField("keptanswer", "source", models.CharField(default="", max_length=60)),
        migrations.AddConstraint(
            "keptanswer",
            models.UniqueConstraint(fields=("person", "source", "key"), name="one_answer_a_key"),
        ),
        migrations.AddField("consolesession", "seal", models.CharField(default="", max_length=64)),
    ]
