"""The same words in another order: when that says something else."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from tallshelf.core.words.lexicon import lemma, verb_share
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.reading import tokens_of
from tallshelf.core.words.split import word_set

_TYPOGRAPHY = Pattern(r"[\s\"'`’‘“”.,;:!()–—-]+")
_LETTERS = Pattern(r"[A-Za-z']+")
_FROM_TO = Pattern(r"\bfrom ([^,.;)\n]{1,80}?) to ([^,.;)\n]{1,80})", re.IGNORECASE)
_ROW = Pattern(r"(?:`?[\w ]{1,24}`?,[ \t]*){1,12}`?[\w ]{1,24}`?")
_SET = Pattern(r"\b(?:or|one of|any of|all of|contains?|accepts?|either|and)\b", re.IGNORECASE)
_THEN = Pattern(r"\band then\b|\bthen\b|\bfollowed by\b", re.IGNORECASE)
_RELATIONS = word_set(
    """
minus per before after over above below behind under versus then than against ahead into onto to from
"""
)
_PRONOUNS = {"us": "we", "our": "we", "me": "i", "them": "they", "him": "he", "her": "she"}
_NO_PARTY = word_set(
    """
the a an of in to is be are was it by as and for from on when where if that this tool function method call
"""
)
_NEAR, _NEAREST, _A_VERB = 5, 3, 0.5
_DETERMINERS = word_set("the a an no any every each its their this")
_MODAL = word_set("can could may might must shall should will would")
_BEING = word_set("is are was were be been being")
_IN_A_ROW = Pattern(r"[a-z]+(?:[ \t]*[,/][ \t]*[a-z]+)+")
_PLACES = [
    frozenset(line.split())
    for line in """
