"""Applying what rules suggest, to a copy: only what changes no call and no result."""

from __future__ import annotations

import copy
from collections.abc import Iterable, Mapping
from typing import Any

from tallshelf.core.errors import BadDocument
from tallshelf.core.pointer import names_of
from tallshelf.core.snapshot import LISTS, Snapshot, snapshot_from
from tallshelf.core.style.engine import lint
from tallshelf.core.style.finding import Finding
from tallshelf.core.style.house import DEFAULT_STYLE, HouseStyle
from tallshelf.core.style.rules import RULES

_SAFE = frozenset(rule.id for rule in RULES if rule.fix_is_safe)
_MOST_ROUNDS = 20


def fixed(snapshot: Snapshot, style: HouseStyle = DEFAULT_STYLE) -> tuple[Snapshot, tuple[Finding, ...]]:
    """Return a copy with the safe suggestions applied, and the findings that were mended.

    One suggestion for each text at a time, and the rules asked again, until none is left; what
    remains is what `lint` says of the copy.
    """
    mended: list[Finding] = []
    for _ in range(_MOST_ROUNDS):
        safe = [
            finding for finding in lint(snapshot, style=style) if finding.rule in _SAFE and finding.suggestion
        ]
        first = {(finding.item, finding.pointer): finding for finding in reversed(safe)}
        if not first:
            break
        snapshot = applied(snapshot, first.values())
        mended += first.values()
    return snapshot, tuple(mended)


def applied(snapshot: Snapshot, findings: Iterable[Finding]) -> Snapshot:
    """Return a copy with what these findings suggest applied, safe or not."""
    document = copy.deepcopy(dict(snapshot.document()))
    bodies: dict[str, Any] = {"server": document.get("server", {})}
    for name in LISTS:
        for item, body in zip(snapshot.lists.get(name, ()), document.get(name, ()), strict=True):
            bodies.setdefault(item.identity, body)
    for finding in findings:
        for operation in finding.suggestion or ():
            apply_operation(bodies[finding.item], operation)
    return snapshot_from(document)


def apply_operation(body: Any, operation: Mapping[str, Any]) -> None:
    """Apply one ``add``, ``remove`` or ``replace`` of a JSON Patch (RFC 6902) in place.

    Raises `BadDocument` where the path leads nowhere.
    """
    steps = names_of(operation["path"])
    place = body
    try:
        for step in steps[:-1]:
            place = place[int(step)] if isinstance(place, list) else place[step]
        last: Any = int(steps[-1]) if isinstance(place, list) else steps[-1]
        if operation["op"] == "remove":
            del place[last]
        elif operation["op"] == "add" and isinstance(place, list):
            place.insert(last, copy.deepcopy(operation["value"]))
        else:
            place[last] = copy.deepcopy(operation["value"])
    except (KeyError, IndexError, TypeError, ValueError):
        raise BadDocument(f"the suggestion leads nowhere: {operation['path']}") from None
