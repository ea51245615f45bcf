"""Markdown of strangers' text renders as text, whatever it says."""

from __future__ import annotations

import html
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from markdown_it import MarkdownIt

from tallshelf.core.assess import Base, Context, assess
from tallshelf.core.changes import compare_snapshots, next_version
from tallshelf.core.reports import assessment_markdown, comparison_markdown, escape_markdown
from tallshelf.core.reports.markdown import code
from tallshelf.core.snapshot import snapshot_from
from tallshelf.run.scenario.declarations import declared

RENDER = MarkdownIt("gfm-like", {"html": True, "linkify": False})
NASTY = st.text(alphabet="ab1 `*_[](){}<>!#@|~\\&:/.-+=\n\u202e", max_size=40)


def shown(markdown: str) -> str:
    return re.sub(r"<[^>]+>", "", RENDER.render(markdown))


@given(NASTY)
@settings(max_examples=400)
def test_escaped_text_renders_as_itself(text):
    rendered = RENDER.render("x " + escape_markdown(text) + " y")
    assert set(re.findall(r"<(\w+)", rendered)) <= {"p"}
    told = html.unescape(shown("x " + escape_markdown(text) + " y")).replace("\u200b", "")
    assert " ".join(told.split()) == " ".join(f"x {text} y".replace("\u202e", "\\u{202e}").split())


@given(NASTY)
@settings(max_examples=300)
def test_code_cannot_be_left(text):
    rendered = RENDER.render("x " + code(text) + " y")
    assert set(re.findall(r"<(\w+)", rendered)) <= {"p", "code"}


@pytest.mark.parametrize("text", ["@everyone", "see #12", "!34", "https://evil.example", "www.evil.example"])
def test_nothing_links_or_mentions_by_itself(text):
    escaped = escape_markdown(text)
    assert "\u200b" in escaped
    assert not re.search(r"@\w|#\d|!\d|://|www\.", escaped)


def attack(name: str) -> dict:
    document = declared("berth-planner", "1.5.0")
    document["tools"][0]["name"] = name
    document["tools"][1]["description"] = name
    return document


@given(NASTY.filter(lambda text: text.strip()))
@settings(max_examples=60)
def test_reports_hold_strangers_names(name):
    old, new = snapshot_from(declared("berth-planner", "1.4.2")), snapshot_from(attack(name))
    comparison = compare_snapshots(old, new)
    version = next_version("1.4.2", "1.5.0", comparison)
    for report in (
        comparison_markdown(comparison, version, "a.json", "b.json"),
        assessment_markdown(assess(new, Context(base=Base("a", "1.4.2", old))), "b.json"),
    ):
        tags = set(re.findall(r"<(\w+)", RENDER.render(report)))
        assert not tags & {"a", "img", "script", "h1", "h2", "h5", "h6", "hr"}


def test_a_report_says_what_breaks_with_its_proof():
    old, new = (snapshot_from(declared("berth-planner", version)) for version in ("1.4.2", "1.5.0"))
    comparison = compare_snapshots(old, new)
    report = comparison_markdown(comparison, next_version("1.4.2", "1.5.0", comparison), "old", "new")
    assert "- ◆ **breaking** for callers: `basin` is now required" in report
    assert '{"vessel_length": 1, "from"' in report
    assert "honest 2.0.0" in report
