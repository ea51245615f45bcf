"""What changed between two texts, and whether their meaning moved with it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from difflib import SequenceMatcher
from typing import Literal

from msgspec import Struct

from tallshelf.core.words.acts import changes, lead_verb
from tallshelf.core.words.changed import MOST_WORDS, changed_words, lost_unit, moved_unit
from tallshelf.core.words.claimed import collide
from tallshelf.core.words.classes import opposed, verb_class, writes
from tallshelf.core.words.contrary import are_contrary
from tallshelf.core.words.lexicon import lemma, verb_share
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.phrases import one_group
from tallshelf.core.words.reading import (
    Clause,
    claims,
    done_aside,
    read,
    tokens_of,
    told_aside,
    without_asides,
)
from tallshelf.core.words.same import mean_the_same, subtracted
from tallshelf.core.words.split import content_words, word_set
from tallshelf.core.words.terms import NO_TERMS, HouseTerms
from tallshelf.core.words.turned import plain, turned

Meaning = Literal["same", "worded", "unit", "limit", "scope", "effect", "other"]
"""How far the meaning of a text moved.

``same``: only spelling, case or punctuation; ``worded``: other words for the same; ``unit``: another
unit, currency, time zone, date form or kind of identifier; ``limit``: another number in the same
sentence; ``scope``: something that it said is another now, or the opposite; ``effect``: it newly says that something
is changed or sent; ``other``: anything else.
"""

_YOURS = Pattern(r"^(?:your|my|our|their|its|his|her)\b", re.IGNORECASE)
"""Somebody's open tickets are all of them."""
_OF_ONE = Pattern(r"\b(?:own|your|my|their|its|his|her|this|one|current|single)\b", re.IGNORECASE)
_WORD = Pattern(r"[\w']+|[^\w\s.,;()]")
_LETTERS = Pattern(r"[A-Za-z']+")
_NUMBER = Pattern(r"\d+(?:[.,]\d+)*")
_ACTS = Pattern(
    r"(?:^|[.!?]\s+|\n|(,[ \t]+and|\b[Aa]nd|\b[Tt]hen|\b[Aa]lso|,)[ \t]+)(?:(?:[Aa]lso|[Tt]hen)[ \t]+)?"
    r"([A-Za-z][a-z]+)\b"
    r"(?:[ \t]+(?=(the|a|an|it|them|their|its|your|his|her|all|every|any|this|that|one)\b))?"
)
_DONE = Pattern(r"\b(?:is|are|gets?)[ \t]+(?:then[ \t]+|also[ \t]+)?([a-z]+(?:ed|en))\b(?! by)")
"""What becomes of a thing, said of it: the sitting is closed."""
_LOOKING = frozenset({"read", "list", "find", "check", "count", "export"})
_DENIED = Pattern(r"\b(?:no|not|never|none|nothing|without)\b")
_TO_CALLERS = word_set(
    """
leave send give set pass omit use see write name say put choose call note do be have
"""
)
"""What a text that begins with it tells the caller to do, rather than what is done."""
_ENDS = Pattern(
    r"\b(?:until|till|up to|through|from|before|after|since|to|day|date|end|start|tax|vat|least|most)\b",
    re.IGNORECASE,
)
"""What a text speaks of whose bounds may be counted in."""
_NO_EFFECT = word_set("include contain use keep follow start name have be")
_POLAR = word_set(
    """
NOT ONLY ALL EACH ANY INCL MUST MAY OPTIONAL REQUIRED FALSE TRUE GE LE GT LT BEFORE AFTER DESC ASC LATEST OLDEST
MOST LEAST FOREVER CASE NOCASE or
"""
)
_LOOKS = word_set("query tell search look find")
_WEAK = word_set("FROM format form")
"""Tokens that change nothing where nothing else went or came."""
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
        "into/to",
        "onto/to",
        "onto/on",
        "toward/towards",
        "via/through",
        "via/by",
    ]
)
_LONG_ROOT, _FEW = 6, 3
"""Letters of a root that is no chance, tokens that a small edit moves."""
_SURELY, _EDITED, _ALIKE, _RELATED, _RESTRUCTURED = 0.77, 0.7, 0.5, 0.25, 0.1
"""How like two texts are, word by word, of which one is the other but for a word, a small edit of it, an edit, or
speaks of the same; and what sentences that were joined or cut take off that."""


class TextDifference(Struct, frozen=True):
    """``removed`` and ``added`` are the words that went and came, in order, gaps written as ``…``.

    ``notice`` is the share of its telling words, from 0 to 1, by which a chooser would notice.
    """

    removed: str
    added: str
    notice: float
    meaning: Meaning


