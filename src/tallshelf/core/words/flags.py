"""What a text says of yes and no: whether they are all that a value may be, or what some of its uses take."""

from __future__ import annotations

import re

from tallshelf.core.words.pattern import Pattern

_FOR_SOME = Pattern(
    r"\bif (?:the|it|this) [^.,]{1,40}, [^.]{0,40}\btrue\b[^.]{1,8}\bfalse\b|\btrue\b.{1,12}\bfalse\b[`'\"”]? for \w",
    re.IGNORECASE,
)


def is_flag_for_some(text: str) -> bool:
    """Whether yes and no are what some of the things take that a value is for: "true or false for checkboxes"."""
    return _FOR_SOME.search(text) is not None
