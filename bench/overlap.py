"""Overlaps of a new release in a large catalog, against one sparse product of the same texts.

The catalog is generated: 100,000 tools of 2,500 servers, each tool by drawing a verb, one or two
modifiers, a thing and a form of sentence from lists of invented trades (twenty trades of sixty things,
shared words between some), parameters from what its verb and thing take, and a length of text from one
sentence to five. One in forty tools is a rewording of another server's. The seed is fixed.

The yardstick is one SciPy product of the texts (names and descriptions) of the 50 new tools with those of
the whole catalog, made by scikit-learn's TfidfVectorizer at its defaults, in the same run.
"""

from __future__ import annotations

import argparse
import os
import random
import resource
import time
from typing import Any

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tallshelf.service.settings")
os.environ.setdefault("TALLSHELF_DATA", "/tmp/tallshelf-bench")
django.setup()

from sklearn.feature_extraction.text import TfidfVectorizer

from tallshelf.core.overlap import Entry, entries_of, find_overlaps
from tallshelf.core.overlap.find import MOST_EACH
from tallshelf.core.overlap.score import likeness_of, measured, most_of, score
from tallshelf.core.snapshot import Item
from tallshelf.service.catalog.overlap.sparse import SparseIndex

SEED = 20261127
PER_SERVER = 40
VERBS = {
    "get": ("Get", "Look up", "Fetch", "Return"),
    "list": ("List", "List all", "Enumerate"),
    "search": ("Search", "Find"),
    "create": ("Create", "Add", "Register"),
    "update": ("Update", "Change", "Edit"),
    "delete": ("Delete", "Remove"),
    "send": ("Send", "Publish"),
    "check": ("Check", "Verify"),
    "export": ("Export",),
    "assign": ("Assign",),
    "cancel": ("Cancel",),
    "approve": ("Approve",),
    "estimate": ("Estimate", "Compute"),
}
_SYLLABLES_TEXT = """
ba ke lo mi nu pa re si to va den gar hol lin mor nel pir ran sol tur wex yal zim bro cla dri fle
gri
"""
SYLLABLES = _SYLLABLES_TEXT.split()
_MODIFIERS_TEXT = """
open closed urgent monthly regional planned late internal spare reserved digital damaged seasonal
"""
MODIFIERS = _MODIFIERS_TEXT.split()
FORMS = (
    "{verb} {a} {thing} by its number.",
    "{verb} the {things} of one {owner}, newest first.",
    "{verb} {things} that belong to a {owner} between two days.",
    "{verb} {a} {thing} and tell the {owner} about it.",
    "{verb} what is known of {a} {thing}: its state, its {owner} and when it was last changed.",
)
MORE = (
    "Returns at most fifty, with the number and the state of each.",
    "Times are in UTC; amounts are in euro.",
    "Use it before a {thing} is handed on to another {owner}.",
    "The {owner} must be known already.",
    "A {thing} that is closed stays as it is.",
    "Nothing is changed when the {thing} is not there.",
)


def trades(chance: random.Random) -> list[list[str]]:
    words: set[str] = set()
    while len(words) < 1_200:
        words.add("".join(chance.choices(SYLLABLES, k=chance.choice((2, 2, 3)))))
    whole = sorted(words)
    chance.shuffle(whole)
    shared = whole[:60]
    return [whole[60 + at * 57 : 60 + (at + 1) * 57] + chance.sample(shared, 6) for at in range(20)]


def tool(chance: random.Random, trade: list[str], name: str = "") -> dict[str, Any]:
    """Write one tool; ``name`` gives the verb, modifier and thing of one to be written in other words."""
    if name:
        verb, *modifiers, thing = name.split("_")
    else:
        verb, thing = chance.choice(list(VERBS)), chance.choice(trade)
        modifiers = [chance.choice(MODIFIERS)] if chance.random() < 0.35 else []
    owner = chance.choice(trade)
    told = " ".join([*modifiers, thing])
    words = {
        "verb": chance.choice(VERBS[verb]),
        "a": "a",
        "thing": told,
        "things": f"{told}s",
        "owner": owner,
    }
    text = " ".join(
        one.format(**words) for one in (chance.choice(FORMS), *chance.sample(MORE, chance.randrange(5)))
    )
    members = {f"{thing}_id": chance.choice(("string", "integer"))}
    for extra in chance.sample(
        (f"{owner}_id", "limit", "since", "until", "state", "note", "language"), chance.randrange(4)
    ):
        members[extra] = "integer" if extra == "limit" else "string"
    return {
        "name": "_".join([verb, *modifiers, thing]),
        "description": text,
        "inputSchema": {
            "type": "object",
            "properties": {key: {"type": kind} for key, kind in members.items()},
            "required": [f"{thing}_id"],
        },
    }


