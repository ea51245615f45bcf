"""Filters that several lists share."""

from __future__ import annotations

from collections.abc import Iterable
from functools import reduce
from operator import or_
from typing import TypeVar

from django.db.models import Model, Q, QuerySet

_MOST_WORDS = 8
_Row = TypeVar("_Row", bound=Model)


def holding_words(rows: QuerySet[_Row], text: str, places: Iterable[str]) -> QuerySet[_Row]:
    """Return the rows in which each word of a text is in at least one of the places, in whatever case."""
    named = tuple(places)
    for word in text.split()[:_MOST_WORDS]:
        rows = rows.filter(reduce(or_, (Q(**{f"{place}__icontains": word}) for place in named)))
    return rows
