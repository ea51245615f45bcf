"""Reading the name of an item: its verb, the thing it is about, and what stands for its server only."""

from __future__ import annotations

from tallshelf.core.snapshot import Item
from tallshelf.core.words.classes import verb_class
from tallshelf.core.words.lexicon import base_forms, is_word
from tallshelf.core.words.lists import is_verb
from tallshelf.core.words.meaning import meaning, meanings
from tallshelf.core.words.split import stem, word_set

PREPOSITIONS = word_set("by for from in of on to with at into via as and or")
_EMPTY_TEXT = """
mcp server tool tools api data result results response item items thing object value values name id all
new my the a an do use using v1 v2 v3 v4 it this that and or full single multiple many one
"""
EMPTY = frozenset(map(stem, _EMPTY_TEXT.split()))
ABOUT = frozenset(["info", "detail", "metadata"])


def plurals(rest: tuple[str, ...], head: str) -> frozenset[str]:
    """Return the things that stand in the plural; "all" and its like put the head there."""
    many = {meaning(word) for word in rest if _is_plural(word)}
    return frozenset(many | {head}) if head and ALL & set(rest) else frozenset(many)


def _is_plural(word: str) -> bool:
    ends = word.endswith("s") and not word.endswith(("ss", "us", "is"))
    return ends and stem(word) != word and word not in _ONLY_PLURAL


_ONLY_PLURAL = frozenset(["contents", "details", "news", "goods", "means", "series", "whereabouts"])
ALL = frozenset(["all", "every", "batch", "bulk", "multiple", "many"])


def class_of(word: str) -> str | None:
    """Return the class of a verb in any of its forms, None for other words."""
    return verb_class(word) or verb_class(stem(word)) or verb_class(f"{stem(word)}e")


def called_of(item: Item) -> str:
    """What an item is called: the name of a tool, of a resource the name or the end of its address."""
    name = item.body.get("name")
    return name if isinstance(name, str) and name else item.name


def bare(
    words: tuple[str, ...], common: set[str], named: set[str]
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the words of a name without those that stand for its server, and those."""
    left, aside = list(words), []
    while len(left) > 1 and (_aside(left[0], named) or left[0] in common or _in_front(left)):
        aside.append(left.pop(0))
    while len(left) > 1 and _aside(left[-1], named) and not _is_only_thing(left):
        aside.append(left.pop())
    return tuple(left), tuple(aside)


def _is_only_thing(words: list[str]) -> bool:
    """Whether the last word alone says what it is about: ``cancel_booking`` of bookings, ``current_time`` of time."""
    if len(words) == 2:
        return not is_verb(words[0]) or any(map(is_word, base_forms(words[1])))
    return is_verb(words[0]) and _WHICH.issuperset(words[1:-1])


_WHICH = word_set("current all available existing latest last next new single many first")
"""Words before a thing that are none: of a time server's ``get_current_time`` it is about the time."""


def trailing(called: tuple[str, ...], words: tuple[str, ...]) -> tuple[str, ...]:
    """Return what was set aside at the end of a name, such as the source that a search is made in."""
    ends = len(called)
    while ends > 0 and called[ends - 1] != words[-1]:
        ends -= 1
    return called[ends:]


def without_unsaid(
    words: tuple[str, ...], sentence: tuple[str, ...]
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Set a first word aside that the text does not say, where a verb follows: ``desk_cancel``."""
    rest = words[1:]
    said = set(map(stem, sentence))
    if said and rest and _is_brand(words[0]) and stem(words[0]) not in said and any(map(is_verb, rest)):
        return rest, words[:1]
    return words, ()


def _is_brand(word: str) -> bool:
    return not is_verb(word) and meaning(word) == stem(word) and word not in ALL


def _aside(word: str, named: set[str]) -> bool:
    return word in ("mcp", "api", "tool") or (stem(word) in named and not is_verb(word))


def _in_front(words: list[str]) -> bool:
    """Whether a name begins with what is no verb of it, before a verb and its thing: ``desk_get_fare``."""
    if len(words) < 3 or verb_class(words[0]) is not None or words[1] in _NOUNS_TOO:
        return False
    return words[1] in _PLAIN_VERBS or (not is_verb(words[0]) and verb_class(words[1]) is not None)


def verb_of(words: tuple[str, ...]) -> tuple[str, tuple[str, ...]]:
    """Return the verb of a name, which stands in front or, in names such as issue_get, at the end."""
    if not words:
        return "", ()
    if len(words) > 1 and words[0] in _CARRIERS and verb_class(words[1]) and words[1] not in _NOUNS_TOO:
        return words[1], words[2:]
    first, last = words[0], words[-1]
    if last == "list" and len(words) > 2 and verb_class(first) == "read" and _is_plural(words[-2]):
        return last, words[1:-1]
    if verb_class(first) and (first not in _NOUNS_TOO or len(words) == 1):
        return first, words[1:]
    if len(words) > 1 and verb_class(last) and last not in _NOUNS_TOO:
        return last, words[:-1]
    if last in _ENDS_A_THING or (len(words) == 1 and _is_plural(first) and not verb_class(stem(first))):
        return "", words
    return (first, words[1:]) if is_verb(first) or len(words) == 1 else ("", words)


_ENDS_A_THING = frozenset(["details", "info", "information", "metadata", "status", "statistics", "stats"])
"""What a name ends with that is a thing as a whole: ``place_details`` places nothing."""
_PLAIN_VERBS = frozenset(["get", "list", "search", "find", "read", "create", "update", "delete"])
_CARRIERS = frozenset(["run", "execute", "do", "make", "perform", "start"])
EMPTY_VERBS = frozenset(["take", "make", "do", "perform", "execute", "capture", "apply", "handle"])


_NOUNS_TOO = word_set(
    "view filter post issue file book load order total plan change match set test run all label notice record"
    " report review log schedule message call email comment note tag branch commit display release stage"
)


def head_of(rest: tuple[str, ...]) -> str:
    """Return the thing that a name is about: the last before a preposition."""
    kept: list[str] = []
    for word in rest:
        if word in PREPOSITIONS and kept:
            break
        if word not in PREPOSITIONS and stem(word) not in EMPTY:
            kept.append(word)
    found = [meaning for meaning in meanings(tuple(kept)) if meaning not in ABOUT] if kept else []
    return found[-1] if found else ""
