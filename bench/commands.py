"""What a command costs from its start to its end, against a Python that only parses the same files.

CPU time of whole processes (user and system), the least of several rounds; the files hold 30 tools each.
"""

from __future__ import annotations

import json
import math
import os
import resource
import subprocess
import sys
import tempfile
from pathlib import Path

_ROUNDS, _TOOLS = 15, 30


def main() -> None:
    with tempfile.TemporaryDirectory() as scratch:
        old, new = Path(scratch, "old.json"), Path(scratch, "new.json")
        old.write_text(json.dumps({"tools": [_tool(number, 1) for number in range(_TOOLS)]}))
        new.write_text(json.dumps({"tools": [_tool(number, 2) for number in range(_TOOLS)]}))
        some = Path(scratch, "some.json")
        some.write_text(json.dumps({"tools": [_tool(number, 1 + (number < 3)) for number in range(_TOOLS)]}))
        parse = [sys.executable, "-c", f"import json; json.load(open({str(old)!r}))"]
        commands = {
            "--help": ["--help"],
            "outline": ["outline", str(old)],
            "compare, three changed": ["compare", str(old), str(some)],
            "compare, all changed": ["compare", str(old), str(new)],
            "lint": ["lint", str(old)],
            "overlap": ["overlap", str(old), str(new)],
        }
        asked = [[sys.executable, "-m", "tallshelf", *words] for words in commands.values()]
        parsing, *taken = _cpu([parse, *asked])
        print(f"{'a Python that parses one of them':34}{parsing * 1000:7.0f} ms")
        for name, cpu in zip(commands, taken, strict=True):
            print(f"tallshelf {name:24}{cpu * 1000:7.0f} ms   {cpu / parsing:5.1f}   (at most 5 is meant)")


def _tool(number: int, release: int) -> dict[str, object]:
    members = {
        "berth_id": {"type": "string", "description": "The id of the berth."},
        "limit": {"type": "integer", "description": "How many at most.", "maximum": 50 * release},
    }
    return {
        "name": f"list_arrivals_{number}",
        "description": f"List the arrivals of quay {number}, the newest first, with the state of each.",
        "inputSchema": {"type": "object", "properties": members, "required": list(members)[:release]},
    }


def _cpu(commands: list[list[str]]) -> list[float]:
    """Return the least CPU time of each command, in seconds; they take turns, since machines change their pace."""
    least = [math.inf] * len(commands)
    for _ in range(_ROUNDS):
        for place, command in enumerate(commands):
            before = resource.getrusage(resource.RUSAGE_CHILDREN)
            subprocess.run(
                command, stdout=subprocess.DEVNULL, check=False, env={**os.environ, "NO_COLOR": "1"}
            )
            after = resource.getrusage(resource.RUSAGE_CHILDREN)
            taken = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
            least[place] = min(least[place], taken)
    return least


if __name__ == "__main__":
    main()
