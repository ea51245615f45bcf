"""All rules over 2,000 varied tools, against `jsonschema` checking the same tools' schemas.

The yardstick is `jsonschema`'s own check of each input and output schema against the meta-schema
of 2020-12, in the same run. Ours starts from snapshots that were read: it splits names and texts,
walks the schemas, and runs every rule. Both take turns; the best round of each counts.
"""

from __future__ import annotations

import copy
import time
from collections.abc import Callable
from typing import Any

import jsonschema

from tallshelf.core.snapshot import Snapshot, snapshot_from
from tallshelf.core.style import RULES, lint
from tallshelf.core.words.remembered import forget
from tallshelf.run.scenario.declarations import declared, names

_TOOLS, _OF_A_SERVER, _ROUNDS = 2_000, 40, 3


def main() -> None:
    taken = {}
    for number in (_TOOLS // 2, _TOOLS):
        documents = _servers(number)
        schemas = [
            tool[field]
            for document in documents
            for tool in document["tools"]
            for field in ("inputSchema", "outputSchema")
            if field in tool
        ]
        rounds = [(_timed(_check, schemas), _timed(_lint, _read(documents))) for _ in range(_ROUNDS)]
        yardstick, ours = map(min, zip(*rounds, strict=True))
        taken[number] = ours
        print(f"{number:,} tools of {len(documents)} servers, {len(schemas):,} schemas, {len(RULES)} rules")
        print(f"  jsonschema, meta-schema    {yardstick * 1e3:10.1f} ms")
        print(f"  all rules                  {ours * 1e3:10.1f} ms   ({ours / number * 1e3:.2f} ms a tool)")
        print(f"  ratio                      {ours / yardstick:10.3f}      (at most 0.25 is meant)")
    print(f"growth to twice the tools    {taken[_TOOLS] / taken[_TOOLS // 2]:10.2f}      (about 2 is linear)")


def _check(schemas: list[Any]) -> None:
    for schema in schemas:
        jsonschema.Draft202012Validator.check_schema(schema)


def _lint(snapshots: list[Snapshot]) -> None:
    forget()
    for snapshot in snapshots:
        lint(snapshot)


def _read(documents: list[dict[str, Any]]) -> list[Snapshot]:
    """Read snapshots anew, so that nothing is left of a round before."""
    return list(map(snapshot_from, documents))


def _timed(call: Callable[[Any], None], argument: Any) -> float:
    start = time.perf_counter()
    call(argument)
    return time.perf_counter() - start


def _servers(number: int) -> list[dict[str, Any]]:
    """Return servers of the scenario's tools, each tool varied in name and words."""
    pool = [tool for name in names() for tool in declared(name, "1.0.0")["tools"]]
    made = []
    for index in range(number):
        tool = copy.deepcopy(pool[index % len(pool)])
        mark = f"{chr(97 + index % 26)}{chr(97 + index // 26 % 26)}{chr(97 + index // 676 % 26)}"
        tool["name"] = f"{tool['name']}_{mark}"
        tool["description"] = f"{tool.get('description', '')} It is for the part {mark}."
        made.append(tool)
    return [{"tools": made[start : start + _OF_A_SERVER]} for start in range(0, number, _OF_A_SERVER)]


if __name__ == "__main__":
    main()
