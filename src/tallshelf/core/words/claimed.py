"""What two texts each claim about the same thing, where at most one of the two can hold."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from tallshelf.core.words.classes import writes
from tallshelf.core.words.contrary import are_contrary
from tallshelf.core.words.lexicon import verb_share
from tallshelf.core.words.split import word_set

_SPECIAL = word_set("0 -1 NULL EMPTY empty blank zero")
"""Values of which a text says what they stand for."""
_ENDLESS = word_set("until FOREVER")
_REPEATED = word_set("NOOP REPEATABLE")
_DUTY = word_set("MUST REQUIRED")
_A_VERB = 0.3
"""The share of its uses that makes a word a verb."""
_SHORT = 14
"""Tokens of two texts, both of which a reader takes as saying one thing."""

Tokens = Sequence[str]


def collide(old: Sequence[Tokens], new: Sequence[Tokens], gone: Tokens, came: Tokens) -> bool:
    """Whether what went and what came exclude each other, however differently the two texts are worded.

    ``old`` and ``new`` are the tokens of clauses, ``gone`` and ``came`` what is left of them when each token is set
    against one that means the same.
    """
    before, after = ([token for clause in side for token in clause] for side in (old, new))
    return (
        _stands_for_another(old, new, gone, came)
        or _lasts_otherwise(gone, came)
        or _only_denied(before, gone, came)
        or _only_denied(after, came, gone)
        or _repeats_otherwise(before, after, gone, came)
        or _denied(before, new)
        or _denied(after, old)
        or _duty_ended(before, after, gone, came)
        or _opposite_signs(before, after, gone, came)
        or _widened(before, gone, came)
        or _widened(after, came, gone)
    )


def _stands_for_another(old: Sequence[Tokens], new: Sequence[Tokens], gone: Tokens, came: Tokens) -> bool:
    """0 means no limit: 0 means nothing."""
    begins = [{clause[0] for clause in side if clause} & _SPECIAL for side in (old, new)]
    return bool(gone and came and begins[0] & begins[1])


def _lasts_otherwise(gone: Tokens, came: Tokens) -> bool:
    """Until it is enabled again: for 24 hours."""
    ends = [(not _ENDLESS.isdisjoint(side), any(map(_is_time, side))) for side in (gone, came)]
    return (ends[0][0] and ends[1][1] and not ends[1][0]) or (ends[1][0] and ends[0][1] and not ends[0][0])


def _is_time(token: str) -> bool:
    return token.startswith("duration:")


def _only_denied(kept: Tokens, gone: Tokens, came: Tokens) -> bool:
    """Notifies the passengers: notifies nobody."""
    if list(came) != ["NOT"] or "NOT" in gone or len(gone) > 3 or not kept:
        return False
    return writes(kept[0]) or verb_share(kept[0]) >= _A_VERB


def _repeats_otherwise(before: Tokens, after: Tokens, gone: Tokens, came: Tokens) -> bool:
    """Calling it twice has no effect: calling it twice books two seats."""
    if "AGAIN" not in before or "AGAIN" not in after:
        return False
    return _REPEATED.isdisjoint(gone) != _REPEATED.isdisjoint(came)


def _opposite_signs(before: Tokens, after: Tokens, gone: Tokens, came: Tokens) -> bool:
    """Case does not matter: upper and lower case are told apart."""
    if max(len(before), len(after)) > _SHORT or gone.count("NOT") != came.count("NOT"):
        return False
    return any(are_contrary(one, other) for one in _signs(gone) for other in _signs(came))


def _denied(kept: Tokens, clauses: Sequence[Tokens]) -> bool:
    """Prints the label: nothing is printed."""
    return "NOT" not in kept and any(
        clause[0] == "NOT" and 1 < len(clause) <= 3 and set(clause[1:]) <= set(kept)
        for clause in clauses
        if clause
    )


def _duty_ended(before: Tokens, after: Tokens, gone: Tokens, came: Tokens) -> bool:
    """Requires a signed-in user: works without signing in."""
    if max(len(before), len(after)) > _SHORT or set(before).isdisjoint(after):
        return False
    signs = sorted((_signs(gone), _signs(came)))
    return any(signs == sorted(([duty], ["NOT"])) for duty in _DUTY)


def _signs(tokens: Iterable[str]) -> list[str]:
    return [one for one in tokens if one.isupper()]


def _widened(kept: Tokens, gone: Tokens, came: Tokens) -> bool:
    """Lists active contracts: lists active and expired contracts."""
    if gone or not 1 <= len(came) <= 2 or len(kept) > _SHORT:
        return False
    return any(are_contrary(one, other) for one in came if one.islower() for other in kept if other.islower())
