"""Every format ships its JSON Schema, and what is written fits it."""

from __future__ import annotations

from importlib import resources
from typing import Any

import jsonschema
import pytest

from tallshelf.core.assess import Base, Context, assess
from tallshelf.core.changes import compare_snapshots, next_version
from tallshelf.core.formats import schema
from tallshelf.core.overlap import MemoryIndex, entries_of, find_overlaps, mix_ups
from tallshelf.core.reports import (
    assessment_document,
    comparison_document,
    lint_document,
    outline_document,
    overlaps_document,
)
from tallshelf.core.routing import DEFAULT_RULES
from tallshelf.core.snapshot import outline, parse_launches, snapshot_from
from tallshelf.core.style import lint
from tallshelf.run.scenario.declarations import declared, names
from tallshelf.run.scenario.servers import launch_records

RELEASES = [("berth-planner", "1.4.2", "1.5.0"), ("freight-manifest", "1.0.0", "1.0.1")]


def fits(name: str, document: Any) -> None:
    jsonschema.validate(document, schema(name), jsonschema.Draft202012Validator)


def test_every_schema_is_one_and_names_its_format():
    files = [one.name for one in resources.files("tallshelf.core.formats").iterdir()]
    shipped = [name.removesuffix(".schema.json") for name in files if name.endswith(".schema.json")]
    assert len(shipped) >= 11
    for name in shipped:
        jsonschema.Draft202012Validator.check_schema(schema(name))
        assert schema(name)["title"] == "tallshelf." + "/".join(name.rsplit("-", 1))


@pytest.mark.parametrize(("name", "old", "new"), RELEASES)
def test_what_is_written_fits_its_format(name, old, new):
    before, after = snapshot_from(declared(name, old)), snapshot_from(declared(name, new))
    for snapshot in (before, after):
        fits("snapshot-1", snapshot.document())
        fits("outline-1", outline_document(outline(snapshot)))
        fits("findings-1", lint_document(lint(snapshot, version="9.0.0")))
    comparison = compare_snapshots(before, after)
    fits("comparison-1", comparison_document(comparison, next_version(old, new, comparison)))
    index = MemoryIndex(entries_of("other", before.items))
    own = entries_of("this", after.items)
    fits("overlaps-1", overlaps_document(find_overlaps(own, index), mix_ups(own)))
    launches = parse_launches(launch_records(name, new, {}))
    for record in launches:
        fits("launch-1", record.document())
    context = Context(
        version=new, launches=launches, base=Base("b", old, before), index=index, rules=DEFAULT_RULES
    )
    for one in (assess(after, context), assess(after, Context())):
        fits("assessment-1", assessment_document(one))


@pytest.mark.parametrize("name", names())
def test_the_scenario_declares_snapshots(name):
    fits("snapshot-1", declared(name, "1.0.0"))