def catalog(count: int) -> list[list[dict[str, Any]]]:
    """Return the tools of count / 40 servers."""
    chance = random.Random(SEED)
    all_trades = trades(chance)
    servers: list[list[dict[str, Any]]] = []
    for _ in range(count // PER_SERVER):
        trade = chance.choice(all_trades)
        made = []
        for _ in range(PER_SERVER):
            again = (
                chance.choice(chance.choice(servers))["name"] if servers and chance.random() < 0.025 else ""
            )
            made.append(tool(chance, trade, again))
        servers.append(made)
    return servers


def items(bodies: list[dict[str, Any]]) -> list[Item]:
    return [Item("tool", f"{body['name']}", body) for body in bodies]


def build(servers: list[list[dict[str, Any]]]) -> tuple[SparseIndex, float, float]:
    before, start = memory(), time.perf_counter()
    known = {one.digest: one for bodies in servers for one in items(bodies)}
    index = SparseIndex(read_item=lambda digest: lambda: known[digest])
    index.add_all(
        one for at, bodies in enumerate(servers) for one in entries_of(f"server-{at}", items(bodies))
    )
    list(index.candidates([index.entries_of("server-0")[0].profile], "tool")[0])
    return index, time.perf_counter() - start, memory() - before


def memory() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def best(times: int, act: Any) -> float:
    found = []
    for _ in range(times):
        start = time.perf_counter()
        act()
        found.append(time.perf_counter() - start)
    return min(found)


def yardstick(servers: list[list[dict[str, Any]]], new: list[dict[str, Any]]) -> float:
    texts = [f"{body['name']} {body['description']}" for bodies in servers for body in bodies]
    vectors = TfidfVectorizer()
    whole = vectors.fit_transform(texts).T.tocsr()
    asked = vectors.transform([f"{body['name']} {body['description']}" for body in new])
    return best(3, lambda: asked @ whole)


def recall(index: SparseIndex, own: list[Entry]) -> tuple[float, int]:
    """Return which part of the pairs is found that scoring every pair finds, for some of the new tools."""
    entries = [one for source in index.sources for one in index.entries_of(source)]
    wanted: set[tuple[str, str, str]] = set()
    measures = [measured(other.profile, index.rarity) for other in entries]
    for one in own:
        scored = []
        mine = measured(one.profile, index.rarity)
        for other, measure in zip(entries, measures, strict=True):
            alike = likeness_of(mine, measure)
            if most_of(alike) >= 0.28:
                found = score(one.profile, other.profile, alike)
                if found.cls is not None:
                    scored.append((found.value, other.source, other.identity))
        strongest = sorted(scored, reverse=True)[:MOST_EACH]
        # Ties at the cut may be told in either order.
        least = strongest[-1][0] if len(strongest) == MOST_EACH else 0.0
        wanted |= {(one.identity, source, name) for value, source, name in strongest if value > least}
    found_pairs = {(one.a.item, one.b.source, one.b.item) for one in find_overlaps(own, index)}
    return (len(wanted & found_pairs) / len(wanted) if wanted else 1.0), len(wanted)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--sizes", type=int, nargs="+", default=[10_000, 30_000, 100_000])
    args = parser.parse_args()
    chance = random.Random(SEED + 1)
    all_trades = trades(random.Random(SEED))
    new = [tool(chance, chance.choice(all_trades)) for _ in range(50)]
    for size in args.sizes:
        print(measure(size, new))


def measure(size: int, new: list[dict[str, Any]]) -> str:
    """Return what was measured with a catalog of one size, in a line."""
    servers = catalog(size)
    index, seconds, grown = build(servers)
    own = entries_of("new", items(new))
    asked = best(3, lambda: find_overlaps(own, index))
    stick = yardstick(servers, new)
    found = find_overlaps(own, index)
    start = time.perf_counter()
    index.add_all(entries_of("new", items(new)))
    added = time.perf_counter() - start
    index.remove("new")
    again = best(1, lambda: find_overlaps(own, index))
    part, of = recall(index, own[:5])
    return (
        f"{size:>7,} tools: made in {seconds:5.1f} s, {grown:6.0f} MB more; 50 new tools, {len(found)} overlaps"
        f" with reasons, in {asked * 1000:6.0f} ms = {asked / stick:4.2f} of the product ({stick * 1000:.0f} ms);"
        f" adding them {added / seconds:.3%} of making it anew, the next question {again * 1000:.0f} ms;"
        f" {part:.1%} of {of} pairs found"
    )


if __name__ == "__main__":
    main()
