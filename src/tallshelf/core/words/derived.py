"""Words that say the same as a verb, a noun or an adjective: urgent and urgency, summary and summarise."""

from __future__ import annotations

_ENDINGS = sorted(
    """
    ation ition ization isation ize ise ized ised ary ency ency ent ance ancy ant ment ness ity ical ic al ally ly ure
    ion ious ous ful ate ify ification ition y e
    """.split(),  # noqa: SIM905
    key=len,
    reverse=True,
)
_SHORTEST = 4


def derived(one: str, other: str) -> bool:
    """Whether two base forms are one root with endings that change its part of speech and nothing else.

    Who does it, what undoes it and how often it is done are not among these endings.
    """
    if min(len(one), len(other)) < _SHORTEST + 1 or one[:3] != other[:3]:
        return False
    return not _roots(one).isdisjoint(_roots(other))


def _roots(word: str) -> set[str]:
    return {word} | {
        word[: -len(ending)]
        for ending in _ENDINGS
        if word.endswith(ending) and len(word) - len(ending) >= (3 if len(ending) >= 3 else _SHORTEST)
    }
