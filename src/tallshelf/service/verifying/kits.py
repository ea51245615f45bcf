"""Kits, their locks and what they hold, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.entitlement import State
from tallshelf.core.errors import ShelfError
from tallshelf.core.kits import Lock, kit_from, lock_from
from tallshelf.service.kits.models import HeldItem, StoredKit, StoredRaise
from tallshelf.service.verifying.rows import Difference, compare

_UNREADABLE = (KeyError, TypeError, ValueError, AttributeError, ShelfError)


def differences(state: State) -> Iterator[Difference]:
    """Yield where kits, and what they hold, are not as told."""
    yield from compare("kit", _kits(), _told(state))
    yield from compare("proposal about the kit", _raises(), _told_raises(state))
    held: dict[int, set[tuple[str, str, str, str]]] = {}
    columns = ("kit", "server__slug", "release__version", "item", "item_digest")
    for kit, *one in HeldItem.objects.values_list(*columns):
        held.setdefault(kit, set()).add(tuple(one))
    for found in StoredKit.objects.select_related("lock"):
        wanted = (
            {(one.server, one.version, one.item, one.item_digest) for one in _lock(found).items}
            if found.dropped_at is None
            else set()
        )
        if held.get(found.pk, set()) != wanted:
            yield Difference("kit: holds", f"kit {found.name} holds other items than its lock names")


def _kits() -> dict[str, dict[str, object]]:
    return {
        one.name: {
            "team": one.team.slug,
            "data_class": one.data_class,
            "digest": _digest(one),
            "lock": _lock(one).digest,
            "named lock": one.lock.digest if one.lock else "",
            "dropped": one.dropped_at is not None,
        }
        for one in StoredKit.objects.select_related("team", "lock")
    }


def _raises() -> dict[str, dict[str, object]]:
    rows = StoredRaise.objects.filter(state="proposed").select_related("by")
    return {
        one.name: {"digest": one.digest, "data_class": one.data_class, "by": one.by.username} for one in rows
    }


def _told_raises(state: State) -> dict[str, dict[str, object]]:
    return {
        name: {"digest": one.body["kit_digest"], "data_class": one.body["data_class"], "by": one.by}
        for name, one in state.kit_raises.items()
    }


def _digest(found: StoredKit) -> str:
    try:
        return kit_from(found.document).digest
    except _UNREADABLE as fault:
        return f"unreadable: {fault}"


def _lock(found: StoredKit) -> Lock:
    try:
        return Lock() if found.lock is None else lock_from(found.lock.document)
    except _UNREADABLE:
        return Lock()


def _told(state: State) -> dict[str, dict[str, object]]:
    return {
        one.name: {
            "team": one.team,
            "data_class": one.data_class,
            "digest": one.digest,
            "lock": one.lock,
            "named lock": one.lock,
            "dropped": one.dropped,
        }
        for one in state.kits.values()
    }
