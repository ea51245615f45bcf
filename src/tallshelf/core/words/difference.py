"""What changed between two texts, and whether their meaning moved with it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Literal

from tallshelf.core.words.classes import writes
from tallshelf.core.words.contrary import are_contrary
from tallshelf.core.words.derived import derived
from tallshelf.core.words.lexicon import is_word, lemma, synonyms, verb_share
from tallshelf.core.words.phrases import one_group
from tallshelf.core.words.reading import Clause, amount, claims, read, tokens_of, told_aside, without_asides
from tallshelf.core.words.remembered import remembered
from tallshelf.core.words.split import content_words, word_set
from tallshelf.core.words.units import units_in

Meaning = Literal["same", "worded", "unit", "limit", "scope", "effect", "other"]
"""How far the meaning of a text moved.

``same``: only spelling, case or punctuation; ``worded``: other words for the same; ``unit``: another
unit, currency, time zone, date form or kind of identifier; ``limit``: another number in the same
sentence; ``scope``: something that it said is another now, or the opposite; ``effect``: it newly says that something
is changed or sent; ``other``: anything else.
"""

_TYPOGRAPHY = re.compile(r"[\s\"'`’‘“”.,;:!()–—-]+")
_WORD = re.compile(r"[\w']+|[^\w\s.,;()]")
_LETTERS = re.compile(r"[A-Za-z']+")
_NUMBER = re.compile(r"\d+(?:[.,]\d+)*")
_FROM_TO = re.compile(r"\bfrom ([^,.;)\n]{1,80}?) to ([^,.;)\n]{1,80})", re.IGNORECASE)
_ROW = re.compile(r"(?:`?[\w ]{1,24}`?,[ \t]*){1,12}`?[\w ]{1,24}`?")
_SET = re.compile(r"\b(?:or|one of|any of|all of|contains?|accepts?|either|and)\b", re.IGNORECASE)
_THEN = re.compile(r"\band then\b|\bthen\b|\bfollowed by\b", re.IGNORECASE)
_ACTS = re.compile(
    r"(?:^|[.!?]\s+|\n|(,[ \t]+and|\b[Aa]nd|\b[Tt]hen|\b[Aa]lso|,)[ \t]+)(?:(?:[Aa]lso|[Tt]hen)[ \t]+)?"
    r"([A-Za-z][a-z]+)\b"
    r"(?:[ \t]+(?=(the|a|an|it|them|their|its|your|his|her|all|every|any|this|that|one)\b))?"
)
_DONE = re.compile(r"\b(?:is|are|gets?)[ \t]+(?:then[ \t]+|also[ \t]+)?([a-z]+(?:ed|en))\b(?! by)")
"""What becomes of a thing, said of it: the sitting is closed."""
_TO_CALLERS = word_set(
    """
leave send give set pass omit use see write name say put choose call note do be have
"""
)
"""What a text that begins with it tells the caller to do, rather than what is done."""
_POLAR = word_set(
    """
NOT ONLY ALL ANY INCL MUST MAY OPTIONAL REQUIRED FALSE TRUE GE LE GT LT BEFORE AFTER DESC ASC LATEST OLDEST
MOST LEAST FOREVER CASE NOCASE or
"""
)
_RELATIONS = word_set(
    """
minus before after over above below behind under versus then than against ahead
"""
)
_PRONOUNS = {"us": "we", "our": "we", "me": "i", "them": "they", "him": "he", "her": "she"}
_NO_PARTY = word_set(
    """
