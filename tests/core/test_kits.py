"""Kits: reading, ranges, what picks come to, and whom a change hits."""

from __future__ import annotations

import tomllib
from datetime import UTC, datetime

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.errors import BadArgument, BadDocument
from tallshelf.core.formats import schema
from tallshelf.core.kits import (
    Holder,
    Lock,
    OfferedRelease,
    OfferedServer,
    hits,
    kit_from,
    kit_text,
    lock_from,
    moves_between,
    parse_kit,
    parse_range,
    resolve,
    risk_of,
    why_not_move,
)
from tallshelf.core.snapshot import Item, snapshot_from, sort_key
from tallshelf.core.style import HostProfile, too_many_tools, unusable

TEXT = """\
format = "tallshelf.kit/1"
name = "quay-helper"
title = "Quay helper"
team = "berths"
contacts = ["berths@pellam.example"]
purpose = "Finds quays."
budget = 3000

[[picks]]
server = "tides"
version = "^1.4"
items = ["get_tide", "resource:tide://today"]

[[picks]]
server = "quays"
items = "reading"
"""


@pytest.mark.parametrize(
    ("text", "takes", "leaves"),
    [
        ("1.4.2", "1.4.2", "1.4.1 1.4.3 1.4.2+x 1.4.2-rc.1"),
        ("^1.4", "1.4.0 1.4.9 1.10.0 1.99.99 1.5.0+build", "1.3.9 2.0.0 1.5.0-rc.1 2.0.0-rc.1 0.4.0"),
        ("^1", "1.0.0 1.9.0", "0.9.0 2.0.0 1.0.0-rc.1"),
        ("^1.4.2", "1.4.2 1.5.0", "1.4.1 2.0.0"),
        ("^0.4", "0.4.0 0.4.9", "0.5.0 0.3.9 1.0.0 0.4.1-a"),
        ("^0.4.3", "0.4.3 0.4.4", "0.4.2 0.5.0"),
        ("^0.0", "0.0.0 0.0.7", "0.1.0"),
        ("^1.5.0-rc.1", "1.5.0-rc.1 1.5.0-rc.2 1.5.0 1.6.0", "1.5.0-beta 1.6.0-rc.1 1.4.9 2.0.0"),
        ("2026.11.3", "2026.11.3", "2026.11.4 2026.11.3.1"),
        ("2026.11.3.1", "2026.11.3.1", "2026.11.3"),
        ("current", "", "1.0.0 2026.11.3"),
    ],
)
def test_a_range_takes_what_promises_to_fit(text, takes, leaves):
    found = parse_range(text)
    assert [one for one in takes.split() if not found.takes(one)] == []
    assert [one for one in leaves.split() if found.takes(one)] == []


@pytest.mark.parametrize(
    "text",
    [
        "",
        "^0",
        "^",
        "^1.4.2.3",
        "^01.2",
        "^2026.11.3.1",
        "~1.4",
        ">=1",
        "1.4",
        "*",
        "latest",
        "^1.4-rc",
        "^٣",
    ],
)
def test_what_is_no_range_is_refused_with_a_remedy(text):
    with pytest.raises(BadArgument) as error:
        parse_range(text)
    assert error.value.remedy


VERSIONS = st.builds(
    "{}.{}.{}{}".format, *[st.integers(0, 3)] * 3, st.sampled_from(["", "-rc.1", "-rc.2", "+b"])
)


@given(st.lists(VERSIONS, max_size=8), VERSIONS)
def test_the_best_of_a_range_is_taken_and_nothing_that_is_taken_stands_above_it(versions, least):
    if least.startswith("0.") or "+" in least:
        return
    found = parse_range(f"^{least}")
    best = found.best(versions)
    taken = [one for one in versions if found.takes(one)]
    assert (best is None) == (not taken)
    assert all(sort_key(one) <= sort_key(best) and one.split(".")[0] == least.split(".")[0] for one in taken)
    assert not any(sort_key(one) < sort_key(least) for one in taken)


def test_a_kit_reads_as_it_is_written_and_back():
    kit = parse_kit(TEXT)
    assert kit.picks[0].items == ("tool:get_tide", "resource:tide://today")
    assert (kit.picks[1].items, kit.picks[1].version.text) == (None, "current")
    assert kit.data_class == "internal" and kit.moves == "fitting"
    assert parse_kit(kit_text(kit)) == kit_from(kit.document()) == kit
    assert parse_kit(kit_text(kit)).digest == kit.digest


