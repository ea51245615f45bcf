"""Rules on tools that were pasted together: promises that no parameter keeps, a neighbour's parameters."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from tallshelf.core.snapshot import canonical
from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import tool, tools
from tallshelf.core.style.view import ItemView, Parameter
from tallshelf.core.words import sentence_words, stem, word_set
from tallshelf.core.words.lexicon import lemma, parts, synonyms

_OF_WHAT = re.compile(r"\b(?:name|number|id|identifier|code) of (?:the|a|an|one) (\w+)")
_ANY_THING = frozenset({"id", "name"})
_BY = re.compile(
    r"(?<!ed )(?<!en )(?<!aid )\bby (?:its |their |the |a |an |his |her |one )?([a-z][a-z-]+)(?: (number|name|id|code|date|day|address))?",
    re.IGNORECASE,
)
_ONE_THING = re.compile(
    r"\b(?:of|for|to|in|on|from|at) (?:an?|one|a (?:single|given)) ([a-z]{3,})\b(?! (?:of|by)\b)"
)
_KEY_OF = re.compile(
    r"(?:the )?(?:[a-z-]+ )?(?:name|number|id|identifier|code) of (?:the|a|an|one) ([a-z]+)|(?:the )?([a-z]+) (?:name|number|id|identifier|code)\b"
)
_NO_THING = word_set("time row call list page list set moment result")
_GOING_BY = word_set("get find look lookup fetch show retrieve search delete remove cancel update read open")
_NOT_BY = word_set(
    "its their index following searching using which whom whose what whatever whichever volume weight mass percent step default hand then now using means way far itself themselves sea land air rail road mail post email "
    "day night date time order one users user people server model length size"
)
_SAME_KEY = {
    word: line.split()[0]
    for line in (
        "id identifier number no code key ref reference slug",
        "name title",
        "mail email",
        "phone telephone",
        "date day",
        "vessel ship",
        "words word text query keyword keywords description",
    )
    for word in line.split()
}


def _pasted_promise(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        if "inputSchema" not in item.item.body or "$ref" in (item.item.body["inputSchema"] or ()):
            continue
        for promised, said in _promises(item):
            if not promised & _carried(item, promised):
                message = f"it promises to go {said}, and no parameter carries that"
                yield RuleHit(item.identity, "/inputSchema", message)
                break
        else:
            if chosen := _chosen_by_another(subject, item):
                message = "it speaks of one {}, and what it takes tells of another thing: `{}`".format(
                    *chosen
                )
                yield RuleHit(item.identity, "/inputSchema", message)


def _promises(item: ItemView) -> Iterator[tuple[set[str], str]]:
    """Yield what a name or a first sentence says that it goes by: its words, and how it is said."""
    if item.words[:1] in (("list",), ("count",), ("sort",), ("group",)) or "list" in item.words:
        return  # by what they are put in order
    if "by" in item.words[1:-1]:
        rest = item.words[item.words.index("by", 1) + 1 :]
        yield {_keyed(word) for word in rest if word not in ("and", "or")}, f"by {' '.join(rest)}"
    if not item.words or item.words[0] not in _GOING_BY:
        return
    sentence = re.split(r"(?<=[.;])\s", item.text.text, maxsplit=1)[0]
    match = _BY.search(sentence)
    if match and match.group(1).lower() not in _NOT_BY and not _step_by_step(sentence, match):
        yield {_keyed(word.lower()) for word in match.groups() if word}, match.group()


def _step_by_step(sentence: str, match: re.Match[str]) -> bool:
    """Whether the word before is the word after, as in "hour by hour"."""
    return sentence[: match.start()].split()[-1:] == [match.group(1)]


def _chosen_by_another(subject: Subject, item: ItemView) -> tuple[str, str] | None:
    """Return the one thing that a first sentence speaks of, and the parameter that tells of another instead.

    All that it must be given has to tell whose it is, none of what it may be given may tell of that thing, and the
    tool next door has to take the same for its own.
    """
    sentence = re.split(r"(?<=[.;])\s", item.text.text, maxsplit=1)[0].lower()
    things = [match.group(1) for match in _ONE_THING.finditer(sentence)]
    needed = [field for field in item.own if field.required] if things else []
    whose = [_whose(field) for field in needed]
    if not needed or not all(whose) or not _is_next_door(subject, item, needed[0], whose[0]):
        return None
    thing = things[-1]
    spoken = _forms_of((*sentence_words(sentence), *item.words))
    told = _forms_of(word for field in item.parameters for word in (*field.words, *field.text.words))
    if any(not _forms(word).isdisjoint(spoken) or synonyms(lemma(thing), lemma(word)) for word in whose):
        return None
    if thing in _NO_THING or not parts(lemma(thing)) or not _forms(thing).isdisjoint(told):
        return None
    return thing, needed[0].name


def _is_next_door(subject: Subject, item: ItemView, field: Parameter, thing: str) -> bool:
    """Whether another tool takes a parameter of that name, and speaks of what it is the key of."""
    return any(
        other is not item
        and any(own.name == field.name for own in other.own)
        and not _forms(thing).isdisjoint(_forms_of((*other.words, *other.text.words)))
        for other in subject.view.tools
    )


def _whose(field: Parameter) -> str:
    """Return the thing that a parameter's text says to be the key of, and its name alike; empty where it does not."""
    match = _KEY_OF.match(field.text.lower)
    thing = match and (match.group(1) or match.group(2))
    return thing if thing and not _forms(thing).isdisjoint(_forms_of(field.words)) else ""