the a an of in to is be are was it by as and for from on when where if that
"""
)
_RELATING = word_set(
    "by to for from of in on at into onto with per as until since through via against toward towards"
)
_ALIKE_RELATIONS = frozenset(
    frozenset(one.split("/"))
    for one in [
        "in/on",
        "in/at",
        "on/at",
        "for/of",
        "in/of",
        "of/from",
        "into/in",
        "onto/on",
        "toward/towards",
        "via/through",
        "via/by",
    ]
)
_MOST_WORDS, _MOST_PAIRS, _LONGEST_WORD = 600, 20_000, 40
"""Words of a text that are compared one by one, pairs of tokens that are looked at for synonyms, and letters of a word
that may be misspelt."""
_EDITED, _ALIKE, _RELATED = 0.7, 0.5, 0.25
"""How like two texts are, word by word, of which one is a small edit of the other, an edit, or speaks of the same."""


@dataclass(frozen=True)
class TextDifference:
    """``removed`` and ``added`` are the words that went and came, in order, gaps written as ``…``.

    ``notice`` is the share of its telling words, from 0 to 1, by which a chooser would notice.
    """

    removed: str
    added: str
    notice: float
    meaning: Meaning


def text_difference(old: str, new: str) -> TextDifference:
    """Compare two texts.

    The word-level difference is the longest matching blocks of Ratcliff and Obershelp, as in
    Python's difflib; the notice is one minus the Jaccard index of the stemmed content words. Of texts of more than
    some hundred words what stands between their common beginning and end is compared; where that is as long, it is
    told as a whole, and is another text.
    """
    removed, added = _changed_words(old, new)
    before, after = set(content_words(old)), set(content_words(new))
    whole = before | after
    notice = 1 - len(before & after) / len(whole) if whole else 0.0
    return TextDifference(removed, added, round(notice, 2), _meaning(old, new))


def moved_unit(old: str, new: str) -> tuple[str, str] | None:
    """Return the unit that one text names and the other replaces.

    It is another of the same measure, or of any where nothing else in the text changed (litres
    became tonnes).
    """
    removed, added = (words.strip(".,;:()") for words in _changed_words(old, new))
    if all(len(units_in(word)) == 1 and word.isalpha() for word in (removed, added)):
        if units_in(removed)[0].name == units_in(added)[0].name:
            return None
        return removed, added
    before, after = units_in(old), units_in(new)
    names_before, names_after = {unit.name for unit in before}, {unit.name for unit in after}
    for unit in before:
        if unit.name in names_after:
            continue
        for other in after:
            if other.measure == unit.measure and other.name not in names_before:
                return old[unit.start : unit.end], new[other.start : other.end]
    return None


def tokens_apart(old: str, new: str) -> tuple[list[str], list[str]]:
    """Return the tokens, as a text is read, that one says and the other does not: those that went, those that came."""
    before, after = _different(read(old), read(new))
    return _subtracted([one for c in before for one in c], [one for c in after for one in c])


def _meaning(old: str, new: str) -> Meaning:
    if _plain(old) == _plain(new):
        return "same"
    if max(len(_WORD.findall(text)) for text in (old, new)) > _MOST_WORDS:
        return "other"
    before, after = _different(read(old), read(new))
    gone, came = _subtracted([one for c in before for one in c], [one for c in after for one in c])
    if not gone and came and _is_said(came, old) and not _effects(old, new):
        came = []  # what the text said already is said once more
    if not gone and not came:
        if ((before and after) or len(read(old)) == 1) and _turned(without_asides(old), without_asides(new)):
            return "scope"
        if _asides_differ(old, new) or _related_otherwise(old, new) or _claims_aside(old, new):
            return "other"
        return "worded"
    alike = _likeness(old, new)
    moved = moved_unit(old, new) if gone and came and alike >= _RELATED else None
    if moved and ((_units(gone) and _units(came)) or not set(tokens_of(moved[0])).isdisjoint(gone)):
        return "unit"
    if alike >= _ALIKE and _only_numbers(gone) and _only_numbers(came) and gone and came:
        return "limit"
    if alike >= _ALIKE - 0.05 and len(gone) <= 2 and _effects(old, new):
        return "effect"
    if gone and came:
        return "scope" if _contradicts(gone, came, alike) else "other"
    single = len(before) == len(after) == 1 and len(gone) + len(came) <= 3
    if alike >= _ALIKE and single and "UNSET" not in (*gone, *came):
        if all(_is_unit(one) for one in came) and came:
            return "other"
        if not _POLAR.isdisjoint((*gone, *came)):
            return "scope"
    return "other"


def _is_said(came: Sequence[str], old: str) -> bool:
    """Whether a text says nothing that another did not: its units and numbers once more."""
    said = {token for clause in read(old) for token in clause.tokens}
    return all(one in said and one not in _POLAR for one in came)


def _asides_differ(old: str, new: str) -> bool:
    """Whether both texts have examples, hints, reasons or addresses of their own."""
    for kind in ("aside", "link"):
        before, after = (
            {clause.tokens for clause in read(text) if clause.kind == kind} for text in (old, new)
        )
        if before - after and after - before:
            return True
    return False


def _related_otherwise(old: str, new: str) -> bool:
    """Whether a word that relates others became another: paid by, paid to."""
    before, after = (_WORD.findall(text.lower()) for text in (old, new))
    for tag, start, end, at, until in SequenceMatcher(None, before, after, False).get_opcodes():
        if tag == "replace" and end - start == until - at == 1:
            was, now = before[start], after[at]
            if was in _RELATING and now in _RELATING and frozenset({was, now}) not in _ALIKE_RELATIONS:
                return True
    return False


def _plain(text: str) -> str:
    return _TYPOGRAPHY.sub(" ", text).strip().lower()


def _different(
    old: Sequence[Clause], new: Sequence[Clause]
) -> tuple[list[tuple[str, ...]], list[tuple[str, ...]]]:
    """Return the tokens of the clauses that say something and stand in one text alone."""
    before, after = ([one.tokens for one in side if one.kind == "says"] for side in (old, new))
    for clause in list(before):
        if clause in after:
            before.remove(clause)
            after.remove(clause)
    return before, after


def _subtracted(old: Sequence[str], new: Sequence[str]) -> tuple[list[str], list[str]]:
    """Return what of two lists of tokens is left when each is set against one that means the same."""
    gone, came = (
        list((Counter(old) - Counter(new)).elements()),
        list((Counter(new) - Counter(old)).elements()),
    )
    for one in list(gone) if len(gone) * len(came) <= _MOST_PAIRS else ():
        other = next((other for other in came if _means(one, other)), None)
        if other is not None:
            gone.remove(one)
            came.remove(other)
    return gone, came


@remembered(16_384, 80)
def _means(one: str, other: str) -> bool:
    """Whether two tokens mean the same: synonyms, one of a unit and the unit, or one misspelt."""
    if ":" in one and ":" in other:
        return amount(one) == amount(other)
    if not (one.isalpha() and other.isalpha()) or one.isupper() or other.isupper():
        return False
    if one_group(one, other) or (synonyms(one, other) and not are_contrary(one, other)):
        return True
    return derived(one, other) or (not (is_word(one) and is_word(other)) and _misspelt(one, other))


def _misspelt(one: str, other: str) -> bool:
    """Whether two words are the same but for a letter: one more, one less, another, or two turned round."""
    if min(len(one), len(other)) < 4 or len(one) > _LONGEST_WORD or abs(len(one) - len(other)) > 1:
        return False
    blocks = SequenceMatcher(None, one, other, False).get_matching_blocks()
    return sum(block.size for block in blocks) >= max(len(one), len(other)) - 1


def _likeness(old: str, new: str) -> float:
    before, after = (_WORD.findall(text.lower()) for text in (old, new))
    return SequenceMatcher(None, before, after, False).ratio()


def _contradicts(gone: Sequence[str], came: Sequence[str], alike: float) -> bool:
    """Whether one text says something else where the other said what went.

    A negation that came or went together with another word may only turn the same thing round.
    """
    opposed = any(are_contrary(one, other) for one in gone for other in came)
    if (
        alike < _EDITED
        and gone.count("NOT") != came.count("NOT")
        and set(gone) - {"NOT"}
        and set(came) - {"NOT"}
    ):
        return False
    return alike >= _ALIKE or (opposed and alike >= _RELATED)


def _units(tokens: Iterable[str]) -> bool:
    return any(map(_is_unit, tokens))


def _is_unit(token: str) -> bool:
    return ":" in token


def _only_numbers(tokens: Sequence[str]) -> bool:
    return all(token[:1].isdigit() for token in tokens)


def _effects(old: str, new: str) -> set[str]:
    """Return the verbs that a text newly adds to what is done ("and marks it"), but those that only read."""
    known = {lemma(word) for word in _LETTERS.findall(old.lower())}
    found = set()
    for lead, raw, determiner in _ACTS.findall(new):
        one, begins = lemma(raw.lower()), not lead and raw[:1].isupper()
        if begins and one in _TO_CALLERS and not writes(one):
            continue
        if determiner or (begins and raw.endswith("s")) or (lead and raw.endswith("s")) or writes(one):
            found.add(one)
    found |= {one for one in map(lemma, _DONE.findall(new.lower())) if writes(one)}
    return {
        one
        for one in found - known
        if verb_share(one) >= 0.1
        and not one_group(one, "show")
        and not any(_means(one, other) for other in known)
    }


def _claims_aside(old: str, new: str) -> bool:
    """Whether an example, or what is said to follow, says something of its own that the other text does not."""
    told = {token for clause in (*read(old), *read(new)) if clause.kind == "says" for token in clause.tokens}
    before, after = (claims(told_aside(text)) for text in (old, new))
    return bool((before ^ after) - told)


def _turned(old: str, new: str) -> bool:
    """Whether the same words stand in another order that says something else."""
    return _exchanged(old, new) or _reversed_row(old, new) or _redirected(old, new)


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
    rows = [[_plain(one) for one in row if _plain(one)] for row in rows]
    matches = [_ROW.search(text) for text in (old, new)]
    if matches[0] is None or matches[1] is None:
        return False
    return rows[0] != rows[1] and sorted(map(str, rows[0])) == sorted(map(str, rows[1]))


def _exchanged(old: str, new: str) -> bool:
    """Whether what stands before a verb or a relation, and what stands after it, changed places."""
    if any(text.count(",") > 1 and _SET.search(text) for text in (old, new)):
        return False
    before, after = ([letter.lower() for letter in _LETTERS.findall(text)] for text in (old, new))
    lemmas = [[_PRONOUNS.get(one) or lemma(one) for one in words] for words in (before, after)]
    for word in sorted(set(lemmas[0]) & set(lemmas[1])):
        if lemmas[0].count(word) != 1 or lemmas[1].count(word) != 1:
            continue
        here, there = (side.index(word) for side in lemmas)
        inflected = before[here].endswith(("s", "ed", "ing")) and after[there].endswith(("s", "ed", "ing"))
        if word not in _RELATIONS and not (verb_share(word) >= (0.1 if inflected else 0.5)):
            continue
        left, right = set(lemmas[0][:here]) - _NO_PARTY, set(lemmas[0][here + 1 :]) - _NO_PARTY
        left_now, right_now = set(lemmas[1][:there]) - _NO_PARTY, set(lemmas[1][there + 1 :]) - _NO_PARTY
        crossed = bool((left - left_now) & right_now and (right - right_now) & left_now)
        passive = _passive(before, here) != _passive(after, there)
        if crossed != passive and (crossed or (left & left_now and right & right_now)):
            return True
    return False


def _passive(words: Sequence[str], at: int) -> bool:
    follows = words[at + 1 : at + 2]
    done = words[at] != lemma(words[at]) and not words[at].endswith("s")
    return (follows == ["by"] and done) or (
        follows == ["to"] and words[at - 1 : at] in (["is"], ["are"], ["was"], ["were"])
    )


def _changed_words(old: str, new: str) -> tuple[str, str]:
    before, after = old.split(), new.split()
    if max(len(before), len(after)) > _MOST_WORDS:
        before, after = _between(before, after)
    if max(len(before), len(after)) > _MOST_WORDS:
        return " ".join(before), " ".join(after)
    removed: list[str] = []
    added: list[str] = []
    for tag, start, end, other_start, other_end in SequenceMatcher(None, before, after, False).get_opcodes():
        if tag != "equal":
            removed.append(" ".join(before[start:end]))
            added.append(" ".join(after[other_start:other_end]))
    return _joined(removed), _joined(added)


def _between(old: list[str], new: list[str]) -> tuple[list[str], list[str]]:
    """Return what stands between the common beginning and the common end of two lists of words."""
    shortest = min(len(old), len(new))
    start = next((at for at in range(shortest) if old[at] != new[at]), shortest)
    left = shortest - start
    end = next((at for at in range(left) if old[-1 - at] != new[-1 - at]), left)
    return old[start : len(old) - end], new[start : len(new) - end]


def _joined(parts: Iterable[str]) -> str:
    return " … ".join(part for part in parts if part)