WRONG = [
    ('name = "quay-helper"', 'name = "Quay helper"', "line 2, key name: it must be lower-case"),
    ('team = "berths"\n', "", "key team: it is missing"),
    ("budget = 3000", 'budget = "3000"', "line 7, key budget: it must be a whole number"),
    ("budget = 3000", "budget = 0", "line 7, key budget"),
    ("budget = 3000", "budgets = 3000", "line 7, key budgets: it is not known"),
    ('contacts = ["berths@pellam.example"]', "contacts = []", "line 5, key contacts: it names nobody"),
    ('version = "^1.4"', 'version = "~1.4"', r"line 11, key picks\[0\].version: it cannot be read"),
    ('version = "^1.4"', 'version = "^0"', r"line 11, key picks\[0\].version.*promises nothing"),
    ('items = "reading"', 'items = "all"', r"line 16, key picks\[1\].items: it must list items by name"),
    ('items = "reading"', "items = []", r"line 16, key picks\[1\].items: it lists nothing"),
    ('items = "reading"', 'items = ["a", "tool:a"]', r"key picks\[1\].items: it lists an item twice"),
    ('server = "quays"', 'server = "tides"', r"line 15, key picks\[1\].server: it picks tides twice"),
    (
        'server = "quays"',
        'server = "quays"\ncolour = 1',
        r"line 16, key picks\[1\].colour: it is not known",
    ),
    ("[[picks]]", "[picks]", "no TOML"),
    ('format = "tallshelf.kit/1"', 'format = "tallshelf.kit/2"', "line 1, key format"),
]


@pytest.mark.parametrize(("old", "new", "said"), WRONG)
def test_what_is_wrong_in_a_kit_is_said_with_line_and_key(old, new, said):
    with pytest.raises(BadDocument, match=said):
        parse_kit(TEXT.replace(old, new))


def tool(name: str, text: str = "Return it.", reads: bool = True, **schema) -> dict:
    annotations = {"readOnlyHint": True, "openWorldHint": False} if reads else {}
    return {
        "name": name,
        "description": text,
        "inputSchema": {"type": "object", "properties": {}, **schema},
        "annotations": annotations,
    }


class Company:
    """What is on the shelf, as kits see it."""

    def __init__(self, **servers) -> None:
        self.servers, self.declared = {}, {}
        for slug, (releases, more) in servers.items():
            offered = tuple(
                OfferedRelease(version, f"d-{version}", **extra) for version, (_, extra) in releases.items()
            )
            current = next((one.version for one in offered if not one.deprecated), None)
            self.servers[slug] = OfferedServer(
                slug, **{"data_class": "internal", "current": current, **more}, releases=offered
            )
            self.declared[slug] = {version: items for version, (items, _) in releases.items()}

    def server(self, slug):
        return self.servers.get(slug)

    def items(self, slug, version):
        for one in self.declared[slug][version]:
            yield Item("resource", one["uri"], one) if "uri" in one else Item("tool", one["name"], one)

    def slugs(self):
        return list(self.servers)


TIDE = {"uri": "tide://today", "name": "today"}
TOOLS = [tool("get_tide"), tool("set_tide", "Set it.", reads=False), TIDE]


def company(**more) -> Company:
    servers = {
        "tides": ({"1.5.0": (TOOLS, {}), "1.4.0": (TOOLS, {}), "2.0.0": (TOOLS, {})}, {"current": "2.0.0"}),
        "quays": ({"1.0.0": ([tool("list_quays"), tool("delete_quays", reads=False)], {})}, {}),
    }
    return Company(**{**servers, **more})


def test_picks_come_to_exact_releases_and_items():
    found = resolve(parse_kit(TEXT), company())
    held = [(one.server, one.version, one.item) for one in found.lock.items]
    assert held == [
        ("quays", "1.0.0", "tool:list_quays"),
        ("tides", "1.5.0", "resource:tide://today"),
        ("tides", "1.5.0", "tool:get_tide"),
    ]
    assert found.problems == () and lock_from(found.lock.document()) == found.lock
    again = resolve(parse_kit(TEXT), company(), at={"tides": "1.4.0"})
    moved = moves_between(again.lock, found.lock)
    assert [(one.server, one.before, one.after, one.changed) for one in moved] == [
        ("tides", "1.4.0", "1.5.0", ())
    ]
    assert moves_between(found.lock, found.lock) == () and again.lock.digest != found.lock.digest


