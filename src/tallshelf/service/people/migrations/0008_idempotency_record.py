"""The answers kept for an Idempotency-Key are called what they are."""

from __future__ import annotations

from typing import ClassVar

from django.db import migrations


class Migration(migrations.Migration):
    dependencies: ClassVar = [("people", "0007_token_parents")]
    operations: ClassVar = [migrations.RenameModel("KeptAnswer", "IdempotencyRecord")]
