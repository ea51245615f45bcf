"""Prints lines of tests against lines of code, and what a first visit to the console loads."""

from __future__ import annotations

import gzip
import re
from pathlib import Path

ROOT = Path(__file__).parent.parent
_MOST_SCRIPT = 180


def _lines(folder: str, *endings: str) -> int:
    files = [one for ending in endings for one in (ROOT / folder).rglob(f"*{ending}")]
    kept = [one for one in files if "migrations" not in one.parts and "node_modules" not in one.parts]
    return sum(sum(bool(line.strip()) for line in one.read_text("utf-8").splitlines()) for one in kept)


def main() -> None:
    code = (
        _lines("src", ".py") + _lines("console/src", ".ts", ".tsx", ".css") - _lines("console/src", ".d.ts")
    )
    tests = _lines("tests", ".py") + _lines("console/tests", ".ts", ".tsx")
    print(f"code   {code:7,} lines")
    print(f"tests  {tests:7,} lines, {100 * tests / code:.0f} % of the code (a quarter to a third is meant)")
    console = ROOT / "src/tallshelf/service/static/console"
    first = set(re.findall(r"assets/[^\"]+", (console / "index.html").read_text("utf-8")))
    for ending in (".js", ".css"):
        sizes = {one: len(gzip.compress(one.read_bytes())) for one in (console / "assets").glob(f"*{ending}")}
        at_once = sum(size for one, size in sizes.items() if f"assets/{one.name}" in first)
        meant = f" (at most {_MOST_SCRIPT} kB is meant)" if ending == ".js" else ""
        everything = sum(sizes.values()) / 1000
        print(
            f"{ending:5}  {at_once / 1000:7.1f} kB gzipped at the first load{meant}, {everything:.1f} kB in all"
        )


if __name__ == "__main__":
    main()