def _forms_of(words: Iterable[str]) -> frozenset[str]:
    return frozenset(form for word in words for form in _forms(word))


def _forms(word: str) -> frozenset[str]:
    return frozenset((stem(word), lemma(word)))


def _keyed(word: str) -> str:
    bare = stem(word)
    return _SAME_KEY.get(word, _SAME_KEY.get(bare, bare))


def _carried(item: ItemView, promised: set[str]) -> set[str]:
    """Return the words that the parameters carry.

    A text that says "name of the quay" carries the name of a vessel only where it speaks of a vessel.
    """
    carried: set[str] = set()
    things = {stem(word) for word in item.words[1:]} - promised
    for field in item.parameters:
        carried |= {_keyed(word) for word in field.words}
        said = {_keyed(word) for word in field.text.words}
        whose = _OF_WHAT.search(field.text.lower)
        if whose and things and stem(whose.group(1)) not in things:
            said -= _ANY_THING
        carried |= said
    return carried


def _pasted_sibling(subject: Subject) -> Iterator[RuleHit]:
    """Find a tool whose schema is a sibling's, whose words its own texts never use."""
    alike: dict[tuple[str, ...], list[ItemView]] = {}
    for item in subject.view.tools:
        if len(item.own) >= 2:
            alike.setdefault(tuple(sorted(field.name for field in item.own)), []).append(item)
    groups: dict[bytes, list[ItemView]] = {}
    for item in (item for group in alike.values() if len(group) > 1 for item in group):
        groups.setdefault(canonical(item.item.body["inputSchema"]), []).append(item)
    for group in groups.values():
        scores = {item.identity: _affinity(item) for item in group} if len(group) > 1 else {}
        if max(scores.values(), default=0) < 1:
            continue
        best = max(group, key=lambda item: scores[item.identity])
        for item in group:
            if scores[item.identity] == 0:
                message = (
                    f"its parameters are those of `{best.name}`, and its own texts speak of none of them"
                )
                yield RuleHit(item.identity, "/inputSchema", message)


def _affinity(item: ItemView) -> int:
    """Count the parameters that the tool's own name and description share a word with."""
    said = {*item.text.stems, *(stem(word) for word in item.words)}
    return sum(bool(said & {*field.text.stems, *map(stem, field.words)}) for field in item.own)


RULES = (
    Rule(
        id="promise-without-parameter",
        family="schemas",
        covers=("pasted-schema",),
        level="warning",
        reason="A tool that promises to go by something it cannot be given was pasted together.",
        check=_pasted_promise,
        bad=tools(
            tool(
                "get_item",
                "Get one find by its number, with where it is kept.",
                day="Day it was found, such as 2026-06-01",
            )
        ),
        good=tools(
            tool(
                "get_item",
                "Get one find by its number, with where it is kept.",
                item_id="Number of the find, such as F-20",
            )
        ),
    ),
    Rule(
        id="pasted-schema",
        family="schemas",
        covers=("pasted-schema",),
        level="warning",
        reason="Parameters of the tool next door are filled, sent, and ignored.",
        check=_pasted_sibling,
        bad=tools(
            tool(
                "get_roster",
                "Get the roster of one crew and week.",
                crew="Number of the crew",
                week="Week of the year",
            ),
            tool(
                "get_fare",
                "Get what a crossing costs in euro.",
                crew="Number of the crew",
                week="Week of the year",
            ),
        ),
        good=tools(
            tool(
                "get_roster",
                "Get the roster of one crew and week.",
                crew="Number of the crew",
                week="Week of the year",
            ),
            tool(
                "get_leave", "Get the leave of one crew.", crew="Number of the crew", week="Week of the year"
            ),
        ),
    ),
)
