"""Comparing 1,000 tools of which ten changed, against parsing the same two files as JSON.

The yardstick is `json.loads` over both files. Ours starts from snapshots that were just read: it
writes every item's canonical form, takes both digests, and proves each of the ten changes. What it
costs to read them (limits, format, names) is printed beside it.

Then single input schemas, each with one edit, against `jsonschema`'s `check_schema` of both: those of the
scenario, or of the snapshots in a directory that is named. Last the whole process on two files of 30 tools,
against a Python that parses them.

    python bench/compare.py [DIRECTORY]
"""

from __future__ import annotations

import contextlib
import copy
import gc
import json
import random
import statistics
import subprocess
import sys
import tempfile
import time
import tracemalloc
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.compat import compare_schemas
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
        print(
            f"  reading both               {reading * 1e3:8.1f} ms  {reading / parsing:6.2f}   (at most 3 is meant)"
        )
        print(f"  ratio                      {ours / parsing:8.2f}   (at most 1.5 is meant)")
    print(f"growth to twice the tools     {times[2 * _TOOLS] / times[_TOOLS]:8.2f}   (about 2 is linear)")
    _memory(*_pair(_TOOLS))
    _schemas()
    _process()


def _schemas() -> None:
    """Compare each input schema with itself after one edit, and print ratios to checking both."""
    ratios = []
    for name, schema in _input_schemas():
        edited = _edited(schema, random.Random(name))
        checking = _median(lambda schema=schema, edited=edited: [_check(one) for one in (schema, edited)])
        ours = _median(
            lambda schema=schema, edited=edited: compare_schemas(schema, edited, "input", "as-declared")
        )
        ratios.append((ours / checking, name))
    ratios.sort()
    middle, (worst, name) = statistics.median(ratio for ratio, _ in ratios), ratios[-1]
    print(f"{len(ratios):,} input schemas, one edit each, against check_schema of both")
    print(f"  median ratio               {middle:8.2f}   (at most 0.5 is meant)")
    print(f"  worst ratio                {worst:8.2f}   {name}")


def _check(schema: Any) -> None:
    with contextlib.suppress(jsonschema.SchemaError):
        jsonschema.Draft202012Validator.check_schema(schema)


def _input_schemas() -> list[tuple[str, Any]]:
    if len(sys.argv) > 1:
        documents = [json.loads(path.read_text("utf-8")) for path in sorted(Path(sys.argv[1]).glob("*.json"))]
    else:
        documents = [declared(name, "1.1.0") for name in names()]
    tools = [tool for document in documents for tool in document.get("tools", ())]
    return [
        (tool["name"], tool["inputSchema"]) for tool in tools if tool.get("inputSchema", {}).get("properties")
    ]


def _edited(schema: Any, chosen: random.Random) -> Any:
    made = copy.deepcopy(schema)
    name = chosen.choice(sorted(made["properties"]))
    match chosen.randrange(4):
        case 0:
            made["required"] = sorted({*made.get("required", []), name})
        case 1:
            made["properties"][name] = {"type": "integer"}
        case 2:
            del made["properties"][name]
        case _:
            made["properties"]["added"] = {"type": "string"}
    return made


def _process() -> None:
    """Time the whole command on a pair of 30 tools."""
    with tempfile.TemporaryDirectory() as directory:
        files = [str(Path(directory, name)) for name in ("old.json", "new.json")]
        for path, document in zip(files, _pair(30), strict=True):
            Path(path).write_text(json.dumps(document), "utf-8")
        parse = "import json, sys; [json.load(open(one)) for one in sys.argv[1:]]"
        parsing = _median(lambda: subprocess.run([sys.executable, "-c", parse, *files], check=True))
        command = [str(Path(sys.executable).with_name("tallshelf")), "compare", *files]
        ours = _median(lambda: subprocess.run(command, check=True, stdout=subprocess.DEVNULL))
    print("the whole process on 30 tools, ten changed, against a Python that parses both")
    print(f"  python -c                  {parsing * 1e3:8.1f} ms")
    print(f"  tallshelf compare          {ours * 1e3:8.1f} ms  {ours / parsing:6.2f}   (at most 5 is meant)")


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
