"""What a text says of a parameter that is left out: that it may be, or that nothing comes of the call then."""

from __future__ import annotations

import re
from typing import Literal, NamedTuple

from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.sentences import sentences
from tallshelf.core.words.split import word_set

LEAVING_OUT = word_set(
    "optional optionally omitted omit left leave leaves out skipped skip drop dropped without absence absent missing"
    " none nothing free given not needed necessary required mandatory compulsory obligatory indispensable must belongs"
    " always empty blank"
)
"""One of these stands in every text that says something of it."""

_WHEN = r"(?:if|when|where|whenever|wherever)"
_GIVEN = r"(?:given|set|passed|told|provided|specified|supplied|stated|filled in|named|entered)"
_ABSENT = rf"(?:missing|absent|left out|omitted|skipped|lacking|dropped|not {_GIVEN})"
_LEFT_OUT = Pattern(
    rf"(?:^|[.;:,–—-] )(?:without (?:it|this|one)|in its absence)\b"
    rf"|\b{_WHEN} (?:(?:it|this|that|the (?:field|value|parameter)) (?:is|was|has been) )?{_ABSENT}\b"
    rf"|\b{_WHEN} (?:none|nothing) (?:is|was|stands) (?:{_GIVEN}|here|there)\b"
    r"|\b(?:leave|leaving) (?:it|this) out\b|\b(?:skip|drop|omit) (?:it|this)\b|\ban? \w+ without (?:it|this|one)\b",
    re.IGNORECASE,
)
_MAY = Pattern(
    r"^\W*optional\b|[.;,]\s*optional\W*$|[(\[]optional[)\],;]|\bis optional\b"
    r"|\bleave (?:it |this )?(?:empty|blank|out)\b"
    r"|\b(?:may|can) (?:also )?be (?:left out|omitted|skipped|missing|dropped)\b"
    rf"|\bneed not be {_GIVEN}\b|\bfree to (?:state|give|name|say|set|pass|provide) (?:none|nothing)\b"
    r"|\bnot (?:obligatory|compulsory|mandatory)\b|\bnobody has to (?:give|set|say|pass|fill)\b",
    re.IGNORECASE,
)
_UNCONDITIONAL = r"(?! (?:if|when|where|for|unless|only|by|with|together|to)\b)"
_MUST = Pattern(
    rf"[.;,]\s*(?:required|mandatory)\W*$|\byou must (?:provide|give|specify|supply|set|pass)\b"
    rf"|^\W*(?:required|mandatory)\b{_UNCONDITIONAL}|[(\[](?:required|mandatory)[)\]]"
    rf"|\bis (?:required|mandatory|compulsory|obligatory|indispensable)\b{_UNCONDITIONAL}"
    rf"|\b(?:must|has to) (?:always )?be {_GIVEN}\b{_UNCONDITIONAL}"
    rf"|\b(?:may|must|can) (?:not|never) be (?:left out|omitted|skipped|missing|dropped)\b|\bis not optional\b"
    rf"|\b(?:belongs to|is part of|is needed (?:for|by|in)) (?:every|each|any)\b",
    re.IGNORECASE,
)
_REFUSED = Pattern(
    r"\b(?:is|are|gets?|will be) (?:refused|rejected|declined|turned (?:down|away)|sent back|"
    r"not (?:accepted|booked|made|sent|taken|done|stored|processed|possible|carried out))\b"
    r"|\bfails?\b|\ban? error\b"
    r"|\bnothing (?:goes|happens|works|comes (?:about|of)|is (?:booked|sent|made|done|stored|ordered))\b"
    r"|\bno \w+ (?:comes? (?:about|of)|goes (?:out|through|ahead)|"
    r"is (?:made|booked|placed|opened|sent|accepted|possible))\b"
    r"|\b(?:cannot|can not|can['’]t)\b|\bimpossible\b",
    re.IGNORECASE,
)
_CONDITION = Pattern(rf"\s*{_WHEN}\b", re.IGNORECASE)
_ADDED = Pattern(
    r"\b(?:add|append|prepend|insert|create|generate|make)(?:e?s|e?d)?\b|\bmade\b", re.IGNORECASE
)
"""It is not the parameter that is missing: "adds the ending if missing"."""
_ONLY_THEN = Pattern(rf"\b(?:only {_WHEN}|unless|or one of|at least one|either)\b", re.IGNORECASE)


_ONE_OF = Pattern(
    r"[\s*_:]*(?:either\b|(?:exactly |at least )?one of\b|"
    r"(?:an? |the )?[`'\"*_]?[\w-]+[`'\"*_]? or (?:an? |the )?[`'\"*_]?[\w-]+[`'\"*_])",
    re.IGNORECASE,
)
"""Not this one must be given, but one of several."""


class Said(NamedTuple):
    """``may`` where it may be left out, ``must`` where it must be given, and where the text says so."""

    how: Literal["may", "must"]
    start: int
    end: int


def said_of_leaving_out(text: str) -> Said | None:
    """Return what a text says first of leaving out what it describes, or None."""
    for sentence, start in sentences(text):
        if (found := _MUST.search(sentence)) and not (
            _CONDITION.match(sentence) or _ONE_OF.match(sentence, found.end())
        ):
            return Said("must", start + found.start(), start + found.end())
        if found := _MAY.search(sentence):
            return Said("may", start + found.start(), start + found.end())
        if (found := _LEFT_OUT.search(sentence)) and not _tells_of_another(sentence, found):
            how: Literal["may", "must"] = "must" if _REFUSED.search(sentence) else "may"
            return Said(how, start + found.start(), start + found.end())
    return None


def _tells_of_another(sentence: str, found: re.Match[str]) -> bool:
    broken_off = not sentence[found.end() :].strip(", ") and sentence.rstrip().endswith(",")
    return broken_off or bool(_ONLY_THEN.search(sentence) or _ADDED.search(sentence[: found.start()]))
