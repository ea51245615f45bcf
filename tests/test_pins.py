"""Everything that an installation for development brings along is pinned."""

from __future__ import annotations

import re
from importlib.metadata import distribution
from pathlib import Path

from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

ROOT = Path(__file__).parents[1]


def needed(name: str, extras: set[str], seen: set[tuple[str, str]]) -> None:
    """Collect what a distribution needs, with some of its extras, and what that needs."""
    for extra in extras | {""}:
        if (name, extra) in seen:
            continue
        seen.add((name, extra))
        for text in distribution(name).requires or []:
            one = Requirement(text)
            if one.marker is None or one.marker.evaluate({"extra": extra}):
                needed(canonicalize_name(one.name), one.extras, seen)


def test_each_dependency_is_pinned_and_no_registry_named():
    seen: set[tuple[str, str]] = set()
    needed("tallshelf", {"dev"}, seen)
    text = (ROOT / "constraints.txt").read_text("utf-8")
    pinned = {canonicalize_name(name) for name in re.findall(r"^(\S+)==", text, re.M)}
    assert {name for name, _ in seen} - pinned == {"tallshelf"}
    assert "://" not in text + (ROOT / "packaging/sbom-tools.txt").read_text("utf-8")
    assert '"resolved": "http' not in (ROOT / "console/package-lock.json").read_text("utf-8")
