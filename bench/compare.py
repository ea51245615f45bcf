"""Comparing 1,000 tools of which ten changed, against parsing the same two files as JSON.

The yardstick is `json.loads` over both files. Ours starts from snapshots that were just read: it
writes every item's canonical form, takes both digests, and proves each of the ten changes. What it
costs to read them (limits, format, names) is printed beside it.
"""

from __future__ import annotations

import copy
import gc
import json
import statistics
import time
import tracemalloc
from collections.abc import Callable
from typing import Any

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.snapshot import Snapshot, snapshot_from
from tallshelf.run.scenario.declarations import declared, names

_TOOLS, _CHANGED, _ROUNDS = 1_000, 10, 7


def main() -> None:
    times = {}
    for number in (_TOOLS, 2 * _TOOLS):
        old, new = _pair(number)
        texts = [json.dumps(document) for document in (old, new)]
        parsing = _median(lambda texts=texts: [json.loads(text) for text in texts])
        ours = _median(_compare, before=lambda old=old, new=new: (snapshot_from(old), snapshot_from(new)))
        reading = _median(lambda old=old, new=new: (snapshot_from(old), snapshot_from(new)))
        times[number] = ours
        size = sum(map(len, texts)) / 1e6
        print(f"{number:,} tools, {_CHANGED} changed, {size:.1f} MB")
        print(f"  json.loads of both files   {parsing * 1e3:8.1f} ms")
        print(f"  compare, already read      {ours * 1e3:8.1f} ms")
        print(f"  reading both               {reading * 1e3:8.1f} ms")
        print(f"  ratio                      {ours / parsing:8.2f}   (at most 2 is meant)")
    print(f"growth to twice the tools     {times[2 * _TOOLS] / times[_TOOLS]:8.2f}   (about 2 is linear)")
    _memory(*_pair(_TOOLS))


def _memory(old: dict[str, Any], new: dict[str, Any]) -> None:
    texts = [json.dumps(document) for document in (old, new)]
    held, parsed = _peak(lambda: [json.loads(text) for text in texts])
    peak, _ = _peak(lambda: _compare(*map(snapshot_from, parsed)))
    print(f"peak memory traced            {peak / held:8.2f}   of the parsed documents (at most 4 is meant)")


def _compare(old: Snapshot, new: Snapshot) -> None:
    found = compare_snapshots(old, new)
    assert found.untouched >= len(old.items) - _CHANGED
    assert len({change.item for change in found.changes}) == _CHANGED


def _median(call: Callable[..., object], before: Callable[[], tuple[Any, ...]] = tuple) -> float:
    taken = []
    for _ in range(_ROUNDS):
        given = before()
        gc.collect()
        started = time.perf_counter()
        call(*given)
        taken.append(time.perf_counter() - started)
    return statistics.median(taken)


def _peak(call: Callable[[], Any]) -> tuple[int, Any]:
    gc.collect()
    tracemalloc.start()
    result = call()
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    return peak, result


def _pair(number: int) -> tuple[dict[str, Any], dict[str, Any]]:
    """Return two releases of one server with as many of the scenario's tools, under names of their own."""
    tools = [tool for name in names() for tool in declared(name, "1.1.0")["tools"]]
    old = declared("berth-planner", "1.4.2")
    old["tools"] = [
        {**copy.deepcopy(tools[at % len(tools)]), "name": f"{tools[at % len(tools)]['name']}_{at}"}
        for at in range(number)
    ]
    old["resources"] = old["prompts"] = []
    new = copy.deepcopy(old)
    for at in range(_CHANGED):
        schema = new["tools"][at * (number // _CHANGED)]["inputSchema"]
        schema["properties"]["added"] = {"type": "string", "description": "Newly needed"}
        schema["required"] = [*schema.get("required", []), "added"]
    return old, new


if __name__ == "__main__":
    main()