latitude longitude altitude elevation
lat lon lng alt
easting northing
x y z
width height depth length breadth
start end
begin finish
min max
minimum maximum
lower upper
low high
row column
day month year
hour minute second
red green blue alpha
host port
left top right bottom
north east south west
first last
given family
base quote
numerator denominator
bid ask
source target
origin destination
user password
key value
""".strip().splitlines()
]
"""Parts that one gives by their place: pairs of coordinates, the sides of a box, the parts of a date."""


def plain(text: str) -> str:
    """Return a text in small letters without what is typography."""
    return _TYPOGRAPHY.sub(" ", text).strip().lower()


def turned(old: str, new: str) -> bool:
    """Whether the same words stand in another order that says something else."""
    return (
        _exchanged(old, new)
        or _reversed_row(old, new)
        or _redirected(old, new)
        or _placed_otherwise(old, new)
    )


def _redirected(old: str, new: str) -> bool:
    """Whether what goes from one to the other now goes the other way."""
    there, back = (_FROM_TO.search(text) for text in (old, new))
    if there is None or back is None:
        return False
    start, end = (set(tokens_of(there[at])) for at in (1, 2))
    other_start, other_end = (set(tokens_of(back[at])) for at in (1, 2))
    return bool(start & other_end and end & other_start and not start & other_start)


def _reversed_row(old: str, new: str) -> bool:
    """Whether items that stand in a row, neither as choices nor as a set, stand in another order."""
    if any(_SET.search(_THEN.sub(" ", text)) for text in (old, new)):
        return False
    rows = [re.split(r",[ \t]*", _THEN.sub(",", text)) for text in (old, new)]
    rows = [[plain(one) for one in row if plain(one)] for row in rows]
    matches = [_ROW.search(text) for text in (old, new)]
    if matches[0] is None or matches[1] is None:
        return False
    return rows[0] != rows[1] and sorted(map(str, rows[0])) == sorted(map(str, rows[1]))


def _exchanged(old: str, new: str) -> bool:
    """Whether what stands before a verb or a relation, and what stands after it, changed places."""
    if any(text.count(",") > 1 and _SET.search(text) for text in (old, new)):
        return False
    before, after = (
        [re.sub(r"['’]s?$", "", letter.lower()) for letter in _LETTERS.findall(text)] for text in (old, new)
    )
    lemmas = [[_PRONOUNS.get(one) or lemma(one) for one in words] for words in (before, after)]
    for word in sorted(set(lemmas[0]) & set(lemmas[1])):
        if word in _MODAL or lemmas[0].count(word) != 1 or lemmas[1].count(word) != 1:
            continue
        here, there = (side.index(word) for side in lemmas)
        inflected = before[here].endswith(("s", "ed", "ing")) and after[there].endswith(("s", "ed", "ing"))
        if word == "to" and any(
            _is_infinitive(side, at) for side, at in zip(lemmas, (here, there), strict=True)
        ):
            continue
        if _is_thing(before, here) or _is_thing(after, there):
            continue
        if word == "be" and "how" in (*before[:here], *after[:there]):
            continue  # how full the tank is: a tank that is full
        if word not in _RELATIONS and not (verb_share(word) >= (0.1 if inflected else 0.5)):
            continue
        near = _NEAREST if word in _RELATIONS else _NEAR
        (left, right), (left_now, right_now) = _beside(lemmas[0], here, near), _beside(lemmas[1], there, near)
        crossed = bool((left - left_now) & right_now and (right - right_now) & left_now)
        same_form = before[here] == after[there]
        passive = _passive(before, here) != _passive(after, there)
        if not passive and not same_form and _is_done(before, here) != _is_done(after, there):
            continue  # said of the thing, by nobody named: what is rejected, and who rejects it
        if crossed != passive and (crossed or (not same_form and _same_parties(lemmas, here, there))):
            return True
    return False


def _is_thing(words: Sequence[str], at: int) -> bool:
    """Whether a word that may be a verb is a thing here: a share of it, no label, the shift lead."""
    if words[at] == lemma(words[at]) and words[at] not in _RELATIONS:
        before = words[max(0, at - 2) : at]
        if before[-1:] and before[-1] in _DETERMINERS:
            return True
        if len(before) == 2 and before[0] in _DETERMINERS and not before[1].endswith("s"):
            return True
    return (
        words[at + 1 : at + 2] == ["of"]
        and words[at] not in _RELATIONS
        and not words[at].endswith(("ed", "ing"))
    )


def _same_parties(lemmas: Sequence[Sequence[str]], here: int, there: int) -> bool:
    """Whether what stands next before a place and next after it is the same in both texts."""
    was, now = (_beside(side, at, 1) for side, at in zip(lemmas, (here, there), strict=True))
    return was == now and all(was)


def _is_infinitive(words: Sequence[str], at: int) -> bool:
    return any(verb_share(one) >= _A_VERB for one in words[at + 1 : at + 2])


def _beside(words: Sequence[str], at: int, near: int) -> tuple[set[str], set[str]]:
    """Return the nearest words that name something, before a place and after it."""
    before = [one for one in words[:at] if one not in _NO_PARTY]
    after = [one for one in words[at + 1 :] if one not in _NO_PARTY]
    return set(before[-near:]), set(after[:near])


def _is_done(words: Sequence[str], at: int) -> bool:
    """Whether a verb is said of what it is done to: readings are rejected, stored readings."""
    return words[at].endswith(("ed", "en")) or not _BEING.isdisjoint(words[max(0, at - 3) : at])


def _passive(words: Sequence[str], at: int) -> bool:
    follows = words[at + 1 : at + 2]
    done = words[at] != lemma(words[at]) and not words[at].endswith("s")
    return (follows == ["by"] and done) or (
        follows == ["to"] and words[at - 1 : at] in (["is"], ["are"], ["was"], ["were"])
    )


def _placed_otherwise(old: str, new: str) -> bool:
    """Whether parts that are told apart by their place stand in another order."""
    before, after = set(_rows(old)), set(_rows(new))
    return any(
        one != other and sorted(one) == sorted(other) for one in before - after for other in after - before
    )


def _rows(text: str) -> Iterator[tuple[str, ...]]:
    for row in _IN_A_ROW.findall(text.lower()):
        parts = tuple(lemma(one) for one in re.split(r"[ \t]*[,/][ \t]*", row))
        if any(places.issuperset(parts) for places in _PLACES):
            yield parts