OLD = {"deprecated": True, "sunset_at": datetime(2031, 5, 1, tzinfo=UTC), "replacement": "quays"}


def quays(*tools: dict, **more) -> dict:
    """One release of the quays, and what else is known of it or of its server."""
    extra = OLD if more.pop("old", False) else {}
    return {"quays": ({"1.0.0": (tools, extra)}, more)}


QUAY = tool("get_quay")


@pytest.mark.parametrize(
    ("change", "servers", "kind", "key", "said"),
    [
        (("tides", "tide"), {}, "no-server", "[0].server", "nearest: tides"),
        (("^1.4", "^3.0"), {}, "no-release", "[0].version", "in ^3.0; there are 1.5.0"),
        (("get_tide", "get_tides"), {}, "no-item", "[0].items", "nearest: tool:get_tide"),
        ((), quays(TOOLS[1]), "nothing-read", "[1].items", "nothing that only reads"),
        ((), quays(QUAY, data_class="restricted"), "data-class", "[1].server", "restricted"),
        (("3000", "10"), {}, "over-budget", "budget", "the budget is 10"),
        ((), quays(tool("get_tide")), "name-collision", "picks", "each have tool:get_tide"),
        ((), quays(QUAY, suspended={"": "broken"}), "suspended", "[1].server", "broken"),
        ((), quays(QUAY, suspended={"tool:get_quay": "wrong"}), "suspended", "[1].items", "wrong"),
        (
            ('"reading"', '["get_quay"]\nversion = "1.0.0"'),
            quays(QUAY, old=True),
            "deprecated",
            "[1].version",
            "2031-05-01; use quays instead",
        ),
        (('"reading"', '["erase_quay"]'), quays(tool("erase_quay")), "seems-to-write", "[1].items", "erase"),
    ],
)
def test_what_is_wrong_with_a_kit_is_told(change, servers, kind, key, said):
    text = TEXT.replace(*change) if change else TEXT
    (problem,) = resolve(parse_kit(text), company(**servers)).problems
    assert problem.kind == kind and problem.key.endswith(key) and said in problem.message


def test_the_highest_published_release_is_taken_and_a_deprecated_one_only_where_there_is_no_other():
    both = {"1.4.0": (TOOLS, {}), "1.9.0": (TOOLS, {"deprecated": True})}
    found = resolve(parse_kit(TEXT), company(tides=(both, {})))
    assert found.lock.versions["tides"] == "1.4.0"
    alone = {"1.9.0": (TOOLS, {"deprecated": True})}
    assert resolve(parse_kit(TEXT), company(tides=(alone, {}))).lock.versions["tides"] == "1.9.0"


@pytest.mark.parametrize(
    ("declared", "effect", "outside"),
    [
        (tool("get_tide"), "reads", False),
        (tool("get_tide", reads=False), "destroys", True),
        (
            {**tool("set_tide"), "annotations": {"readOnlyHint": False, "destructiveHint": False}},
            "writes",
            True,
        ),
        ({**tool("remove_tide"), "annotations": {"readOnlyHint": True}}, "writes", True),
    ],
)
def test_the_risk_of_a_tool_is_what_hosts_take_it_for_and_its_words_are_believed_less(
    declared, effect, outside
):
    found = risk_of(Item("tool", declared["name"], declared))
    assert (found.effect, found.outside) == (effect, outside)


def compared(old: list[dict], new: list[dict], instructions: tuple[str, str] = ("", "")):
    documents = (
        snapshot_from({"format": "tallshelf.snapshot/1", "server": {"instructions": told}, "tools": tools})
        for tools, told in zip((old, new), instructions, strict=True)
    )
    return compare_snapshots(*documents)


DAY = {"properties": {"day": {"type": "string"}}}
NEEDED = {**DAY, "required": ["day"]}
STEPS = {
    "breaking": (DAY, NEEDED, "Return it."),
    "ignored": (
        {"properties": {"day": {"type": "string"}, "dry_run": {"type": "boolean"}}},
        DAY,
        "Return it.",
    ),
    "silent": (DAY, DAY, "Return it in feet."),
    None: (NEEDED, DAY, "Return it."),
}


