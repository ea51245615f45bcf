"""Fields that stand in the API for a while longer."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers


@extend_schema_field(
    {
        "type": "integer",
        "deprecated": True,
        "description": "the same as number; it goes with the next version of the API",
    }
)
class FormerId(serializers.IntegerField):
    """What is called ``number`` now, under its name of before."""
