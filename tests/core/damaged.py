"""Ledgers of companies at work, damaged in one place at a time: what the judge says of each, and what stands then.

    TALLSHELF_LEDGERS=1 .venv/bin/pytest tests/service/test_recorded.py -k what     # the ledgers, from the service
    python -m tests.core.damaged                                                    # what is said of them

keep both anew; read the difference before you commit it. What can be changed of an entry is tried at two of the
entries that have it, wherever they are; each is told with what the judge says of the entry and of the next ones, and
with how what stands after it differs from what would stand.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from datetime import datetime, timedelta
from functools import cache
from pathlib import Path
from random import Random
from typing import Any

import msgspec
from msgspec.structs import asdict, astuple

from tallshelf.core.entitlement import State, advance, entitled
from tallshelf.core.entitlement.judge import Refused
from tallshelf.core.entitlement.replay import read_entry
from tallshelf.core.errors import UNREADABLE

DATA = Path(__file__).with_name("data") / "ledgers"
_EACH, _NEXT, _LONG = 2, 4, 100
Row = dict[str, Any]
Place = tuple[Any, ...]


def ledgers() -> list[str]:
    return sorted(path.stem for path in DATA.glob("*.jsonl"))


@cache
def rows_of(name: str) -> list[Row]:
    return [json.loads(line) for line in (DATA / f"{name}.jsonl").read_text("utf-8").splitlines()]


def keep(name: str, entries: Iterable[Mapping[str, Any]]) -> None:
    """Keep a ledger, without what is by chance in its chain."""
    members = ("number", "at", "event", "actor", "via", "body", "subjects")
    lines = [
        json.dumps(
            {member: row[member] for member in members}
            | {"hash": f"h{row['number']}", "body": json.loads(row["body"])}
        )
        for row in entries
    ]
    (DATA / f"{name}.jsonl").write_text("\n".join([*lines, ""]), "utf-8")


def told(name: str) -> Iterator[str]:
    """Tell of a ledger that is whole, then of each damage to it."""
    rows, state = rows_of(name), State()
    for at, row in enumerate(rows):
        verdict = _verdict(state, row)
        if verdict:
            yield f"{row['number']} {row['event']} as it is: {verdict}"
        sound = _after(state, [row])
        for what, place in _chosen()[name].get(at, ()):
            said = _damaged(state, rows, at, place, sound)
            yield " | ".join([f"{row['number']} {row['event']} by {row['actor']}, {what}", *said])
        _advance(state, row)


def _damaged(state: State, rows: list[Row], at: int, place: Place, sound: Tables) -> Iterator[str]:
    made = _edited(rows, at, place)
    for row in made:
        verdict = _verdict(state, row)
        yield verdict or "entitled"
        steps = _advance(state, row)
        found = _tables(state)
        yield from _differences(sound, found)
        for _ in range(steps):
            state.rewind()
    yield from _then(state, rows, at, made)


def _then(state: State, rows: list[Row], at: int, made: list[Row]) -> Iterator[str]:
    """Tell what is said otherwise of the next entries."""
    coming = rows[at + 1 : at + 1 + _NEXT]
    usual, then = _verdicts(state, [rows[at]], coming), _verdicts(state, made, coming)
    for row, before, after in zip(coming, usual, then, strict=True):
        if before != after:
            yield f"then {row['number']} {row['event']}: {after or 'entitled'}"


def _verdicts(state: State, first: list[Row], coming: list[Row]) -> list[str]:
    steps, said = sum(_advance(state, row) for row in first), []
    for row in coming:
        said.append(_verdict(state, row))
        steps += _advance(state, row)
    for _ in range(steps):
        state.rewind()
    return said


def _verdict(state: State, row: Row) -> str:
    verdict = entitled(state, read_entry(row))
    return f"{verdict.kind}: {_cut(verdict.reason)}" if isinstance(verdict, Refused) else ""


def _advance(state: State, row: Row) -> int:
    """Take a row in and return how many steps back undo that."""
    with suppress(UNREADABLE):
        advance(state, row)
    return 1


def _after(state: State, rows: list[Row]) -> Tables:
    steps = sum(_advance(state, row) for row in rows)
    found = _tables(state)
    for _ in range(steps):
        state.rewind()
    return found


Tables = dict[str, dict[Any, Any]]


def _tables(state: State) -> Tables:
    return {name: dict(value) for name, value in asdict(state).items() if isinstance(value, dict)}


def _differences(sound: Tables, found: Tables) -> Iterator[str]:
    for name, table in found.items():
        usual = sound[name]
        for key in sorted({*table, *usual}, key=str):
            before, after = usual.get(key), table.get(key)
            if before is not after and before != after:
                yield f"{name} {key}: {_cut(' '.join(_moved(before, after)))}"


def _moved(before: Any, after: Any) -> Iterator[str]:
    if type(before) is not type(after) or not isinstance(after, msgspec.Struct):
        yield "gone" if after is None else _plain(after)
        return
    for name, value in asdict(after).items():
        if getattr(before, name) != value:
            yield f"{name}={_plain(value)}"


def _plain(value: Any) -> str:
    """Write a value the same way in every process: sets in order, times in short."""
    if isinstance(value, msgspec.Struct):
        inside = (_plain(one) for one in astuple(value) if one not in (None, "", (), False))
        return f"{type(value).__name__}({', '.join(inside)})"
    if isinstance(value, (set, frozenset)):
        return f"{{{', '.join(sorted(map(_plain, value)))}}}"
    if isinstance(value, (list, tuple)):
        return f"[{', '.join(map(_plain, value))}]"
    if isinstance(value, Mapping):
        return f"{{{', '.join(f'{key}: {_plain(one)}' for key, one in value.items())}}}"
    if isinstance(value, datetime):
        return f"{value:%m-%d %H:%M}"
    return str(value)


def _cut(text: str) -> str:
    return text if len(text) <= _LONG else f"{text[:_LONG]}…"


# What can be changed.


@cache
def _chosen() -> dict[str, dict[int, list[tuple[str, Place]]]]:
    """Return by ledger and entry what is done to it: each sort of change to an event so often."""
    done: Counter[tuple[str, str]] = Counter()
    chosen: dict[str, dict[int, list[tuple[str, Place]]]] = {name: {} for name in ledgers()}
    everywhere = [(name, at) for name in ledgers() for at in range(len(rows_of(name)))]
    Random(7).shuffle(everywhere)
    for name, at in everywhere:
        row = rows_of(name)[at]
        for sort, what, place in _ways(row):
            kind = (row["event"], sort)
            if done[kind] < _EACH:
                done[kind] += 1
                chosen[name].setdefault(at, []).append((what, place))
    return chosen


def _ways(row: Row) -> Iterator[tuple[str, str, Place]]:
    """Yield changes to an entry: of which sort each is, what it is, and how to make it."""
    yield "left out", "left out", ("left out",)
    yield "told twice", "told twice", ("twice",)
    for who, via in (("oskar", "session"), ("ines", "session"), ("jonas", "session"), ("tomas", "session"),
                     ("ci-berths", "token:1"), ("clock", "clock"), ("setup", "local")):  # fmt: skip
        if who != row["actor"]:
            yield who, f"done by {who}", ("actor", who, via)
    for days in (-40, 40):
        yield str(days), f"{abs(days)} days {'before' if days < 0 else 'later'}", ("at", days)
    for path, value in _leaves(row["body"]):
        name = ".".join(map(str, path))
        yield f"no {_named(path)}", f"without {name}", ("body", path, _GONE)
        for turn, other in enumerate(_others(path, value)):
            yield f"{_named(path)} {turn}", f"with {name} {_cut(_plain(other))}", ("body", path, other)


_GONE: Any = object()


def _leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Any]]:
    """Yield the paths of members, and of the first one of a list, with what is there."""
    if path:
        yield path, value
    if len(path) == 4:
        return
    if isinstance(value, dict):
        for name in list(value)[:30]:
            yield from _leaves(value[name], (*path, name))
    elif isinstance(value, list) and value:
        yield from _leaves(value[0], (*path, 0))


def _others(path: tuple[Any, ...], value: Any) -> Iterator[Any]:
    if isinstance(value, bool):
        yield not value
    elif isinstance(value, int):
        yield value + 1
        yield 0
    elif isinstance(value, str):
        yield from (one for one in _seen().get(_named(path), ()) if one != value)
        yield f"{value}x"
    elif isinstance(value, list) and value:
        yield []
        yield [*value, value[0]]
    elif value is None:
        yield 1


def _named(path: tuple[Any, ...]) -> str:
    return str(next(one for one in reversed(path) if isinstance(one, str)))


@cache
def _seen() -> dict[str, list[str]]:
    """Return by the name of a member words that stand there in the ledgers, three at most."""
    seen: dict[str, dict[str, None]] = {}
    for name in ledgers():
        for row in rows_of(name):
            for path, value in _leaves(row["body"]):
                if isinstance(value, str) and len(value) <= 30:
                    seen.setdefault(_named(path), {})[value] = None
    return {name: Random(name).sample(sorted(values), min(3, len(values))) for name, values in seen.items()}


def _edited(rows: list[Row], at: int, place: Place) -> list[Row]:
    row = rows[at]
    match place:
        case ("left out",):
            return []
        case ("twice",):
            return [row, row]
        case ("actor", who, via):
            return [{**row, "actor": who, "via": via}]
        case ("at", days):
            return [{**row, "at": (datetime.fromisoformat(row["at"]) + timedelta(days=days)).isoformat()}]
        case ("body", path, value):
            return [{**row, "body": _set(row["body"], path, value)}]
    raise ValueError(place)


def _set(body: Any, path: tuple[Any, ...], value: Any) -> Any:
    name, *rest = path
    made = dict(body) if isinstance(body, dict) else list(body)
    if rest:
        made[name] = _set(made[name], tuple(rest), value)
    elif value is _GONE:
        del made[name]
    else:
        made[name] = value
    return made


def kept(name: str) -> list[str]:
    return (DATA / f"{name}.txt").read_text("utf-8").splitlines()


def main() -> None:
    for name in ledgers():
        (DATA / f"{name}.txt").write_text("\n".join([*told(name), ""]), "utf-8")


if __name__ == "__main__":
    main()
