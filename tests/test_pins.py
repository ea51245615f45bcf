"""Everything that an installation for development brings along is pinned, and all that is imported is declared."""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from importlib.metadata import distribution, packages_distributions
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


# Without the service, which is an extra, these parts are of use.
ALONE = ("cli", "client", "core", "protocol")


def imported(folder: Path) -> Iterator[tuple[str, Path]]:
    """Yield the distributions that the modules of a folder import, each with the module."""
    providers = packages_distributions()
    for module in folder.rglob("*.py"):
        for node in ast.walk(ast.parse(module.read_text("utf-8"))):
            names = [one.name for one in node.names] if isinstance(node, ast.Import) else []
            if isinstance(node, ast.ImportFrom) and node.level == 0 and node.module:
                names = [node.module]
            for name in (one.partition(".")[0] for one in names):
                if name not in sys.stdlib_module_names and name != "tallshelf":
                    yield canonicalize_name(providers[name][0]), module


def test_each_distribution_that_is_imported_is_declared():
    told = [Requirement(text) for text in distribution("tallshelf").requires or []]
    always = {canonicalize_name(one.name) for one in told if one.marker is None}
    service = always | {
        canonicalize_name(one.name)
        for one in told
        if one.marker and one.marker.evaluate({"extra": "service"})
    }
    source = ROOT / "src/tallshelf"
    undeclared = {(name, str(module)) for name, module in imported(source) if name not in service}
    assert not undeclared
    for part in ALONE:
        assert not {(name, str(one)) for name, one in imported(source / part) if name not in always}
