"""Prints lines of tests against lines of code, and what a first visit to the console loads."""

from __future__ import annotations

import gzip
from pathlib import Path

ROOT = Path(__file__).parent.parent


def _lines(folder: str, *endings: str) -> int:
    files = [one for ending in endings for one in (ROOT / folder).rglob(f"*{ending}")]
    kept = [one for one in files if "migrations" not in one.parts and "node_modules" not in one.parts]
    return sum(sum(bool(line.strip()) for line in one.read_text("utf-8").splitlines()) for one in kept)


def main() -> None:
    code = _lines("src", ".py") + _lines("console/src", ".ts", ".tsx", ".css")
    tests = _lines("tests", ".py")
    print(f"code   {code:7,} lines")
    print(f"tests  {tests:7,} lines, {100 * tests / code:.0f} % of the code (a quarter to a third is meant)")
    for ending in (".js", ".css"):
        assets = (ROOT / "src/tallshelf/service/static/console/assets").glob(f"*{ending}")
        size = sum(len(gzip.compress(one.read_bytes())) for one in assets)
        print(f"{ending:5}  {size / 1000:7.1f} kB gzipped")


if __name__ == "__main__":
    main()
