"""What introduces a thing and says nothing of it, and ways of writing that are read as one."""

from __future__ import annotations

import re

from tallshelf.core.words.pattern import Pattern

_BEGINS = r"(?m)(?:^|(?<=[.!?] ))[ \t]*"
_FRAMES = Pattern(
    _BEGINS + r"(?:(?:please )?(?:note|be aware|keep in mind|bear in mind|mind)(?: that\b|:|,) ?|"
    r"(?:in short|basically|essentially|in essence|as the name says)[,:] ?|"
    r"(?:this (?:tool|function|method|endpoint|operation|command|call|action) |it )?"
    r"(?:(?:lets|allows|enables|helps) (?:you|one)(?: to)? |"
    r"(?:is )?(?:designed|intended|meant) to |makes it possible to |provides (?:a|the) (?:way|means) to )|"
    r"you can use (?:this|it)(?: tool)? to |(?:it'?s|it is) (?:fast|quick|easy|simple)"
    r"(?: and (?:fast|quick|easy|simple))?: )",
    re.IGNORECASE,
)
_WHICH = "first|last|latest|newest|oldest|older|newer|earlier|later|same|next|previous|other"
_OFTEN = Pattern(r"\b(hourly|daily|weekly|monthly|yearly|annual)\b", re.IGNORECASE)
_EVERY = {
    "hourly": "hour",
    "daily": "day",
    "weekly": "week",
    "monthly": "month",
    "yearly": "year",
    "annual": "year",
}
_REWRITTEN: tuple[tuple[str, Pattern, str], ...] = (
    ("e-mail", Pattern(r"\b([Ee])-(mail)"), r"\1\2"),
    ("either ", Pattern(r"\beither (?=[^.;\n]{1,80}\bor\b)", re.IGNORECASE), ""),
    (
        "if no ",
        Pattern(
            r"\bif no ((?:\w+ ){1,3}?)(?:is|are|was|were) (?:given|set|specified|provided|passed|supplied)\b",
            re.IGNORECASE,
        ),
        r"\1unless given",
    ),
    (
        "this ",
        Pattern(r"\bthis (?=(?:day|week|month|quarter|year|hour|minute)\b)", re.IGNORECASE),
        "the current ",
    ),
    ("between ", Pattern(r"\bbetween (\d[\d.,:]*) and (?=\d)", re.IGNORECASE), r"\1 to "),
    ("from ", Pattern(r"\bfrom (\d[\d.,:]*) (?:to|through|up to|until) (?=\d)", re.IGNORECASE), r"\1 to "),
    (" one", Pattern(rf"\b({_WHICH}|\w{{2,20}}ed) ones?\b"), r"\1"),
    (
        "mean",
        Pattern(r"\b(the|a) mean (?=of\b|over\b|per\b|\w+ing\b|\w+ of\b)", re.IGNORECASE),
        r"\1 average ",
    ),
    (
        "whether",
        Pattern(r"\b(?:looks? up|finds? out|sees?|tells?|says?|shows?|asks?) whether\b", re.IGNORECASE),
        "check whether",
    ),
    ("one ", Pattern(r"\bone (\w+) (?=(?:for each|for every|per|to each)\b)", re.IGNORECASE), r"a \1 "),
    (" one", Pattern(r"\bthe ones? (?=who\b|that\b|which\b)", re.IGNORECASE), ""),
    ("-", Pattern(r"(?<![\w.-])(\d{1,3})-(?=\d{1,4}\b(?![-./]))"), r"\1 to "),
    ("–", Pattern(r"(?<![\d.-])(\d{1,6}) ?– ?(?=\d{1,6}\b(?![-.]))"), r"\1 to "),
    ("..", Pattern(r"(?<![\d.-])(\d{1,6}) ?\.\.\.? ?(?=\d{1,6}\b(?![-.]))"), r"\1 to "),
)
"""What stands in a text that has such a way of writing, the way, and what is read in its place."""


def rewritten(text: str) -> str:
    """Return a text without what only introduces, and with one way of writing for what is written in several."""
    text = _FRAMES.sub("", text)
    small = text.lower()
    for sign, form, other in _REWRITTEN:
        if sign in small:
            text = form.sub(other, text)
    if "ly " in small or "annual " in small:
        text = _OFTEN.sub(lambda found: f"per {_EVERY[found[1].lower()]}", text)
    return text
