"""What a server says of itself: identity, capabilities, instructions, protocol revision."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.changes._make import make
from tallshelf.core.changes.result import Change
from tallshelf.core.snapshot import Snapshot, json_equal
from tallshelf.core.words.terms import HouseTerms

ITEM = "server"
_IDENTITY = {"name": "name-changed", "title": "title-changed", "version": "version-string-changed"}


def server_changes(old: Snapshot, new: Snapshot, terms: HouseTerms) -> Iterator[Change]:
    """Yield the changes of what two snapshots say of their server, texts read by the terms of a house."""
    if "capabilities" in old.server and "capabilities" in new.server:
        yield from _capabilities(_object(old.server["capabilities"]), _object(new.server["capabilities"]), "")
    yield from _instructions(old.server.get("instructions"), new.server.get("instructions"), terms)
    before, after = old.server_info, new.server_info
    for name in [*_IDENTITY, *sorted({*before, *after} - {*_IDENTITY})]:
        was, now = before.get(name), after.get(name)
        if json_equal(was, now):
            continue
        kind = _IDENTITY.get(name, "metadata-changed")
        said = f" was {was} and is now {now}" if isinstance(was or now, str) else " changed"
        yield make(kind, ITEM, f"the server's {name}{said}", **_at(f"serverInfo/{name}", was, now))
    for name in sorted({*old.server, *new.server} - {"capabilities", "instructions", "serverInfo"}):
        was, now = old.server.get(name), new.server.get(name)
        if not json_equal(was, now):
            yield make("metadata-changed", ITEM, f"the field {name} changed", **_at(name, was, now))
    yield from _revision(old.captured.get("protocolVersion"), new.captured.get("protocolVersion"))


def _at(path: str, was: Any, now: Any) -> dict[str, str | None]:
    return {
        "old_pointer": None if was is None else f"/{path}",
        "new_pointer": None if now is None else f"/{path}",
    }


def _instructions(was: Any, now: Any, terms: HouseTerms) -> Iterator[Change]:
    if was == now:
        return
    # Here, since reading words takes long to load and most comparisons change no text.
    from tallshelf.core.changes._described import told_words
    from tallshelf.core.words.difference import text_difference

    difference = text_difference(str(was or ""), str(now or ""), terms)
    kind = "description-reworded" if difference.meaning in ("same", "worded") else "instructions-changed"
    yield make(
        kind,
        ITEM,
        f"the instructions to the model changed: {told_words(str(was or ''), str(now or ''))}",
        **_at("instructions", was, now),
        notice=difference.notice,
        folded=difference.meaning == "same",
    )


def _capabilities(before: Mapping[str, Any], after: Mapping[str, Any], path: str) -> Iterator[Change]:
    """Compare capabilities and what is inside them: a flag that is false is not there."""
    for name in sorted({*before, *after}):
        was, now = (None if side.get(name) is False else side.get(name) for side in (before, after))
        called = f"{path}{name}".replace("/", ".")
        where = _at(f"capabilities/{path}{name}", was, now)
        if was is not None and now is not None:
            if isinstance(was, dict) and isinstance(now, dict) and path.count("/") < _DEEPEST:
                yield from _capabilities(was, now, f"{path}{name}/")
            elif not json_equal(was, now):
                yield make("metadata-changed", ITEM, f"the capability {called} changed", **where)
        elif now is None and was is not None:
            kind = "notices-dropped" if name == "listChanged" else "capability-dropped"
            yield make(kind, ITEM, f"the capability {called} is dropped", **where)
        elif now is not None:
            yield make("capability-added", ITEM, f"the capability {called} is new", **where)


def _revision(was: Any, now: Any) -> Iterator[Change]:
    """Revisions are dates, so that the later one is the greater text."""
    if not isinstance(was, str) or not isinstance(now, str) or was == now:
        return
    message = f"the protocol revision was {was} and is now {now}"
    yield make("revision-changed", ITEM, message, impact="caution" if now < was else "compatible")


def _object(value: Any) -> dict[str, Any]:
    return value if isinstance(value, dict) else {}


_DEEPEST = 4
