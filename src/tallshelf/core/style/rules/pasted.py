"""Rules on tools that were pasted together: promises that no parameter keeps, a neighbour's parameters."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping

from tallshelf.core.snapshot import canonical
from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import tool, tools
from tallshelf.core.style.view import ItemView, Parameter
from tallshelf.core.words.classes import opposed, verb_class
from tallshelf.core.words.lexicon import lemma, parts, synonyms
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import sentence_words, stem, word_set

_OF_WHAT = Pattern(r"\b(?:name|number|id|identifier|code) of (?:the|a|an|one) (\w+)")
_ARRANGING = Pattern(
    r"\b(?:group|count|sort|order|rank|aggregate|sum|total|split)(?:s|ed|ing)?\b", re.IGNORECASE
)
"""What is put in order or added up by something may be so by what it is itself."""
_ANY_THING = frozenset({"id", "name"})
_BY = Pattern(
    r"(?<!ed )(?<!en )(?<!aid )\bby (?:its |their |the |a |an |his |her |one )?(?:optional |given |specified |chosen |certain |particular |own |exact |full )?([a-z][a-z-]+)(?: (number|name|id|code|date|day|address))?",
    re.IGNORECASE,
)
_ONE_THING = Pattern(
    r"\b(?:of|for|to|in|on|from|at) (?:an?|one|a (?:single|given)) ([a-z]{3,})\b(?! (?:of|by)\b)"
)
_KEY_OF = Pattern(
    r"(?:the )?(?:[a-z-]+ )?(?:name|number|id|identifier|code) of (?:the|a|an|one) ([a-z]+)|(?:the )?([a-z]+) (?:name|number|id|identifier|code)\b"
)
_NO_THING = word_set("time row call list page list set moment result")
_GOING_BY = word_set("get find look lookup fetch show retrieve search delete remove cancel update read open")
_NOT_BY = word_set(
    "zero-based one-based its their index following searching using which whom whose what whatever whichever volume weight mass percent step default hand then now using means way far itself themselves sea land air rail road mail post email "
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
    keys = _keys(subject)
    for item in subject.view.tools:
        if "inputSchema" not in item.item.body or "$ref" in (item.item.body["inputSchema"] or ()):
            continue
        for promised, said in _promises(item):
            if not promised & _carried(item, promised):
                message = f"it promises to go {said}, and no parameter carries that"
                yield RuleHit(item.identity, "/inputSchema", message)
                break
        else:
            if told := _takes_too_little(item, keys):
                yield RuleHit(item.identity, "/inputSchema", told)
            elif chosen := _chosen_by_another(subject, item):
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
    if (
        match
        and match.group(1).islower()
        and not match.group(1).endswith("ing")
        and match.group(1) not in _NOT_BY
        and not _step_by_step(sentence, match)
        and not _ARRANGING.search(sentence[: match.start()])
    ):
        said = (part for word in match.groups() if word for part in word.lower().split("-"))
        yield {_keyed(word) for word in said}, match.group()


def _step_by_step(sentence: str, match: re.Match[str]) -> bool:
    """Whether the word before is the word after, as in "hour by hour"."""
    return sentence[: match.start()].split()[-1:] == [match.group(1)]


def _takes_too_little(item: ItemView, keys: Mapping[str, set[str]]) -> str:
    """Say what a first sentence needs more of than its parameters carry: two ends, two things, one that is given."""
    sentence = re.split(r"(?<=[.;])\s", item.text.text, maxsplit=1)[0]
    words = [set(field.words) for field in item.parameters]
    ends, spans = (sum(not one.isdisjoint(which) for one in words) for which in (_ENDS, _SPANS))
    if _BETWEEN.search(sentence) and ends < 2 and not spans:
        return "it speaks of two ends, and takes no two"
    two = _TWO.search(sentence)
    only = item.own[0] if len(item.own) == 1 else None
    if two and only and not only.types & {"array", "object"} and not only.name.lower().endswith("s"):
        return f"it is to {two.group(1).lower()} two, and takes one"
    given = _GIVEN.search(sentence)
    if given and not {_keyed(given.group(1))} & _carried(item, {_keyed(given.group(1))}):
        return f"it speaks of a given {given.group(1)}, and no parameter carries one"
    for thing in _FOR_ONE.findall(sentence):
        elsewhere = set().union(*(keys.get(form, set()) for form in _forms(thing))) - {item.identity}
        if elsewhere and not _forms_of(item.own_words) & _forms(thing):
            return f"it speaks of one {thing}, and no parameter says which"
    return ""


def _keys(subject: Subject) -> dict[str, set[str]]:
    """Return, by the words of parameters that must be given, the tools that take them."""
    keys: dict[str, set[str]] = {}
    for item in subject.view.tools:
        for field in item.own:
            for form in _forms_of(field.words) if field.required else ():
                keys.setdefault(form, set()).add(item.identity)
    return keys


_BETWEEN = Pattern(r"\bbetween two (?:times|dates|days|moments|points in time|hours|months)\b", re.IGNORECASE)
_ENDS = word_set("from to since until till start end begin after before first last of through by at")
_SPANS = word_set("range period interval window span times dates days between")
_TWO = Pattern(r"^(compares?|merges?|swaps?|matches|match|diffs?|joins?) (?:the )?two\b", re.IGNORECASE)
_GIVEN = Pattern(
    r"\b(?:at|under) (?:an? |the )(?:given|chosen|certain|particular) (?!time|date|moment|point|place|position|location|address|index|url|path|stage|state)([a-z]{3,})\b"
)
_FOR_ONE = Pattern(r"\b(?:for|of|in) one ([a-z]{3,})\b")


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
    if "name" in promised and any(_keyed(word) == "words" for field in item.own for word in field.words):
        carried.add("name")  # what is asked for may be a name
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
        if len(group) >= _MANY_ALIKE:
            continue  # what so many take is how things are named there
        for item in group:
            if scores[item.identity] == 0 and not _makes_or_changes_it(item, best):
                message = (
                    f"its parameters are those of `{best.name}`, and its own texts speak of none of them"
                )
                yield RuleHit(item.identity, "/inputSchema", message)
    yield from _other_act(subject)


_MANY_ALIKE = 4


def _makes_or_changes_it(item: ItemView, other: ItemView) -> bool:
    """Whether one makes the thing that the other changes: both take all of it."""
    acts = {verb_class(one.words[0]) for one in (item, other) if one.words}
    return item.words[1:] == other.words[1:] and acts <= {"create", "change"}


def _other_act(subject: Subject) -> Iterator[RuleHit]:
    """Find a parameter that tells of an act which is another tool's, or undoes what the tool does: the guild to join."""
    acts = {word for item in subject.view.tools for word in item.words[:1]}
    for item in subject.view.tools:
        does = verb_class(item.words[0]) if item.words else None
        for field in item.own:
            told = _TO_DO.match(field.text.text)
            act = lemma(told.group(1).lower()) if told else ""
            if (
                not act
                or act in _LIGHT_ACTS
                or verb_class(act) == does
                or act in map(lemma, (*item.words, *item.text.words))
            ):
                continue
            if act in acts or (does in _WRITING and opposed(does, verb_class(act))):
                message = f"`{field.name}` is told to be there to {act}, which is not what this tool does"
                yield RuleHit(item.identity, "/inputSchema", message)
                break


_LIGHT_ACTS = word_set("set use")
_WRITING = frozenset({"create", "change", "remove", "stop", "start", "send"})
_TO_DO = Pattern(r"(?:[A-Z][a-z]+ )(?:[a-z]+ ){0,3}to ([a-z]+)\.?$")


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
