"""Verbs that do the same kind of work, and kinds of work that are opposed."""

from __future__ import annotations

VERB_CLASSES: dict[str, frozenset[str]] = {
    name: frozenset(words.split())
    for name, words in {
        "read": "get fetch read retrieve show view load lookup look describe inspect open",
        "list": "list enumerate browse all",
        "find": "find search query filter locate match discover",
        "create": "create add insert new make register open book file enrol issue post write",
        "change": "update edit change modify set patch rename move assign amend adjust replace",
        "remove": "delete remove drop erase purge clear destroy",
        "stop": "cancel stop end close abort release revoke suspend withdraw void",
        "start": "start begin launch run execute trigger resume",
        "send": "send notify publish announce email dispatch submit broadcast",
        "check": "check validate verify test confirm",
        "count": "count sum total summarise summarize calculate compute estimate convert plan",
        "import": "import upload ingest",
        "export": "export download",
    }.items()
}
_CLASS_OF = {word: name for name, words in reversed(VERB_CLASSES.items()) for word in words}
_WRITING = frozenset({"create", "change", "remove", "stop", "start", "send", "import"})
_OPPOSED = frozenset(
    {
        frozenset({"create", "remove"}),
        frozenset({"create", "stop"}),
        frozenset({"start", "stop"}),
        frozenset({"import", "export"}),
    }
)


def verb_class(word: str) -> str | None:
    """Return the class of a verb, or None when the word is no verb that we know."""
    return _CLASS_OF.get(word)


def writes(verb: str) -> bool:
    """Whether a verb's class changes something."""
    return verb_class(verb) in _WRITING


def opposed(left: str | None, right: str | None) -> bool:
    """Whether two classes of verbs undo each other, or one reads what the other writes."""
    if left is None or right is None or left == right:
        return False
    return frozenset({left, right}) in _OPPOSED or (left in _WRITING) != (right in _WRITING)