@pytest.mark.parametrize("word", STEPS)
def test_a_kit_is_hit_by_what_it_holds_and_by_nothing_else(word):
    before, after, text = STEPS[word]
    metres = text.replace("feet", "metres")
    comparison = compared([tool("a", metres, **before), tool("b")], [tool("a", text, **after), tool("b")])
    holds = Holder("x", "X", "t", "production", {"tool:a": "1.0.0", "tool:b": "1.0.0"})
    other = Holder("y", "Y", "t", "production", {"tool:b": "1.0.0"})
    found = hits(comparison.changes, [other, holds])
    if word is None:
        assert found == ()
    else:
        (hit,) = found
        assert (hit.kit, hit.word, [one.item for one in hit.items]) == ("x", word, ["tool:a"])
        assert hit.items[0].counts[word] >= 1
    held = resolve(
        replace(
            parse_kit(TEXT),
            picks=parse_kit(TEXT.replace('"get_tide", "resource:tide://today"', '"a"')).picks[:1],
        ),
        company(tides=({"1.4.0": ([tool("a"), tool("b")], {})}, {})),
    ).lock
    assert bool(why_not_move(comparison, held, "tides")) == (word is not None)
    assert why_not_move(comparison, Lock(), "tides") == ""


def test_what_changes_on_the_server_reaches_all_that_hold_something_of_it():
    comparison = compared([tool("a")], [tool("a")], ("Heights are in metres.", "Heights are in feet."))
    holds = Holder("x", "X", "t", "production", {"tool:a": "1.0.0"})
    (hit,) = hits(comparison.changes, [holds, Holder("y", "Y", "t", "production", {})])
    assert [one.item for one in hit.items] == ["server"]


def test_the_schema_that_ships_takes_what_is_written_and_refuses_what_the_reader_does():
    fits = jsonschema.Draft202012Validator(schema("kit-1")).is_valid
    kit = parse_kit(TEXT)
    assert fits(kit.document()) and fits(tomllib.loads(TEXT))
    beyond = ("~1.4", "^0", '"tides"', '"tool:a"')  # what a schema does not say
    for old, new, _ in WRONG:
        if new != "[picks]" and not any(one in new for one in beyond):
            assert not fits(tomllib.loads(TEXT.replace(old, new))), new


def test_a_lock_fits_its_format():
    lock = resolve(parse_kit(TEXT), company()).lock.document()
    for one in lock["items"]:
        one["release_digest"] = one["item_digest"]
    jsonschema.validate(lock, schema("lock-1"))
    assert len(lock["items"]) == 3


def test_a_kit_is_bounded_in_what_it_comes_to_and_in_what_is_told_of_what_is_not_there():
    many = [tool(f"tool_{number}") for number in range(1200)]
    found = resolve(parse_kit(TEXT), company(**quays(*many)))
    assert [one.kind for one in found.refused] == ["too-many"]
    some = resolve(parse_kit(TEXT), company(**quays(*many[:450])))
    assert [one.kind for one in some.problems if one.kind != "over-budget"] == ["not-checked"]
    named = ", ".join(f'"toll_{number}"' for number in range(400))
    gone = resolve(parse_kit(TEXT.replace('"reading"', f"[{named}]")), company(**quays(*many)))
    assert len(gone.refused) == 400 and sum("nearest" in one.message for one in gone.refused) == 10


FULL = HostProfile(
    "desk", tools=2, transports=("stdio",), revisions=("2025-06-18",), resources=False, prompts=False
)


@pytest.mark.parametrize(
    ("profile", "transport", "revision", "kinds", "said"),
    [
        (HostProfile("any"), "http+sse", "2024-11-05", ["tool", "resource", "prompt"], []),
        (FULL, "stdio", "2025-06-18", ["tool"], []),
        (FULL, "stdio", "", ["tool"], []),
        (FULL, "http+sse", "2025-06-18", ["tool"], ["!x@1 is reached by http+sse, and desk takes stdio"]),
        (FULL, "stdio", "2024-11-05", ["tool"], ["captured with revision 2024-11-05"]),
        (FULL, "stdio", "2025-06-18", ["template", "prompt"], ["no resources of x@1", "no prompts of x@1"]),
    ],
)
def test_what_a_host_cannot_use_is_said_with_what_to_do(profile, transport, revision, kinds, said):
    found = unusable(profile, transport=transport, revision=revision, kinds=kinds, what="x@1")
    assert len(found) == len(said) and all(one.remedy for one in found)
    for one, words in zip(found, said, strict=True):
        assert words.removeprefix("!") in one.what and one.whole is words.startswith("!")
    assert too_many_tools(FULL, 2) is None and "takes 2 at once" in too_many_tools(FULL, 3).what