def text_difference(old: str, new: str, terms: HouseTerms = NO_TERMS) -> TextDifference:
    """Compare two texts, in which the terms of a house stand for the ones that it prefers.

    The word-level difference is the longest matching blocks of Ratcliff and Obershelp, as in
    Python's difflib; the notice is one minus the Jaccard index of the stemmed content words. Of texts of more than
    some hundred words what stands between their common beginning and end is compared; where that is as long, it is
    told as a whole, and is another text.
    """
    removed, added = changed_words(old, new)
    before, after = set(content_words(old)), set(content_words(new))
    whole = before | after
    notice = 1 - len(before & after) / len(whole) if whole else 0.0
    return TextDifference(removed, added, round(notice, 2), _meaning_by(terms, old, new))


def _meaning_by(terms: HouseTerms, old: str, new: str) -> Meaning:
    """Return how far a meaning moved; one word of the house for another is another word for the same."""
    found = _meaning(terms.written(old), terms.written(new))
    return "worded" if terms and found == "same" and plain(old) != plain(new) else found


def tokens_apart(old: str, new: str) -> tuple[list[str], list[str]]:
    """Return the tokens, as a text is read, that one says and the other does not: those that went, those that came."""
    before, after = _different(read(old), read(new))
    return subtracted([one for c in before for one in c], [one for c in after for one in c])


def _meaning(old: str, new: str) -> Meaning:
    if plain(old) == plain(new):
        return "same"
    if max(len(_WORD.findall(text)) for text in (old, new)) > MOST_WORDS:
        return "other"
    before, after = _different(read(old), read(new))
    gone, came = subtracted([one for c in before for one in c], [one for c in after for one in c])
    less, more = _not_said_again(gone, read(new)), _not_said_again(came, read(old))
    if bool(less) == bool(more) or not (gone and came):
        gone, came = less, more
    if _WEAK.issuperset((*gone, *came)) or _only_looks(gone, came, old):
        gone, came = [], []
    if not gone and came and _is_said(came, old) and not _effects(old, new):
        came = []  # what the text said already is said once more
    if not gone and not came:
        if ((before and after) or len(read(old)) == 1) and turned(without_asides(old), without_asides(new)):
            return "scope"
        if _asides_differ(old, new) or _related_otherwise(old, new) or _claims_aside(old, new):
            return "other"
        return "worded"
    if any(
        one == ["ONLY"] and sorted(other) == ["NOT", "other"] for one, other in ((gone, came), (came, gone))
    ):
        return "other"  # only these are returned: others are not
    if any({"ONLY", "MAY"} <= set(one) and "MUST" in other for one, other in ((gone, came), (came, gone))):
        return "other"  # only admins may: you must be an admin, or admins must, which is more than they may
    if collide([one.tokens for one in read(old)], [one.tokens for one in read(new)], gone, came):
        return "scope"
    alike = _likeness(old, new)
    moved = moved_unit(old, new) if gone and came and alike >= _RELATED else None
    if moved and ((_units(gone) and _units(came)) or not set(tokens_of(moved[0])).isdisjoint(gone)):
        return "unit"
    if alike >= _ALIKE and _only_numbers(gone) and _only_numbers(came) and gone and came:
        return "limit"
    if alike >= _ALIKE - 0.05 and len(gone) <= 2 and _effects(old, new):
        return "effect"
    if gone and not came:
        if alike >= _RELATED and any(one.startswith("unit:") for one in gone) and lost_unit(old, new):
            return "unit"
        if alike >= _ALIKE - 0.05 and len(gone) <= _FEW and _effects(new, old):
            return "effect"
    if gone and came:
        return "scope" if _is_another(old, new, gone, came, alike) else "other"
    single = len(before) == len(after) == 1 and len(gone) + len(came) <= _FEW
    if alike >= _ALIKE and single and "UNSET" not in (*gone, *came):
        if all(_is_unit(one) for one in came) and came:
            return "other"
        if {*gone, *came} == {"INCL"} and not _ENDS.search(f"{old} {new}"):
            return "other"  # with a header, including a header
        if {*gone, *came} == {"ALL"} and not _OF_ONE.search(old if came else new):
            return "other"  # ships are all ships
        if not _POLAR.isdisjoint((*gone, *came)) and not _all_of_somebodys(gone, came, old, new):
            return "scope"
    return "other"


def _all_of_somebodys(gone: Sequence[str], came: Sequence[str], old: str, new: str) -> bool:
    """Whether a text says that it is all, and the other whose it is: your open tickets are all of them."""
    return ("ALL" in gone and _YOURS.search(new) is not None) or (
        "ALL" in came and _YOURS.search(old) is not None
    )


