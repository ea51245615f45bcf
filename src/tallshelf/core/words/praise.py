"""Words that sell and say nothing: of what the tool does they tell no more than their absence."""

from __future__ import annotations

import re

from tallshelf.core.words.pattern import Pattern

SELLING = Pattern(
    r"\b(?:world[- ]class|revolutionary|cutting[- ]edge|best[- ]in[- ]class|state[- ]of[- ]the[- ]art|unparalleled|"
    r"amazing(?:ly)?|awesome|incredibl[ey]|blazing(?:ly)?[- ]fast|lightning[- ]fast|game[- ]chang(?:er|ing)|"
    r"seamless(?:ly)?|effortless(?:ly)?|next[- ]generation|supercharge[sd]?|unleash(?:es)?|the (?:best|ultimate|most "
    r"(?:powerful|advanced|accurate|reliable)) (?:\w+ )?(?:tool|way|choice|option|search|solution))\b",
    re.IGNORECASE,
)
SOFT_SELLING = Pattern(
    r"\b(?:powerful|easy[- ]to[- ]use|robust|comprehensive|superior|smart(?:ly)?)\b", re.IGNORECASE
)
_AROUND = Pattern(
    r"\b(?:award[- ]winning|industry[- ]leading|market[- ]leading|trusted by [\w, ]{3,40}?(?:users|customers|teams|"
    r"companies|developers|people)|in no time|(?:with|at) (?:zero|no) (?:hassle|effort)|hassle[- ]free|"
    r"(?:with |and )*(?:full |total |complete |100 ?% )?peace of mind|user[- ]friendly)\b|"
    r"^(?:the )?world['’]s (?:best|leading|finest|fastest|favou?rite) [^:.\n]{1,80}: |"
    r"\bnever (?:lose|miss|forget|worry|struggle|search|hunt|wait|wonder|waste)\b[^.!?\n]{0,60} again!",
    re.IGNORECASE,
)


def without_praise(text: str) -> str:
    """Return a text without the words that only sell."""
    for form in (_AROUND, SELLING, SOFT_SELLING):
        text = form.sub(" ", text)
    return text
