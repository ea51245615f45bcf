"""Prints lines of tests against lines of code, and what a first visit to the console loads, as sent."""

from __future__ import annotations

import re
from pathlib import Path

ROOT = Path(__file__).parent.parent
_MOST_SENT = 170


def _lines(folder: str, *endings: str) -> int:
    files = [one for ending in endings for one in (ROOT / folder).rglob(f"*{ending}")]
    kept = [one for one in files if "migrations" not in one.parts and "node_modules" not in one.parts]
    return sum(sum(bool(line.strip()) for line in one.read_text("utf-8").splitlines()) for one in kept)


def _loaded_first(assets: Path) -> list[Path]:
    """What the page names, and the typefaces that its style sheet gives the letters of English."""
    named = re.findall(r"assets/([^\"]+)", (assets.parent / "index.html").read_text("utf-8"))
    sheets = [(assets / name).read_text("utf-8") for name in named if name.endswith(".css")]
    faces = [face for sheet in sheets for face in re.findall(r"@font-face\s*{[^}]*}", sheet)]
    english = [re.search(r"assets/([^)\"]+)", face) for face in faces if re.search(r"U\+(?:00)?20-", face)]
    return [assets / name for name in [*named, *(one[1] for one in english if one)]]


def _sent(asset: Path) -> int:
    """Bytes as sent to a browser that takes brotli, as all do."""
    smaller = asset.with_name(asset.name + ".br")
    return (smaller if smaller.exists() else asset).stat().st_size


def main() -> None:
    code = (
        _lines("src", ".py") + _lines("console/src", ".ts", ".tsx", ".css") - _lines("console/src", ".d.ts")
    )
    tests = _lines("tests", ".py") + _lines("console/tests", ".ts", ".tsx")
    print(f"code   {code:7,} lines")
    print(f"tests  {tests:7,} lines, {100 * tests / code:.0f} % of the code (a quarter to a third is meant)")
    assets = ROOT / "src/tallshelf/service/static/console/assets"
    first = _loaded_first(assets)
    for one in first:
        print(f"       {_sent(one) / 1000:7.1f} kB  {one.name}")
    sent = sum(map(_sent, first)) / 1000
    print(f"sent   {sent:7.1f} kB at the first visit (at most {_MOST_SENT} is meant)")


if __name__ == "__main__":
    main()