def _not_said_again(tokens: Sequence[str], other: Sequence[Clause]) -> list[str]:
    """Return the tokens without the words that the other text says too, only less often."""
    said = {token for clause in other if clause.kind == "says" for token in clause.tokens}
    return [one for one in tokens if not (one in said and one.isalpha() and one.islower())]


def _only_looks(gone: Sequence[str], came: Sequence[str], old: str) -> bool:
    """Whether no more than a word for looking went or came, of a text that does nothing else."""
    if bool(gone) == bool(came) or not all(one in _LOOKS or one_group(one, "show") for one in (*gone, *came)):
        return False
    return not any(writes(token) for clause in read(old) for token in clause.tokens)


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


def _likeness(old: str, new: str) -> float:
    before, after = (_WORD.findall(text.lower()) for text in (old, new))
    return SequenceMatcher(None, before, after, False).ratio()


def _is_another(old: str, new: str, gone: Sequence[str], came: Sequence[str], alike: float) -> bool:
    """Whether a text says something else by what came, and not perhaps the same at another place."""
    before, after = read(old), read(new)
    edited = alike if len(before) == len(after) else alike - _RESTRUCTURED
    if len(gone) + len(came) <= _FEW and alike >= _ALIKE and turned(without_asides(old), without_asides(new)):
        return True
    if not _contradicts(gone, came, alike, edited):
        return False
    signed = any(one.isupper() or one[:1].isdigit() for one in (*gone, *came))
    return signed or alike >= _SURELY or _opposed(gone, came) or _in_one_place(before, after, gone, came)


def _contradicts(gone: Sequence[str], came: Sequence[str], alike: float, edited: float) -> bool:
    """Whether one text says something else where the other said what went.

    A negation that came or went together with another word may only turn the same thing round.
    """
    opposed = _opposed(gone, came)
    if not opposed and any(_of_one_root(one, other) for one in gone for other in came):
        return False
    if (
        alike < _EDITED
        and gone.count("NOT") != came.count("NOT")
        and set(gone) - {"NOT"}
        and set(came) - {"NOT"}
    ):
        return False
    return edited >= _ALIKE or (opposed and alike >= _RELATED)


def _opposed(gone: Sequence[str], came: Sequence[str]) -> bool:
    return any(are_contrary(one, other) for one in gone for other in came)


def _in_one_place(
    old: Sequence[Clause], new: Sequence[Clause], gone: Sequence[str], came: Sequence[str]
) -> bool:
    """Whether something came where something went: said elsewhere in a text it may be the same in other words."""
    before, after = (
        [token for clause in side if clause.kind == "says" for token in clause.tokens] for side in (old, new)
    )
    return any(
        tag == "replace"
        and not set(gone).isdisjoint(before[start:end])
        and not set(came).isdisjoint(after[at:until])
        for tag, start, end, at, until in SequenceMatcher(None, before, after, False).get_opcodes()
    )


def _of_one_root(one: str, other: str) -> bool:
    """Whether one word is made of the other, and perhaps undone: unsubscribes, subscribers."""
    one, other = sorted((one.removeprefix("un"), other.removeprefix("un")), key=len)
    return one.isalpha() and one.islower() and len(one) >= _LONG_ROOT and other.startswith(one[:-1])


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
        if begins and ((one in _TO_CALLERS and not writes(one)) or _does_like(one, lead_verb(old))):
            continue
        if determiner or (begins and raw.endswith("s")) or (lead and raw.endswith("s")) or writes(one):
            found.add(one)
    for match in _DONE.finditer(new.lower()):
        sentence = re.split(r"[.;!?]", new[: match.start()].lower())[-1]
        if writes(lemma(match[1])) and not _DENIED.search(sentence):
            found.add(lemma(match[1]))
    return {
        one
        for one in found - known
        if verb_share(one) >= 0.1
        and one not in _NO_EFFECT
        and not one_group(one, "show")
        and verb_class(one) not in _LOOKING
        and not any(mean_the_same(one, other) for other in known)
    }


def _does_like(verb: str, other: str) -> bool:
    """Whether a text may begin with either of two verbs: to upload a photo to an album is to add it there."""
    kinds = verb_class(verb), verb_class(lemma(other))
    if None in kinds:
        return "remove" not in kinds[:1] and bool(other) and changes(other, leads=True)
    return not opposed(*kinds) and "remove" not in kinds and writes(verb)


def _claims_aside(old: str, new: str) -> bool:
    """Whether an example, or what is said to follow, says something of its own that the other text does not."""
    told = {token for clause in (*read(old), *read(new)) if clause.kind == "says" for token in clause.tokens}
    before, after = (claims(told_aside(text)) for text in (old, new))
    done = done_aside(old) ^ done_aside(new)
    return bool(((before ^ after) | done) - told)
