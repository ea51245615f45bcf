"""Rules on names that are told apart too little: twins of another word, letter, case or script."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject, rewritten
from tallshelf.core.style.rules._examples import tool, tools
from tallshelf.core.style.view import ItemView
from tallshelf.core.words.hidden import looks_alike
from tallshelf.core.words.lists import is_verb, same_verb
from tallshelf.core.words.meaning import opposites
from tallshelf.core.words.reading import read


def _near_twins(subject: Subject) -> Iterator[RuleHit]:
    told: set[str] = set()
    named = (
        pair for pair in _pairs(subject.view.tools) if _are_twins(*pair) and pair[0].bare != pair[1].bare
    )
    for first, second in itertools.chain(named, _say_the_same(subject.view.tools)):
        for item, other in ((second, first), (first, second)):
            if item.identity not in told:
                told.add(item.identity)
                message = f"`{item.name}` and `{other.name}` differ too little to be told apart; merge or rename one"
                yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _pairs(tools: tuple[ItemView, ...]) -> Iterator[tuple[ItemView, ItemView]]:
    """Yield the pairs that share the stem of a word that is not the first, or their first letters; some twice."""
    groups: dict[str, list[ItemView]] = {}
    for item in tools:
        for key in {*item.stems[1:], item.bare[:3], " ".join(sorted(item.stems))}:
            groups.setdefault(key, []).append(item)
    for members in groups.values():
        if len(members) > 1:
            yield from itertools.combinations(members[:200], 2)


def _say_the_same(tools: tuple[ItemView, ...]) -> Iterator[tuple[ItemView, ItemView]]:
    """Yield pairs that take the same and say the same in other words, as texts are read."""
    taking: dict[tuple[str, ...], list[ItemView]] = {}
    for item in tools:
        if item.own and item.text.text:
            taking.setdefault(tuple(sorted(field.name for field in item.own)), []).append(item)
    for group in taking.values():
        saying: dict[tuple[str, ...], list[ItemView]] = {}
        for item in group if len(group) > 1 else ():
            tokens = sorted(token for clause in read(item.text.text) for token in clause.tokens)
            saying.setdefault(tuple(tokens), []).append(item)
        for alike in saying.values():
            for first, second in itertools.combinations(alike[:20], 2):
                opposed = opposites(first.stem_set, second.stem_set)
                if first.text.text != second.text.text and not opposed:
                    yield first, second


def _take_the_same(first: ItemView, second: ItemView) -> bool:
    """Whether two tools take the same parameters, by name."""
    one, other = ({field.name for field in each.parameters if field.depth == 1} for each in (first, second))
    return one == other


_SHOWING = frozenset(["get", "fetch", "list", "show", "read", "view", "display", "retrieve"])
_TURNS_ROUND = frozenset({"to", "from", "2", "into", "for", "of", "by", "in"})


def _are_twins(first: ItemView, second: ItemView) -> bool:
    if len(first.words) < 2 or len(second.words) < 2:
        return False
    if first.stems == second.stems:  # one and many: two jobs, where they take different things
        return _take_the_same(first, second)
    if first.stem_set == second.stem_set:
        return _TURNS_ROUND.isdisjoint(first.words)
    if first.stems[1:] == second.stems[1:]:
        verbs = {first.words[0], second.words[0]}
        if same_verb(*verbs) or (
            verbs <= _SHOWING and first.words[1:] == second.words[1:] and _take_the_same(first, second)
        ):
            return True
    pairs = [pair for pair in zip(first.words, second.words, strict=False) if pair[0] != pair[1]]
    if len(pairs) == 1 and len(first.words) == len(second.words) and all(map(is_verb, pairs[0])):
        return same_verb(*pairs[0])  # get and set
    one, other = first.bare, second.bare
    return (
        len(one) > 8
        and abs(len(one) - len(other)) <= 1
        and one[-1].isalpha()
        and other[-1].isalpha()
        and _one_letter_apart(one, other)
    )


def _one_letter_apart(one: str, other: str) -> bool:
    if one == other:
        return False
    start = next(
        (at for at, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), min(len(one), len(other))
    )
    return (
        one[start + 1 :] == other[start + 1 :]
        or one[start:] == other[start + 1 :]
        or one[start + 1 :] == other[start:]
    )


def _same_but_for_case(subject: Subject) -> Iterator[RuleHit]:
    seen: dict[str, str] = {}
    for item in subject.view.tools:
        before = seen.setdefault(item.bare, item.name)
        if before != item.name:
            message = f"`{item.name}` and `{before}` differ by case or separator only; models mix them up"
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _lookalike_letters(subject: Subject) -> Iterator[RuleHit]:
    for name in subject.view.names:
        found = [char for char in name.text if looks_alike(char)]
        if found:
            yield RuleHit(name.item, name.pointer, _alike(found[0], name.text))
    for text in subject.view.beyond_ascii:
        for word in re.finditer(r"\w+", text.text):
            odd = [char for char in word.group() if looks_alike(char)]
            if odd and any(char.isascii() and char.isalpha() for char in word.group()):
                latin = "".join(looks_alike(char) or char for char in word.group())
                yield RuleHit(
                    text.item,
                    text.pointer,
                    _alike(odd[0], word.group()),
                    word.span(),
                    rewritten(text, word.span(), latin),
                )
                break


def _alike(char: str, word: str) -> str:
    return f"{char!r} (U+{ord(char):04X}) in {word!r} only looks like {looks_alike(char)!r}; write the Latin letter"


RULES = (
    Rule(
        id="near-twin-names",
        family="names",
        covers=("name-near-twin",),
        level="warning",
        reason="Of two names that mean the same a model picks one by chance.",
        check=_near_twins,
        bad=tools(tool("get_berth"), tool("fetch_berth")),
        good=tools(tool("list_berths"), tool("get_berth"), tool("delete_berth")),
    ),
    Rule(
        id="same-but-for-case",
        family="names",
        covers=("name-near-twin", "case-mixed"),
        level="error",
        reason="Names that differ by case or separator only are one name to a reader.",
        check=_same_but_for_case,
        bad=tools(tool("find_berth"), tool("findBerth")),
        good=tools(tool("find_berth"), tool("find_vessel")),
    ),
    Rule(
        id="lookalike-letters",
        family="names",
        covers=("lookalike-letters", "hidden-characters"),
        level="error",
        reason="A letter of another script makes another name that looks the same.",
        check=_lookalike_letters,
        bad=tools(tool("list_b\u0435rths")),
        good=tools(tool("list_berths", "Lists the berths of Дубровник and of Åbo, by their length.")),
    ),
)
