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
_COMPARED = "late|large|wide|close|rare|safe|wise|nice|fine|strange|simple"
_COUNTED = "one|entry|item|row|page|element|record|line|result|value|column|character|day|place|position"
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
        "up to and including",
        Pattern(_BEGINS + r"up to and including (?:this|that) (\w+)", re.IGNORECASE),
        r"last \1, inclusive",
    ),
    (
        " the ",
        Pattern(
            r"\b(?:in|over|during|within) the (\d+ \w+) (?:up to|until|before) (?:now|today|the present)\b",
            re.IGNORECASE,
        ),
        r"in the last \1",
    ),
    (
        " day",
        Pattern(r"\b(?:until|till|up to) (?:the (?:present|current) day|this very day)\b", re.IGNORECASE),
        "until today",
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
        "mean ",
        Pattern(
            _BEGINS + r"mean (?=[a-z]+(?: [a-z]+)? (?:of|over|in|at|per|during|for)\b|[a-z]+\W*$)",
            re.IGNORECASE,
        ),
        "average ",
    ),
    (
        " less ",
        Pattern(
            r"(?<=\w) less (?=(?:the|its|any) (?:old|first|second|other|previous|tax|fee|discount|deposit|cost)\w*\b)"
        ),
        " minus ",
    ),
    (
        "st ",
        Pattern(
            r"\b(?:of|in|over|within|during) the (last|past) (?=(?:hour|minute|second)\b(?! (?:of|in)\b))",
            re.IGNORECASE,
        ),
        r"in the \1 1 ",
    ),
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
    ("more ", Pattern(rf"\bmore ({_COMPARED})\b", re.IGNORECASE), r"\1r"),
    (
        "formerly",
        Pattern(r"\b[A-Z]\w+ \(formerly(?: called| known as)? ([A-Z]\w+)\)"),
        r"\1",
    ),
    (
        "first ",
        Pattern(
            rf"\b(?:the )?first (?:(?:{_COUNTED}) )?(?:has|is|gets|counts as)(?: (?:numbered|called))?"
            r"(?: (?:number|index|position))? (zero|one|0|1)\b",
            re.IGNORECASE,
        ),
        r"counted from \1",
    ),
    (
        "after tax",
        Pattern(
            r"\b(pay|salary|wages?|income|earnings) after tax(?:es)?(?: and (?:contributions|deductions))?\b",
            re.IGNORECASE,
        ),
        r"net \1",
    ),
    ("how much", Pattern(r"\bhow much (?=\w+ (?:is|are) (?:left|there)\b)", re.IGNORECASE), "how many "),
    ("in debt to", Pattern(r"\b(?:is|are) in debt to\b", re.IGNORECASE), "owes"),
    (
        "conflict",
        Pattern(r"\b(on conflict,? [^.;\n]{1,40}? )(?:is|are) (?:kept|retained|preserved)\b", re.IGNORECASE),
        r"\1wins",
    ),
    (
        " not ",
        Pattern(r"\b(?:does|do|did|will|would) not (?:pass|succeed)\b", re.IGNORECASE),
        "fails",
    ),
    ("make", Pattern(r"\bmakes? ((?:\w+ ){1,3}?)(fail|stop|wait|end)\b", re.IGNORECASE), r"\1\2s"),
    (
        " un",
        Pattern(
            r"\b(?:stays?|remains?|(?:is|are) left) un(read|marked|seen|paid|sold|sent)\b", re.IGNORECASE
        ),
        r"is not marked as \1",
    ),
    (
        "leave",
        Pattern(
            r"\bleaves? ((?:\w+ ){1,4}?)(?:as (?:it is|they are)|unchanged|untouched|intact|unaltered)\b",
            re.IGNORECASE,
        ),
        r"does not change \1",
    ),
    ("leave ", Pattern(r"\bleave ((?:\w+ ){1,5}?)out\b", re.IGNORECASE), r"leave out \1"),
    (
        "otherwise",
        Pattern(
            r"\bfalse (?:while|when|if|where) ([^,.;\n]{1,60}), (?:and )?true otherwise\b", re.IGNORECASE
        ),
        r"true unless \1",
    ),
    (
        " you ",
        Pattern(
            r"\b(?:give|pass|use|send|set|put|enter) (`?\w+`?) (?:when|if) you (?:want|need|wish|ask for|look for)\b",
            re.IGNORECASE,
        ),
        r"\1:",
    ),
    (" = ", Pattern(r"(?<=[\w`]) = (?=[a-z])"), ": "),
    (
        " any",
        Pattern(
            r"\b(not|never|no) ((?:\w+ ){0,3}?\w+ed) (?:to|by|for|from) any(?:one|body)\b", re.IGNORECASE
        ),
        r"\1 \2",
    ),
    (
        ": ",
        Pattern(
            r"\b((?:never|do not|don't) [^:.\n]{3,120}): (?=(?:the|it|they|this|that|these|those)\b)",
            re.IGNORECASE,
        ),
        r"\1, because ",
    ),
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
