"""What an item is compared by: its name, its text and its parameters, in words that stand for the same."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from tallshelf.core.snapshot import Item, digest
from tallshelf.core.words import (
    VERB_CLASSES,
    is_stop_word,
    is_verb,
    meaning,
    meanings,
    sentence_words,
    split_identifier,
    stem,
    verb_class,
    word_set,
)

METHOD = 1
"""Which way of making profiles this is; stored ones made otherwise are made anew."""
_MOST_WORDS = 60
_LATER = 0.25
_MODIFIER = 0.8
_VERB = 0.5
_OWN_VERB = 1.0
_ASIDE = 0.2
_GUESSED = (0.7, 0.25)
_WHOLE = 0.6
_OPTIONAL = 0.6
_SIDELINE = 0.35
_SHARED_BY = 0.6
_ENOUGH = 3
_SECTIONS = re.compile(
    r"^\s*(?:#+\s*)?(?:args?|arguments|param(?:eter)?s?|returns?|raises|examples?|notes?|usage|inputs?|outputs?"
    r"|response|warnings?|tips?)\b[^.\n]{0,20}:|<\w+>|```|^\s*(?:when|how) to use\b",
    re.IGNORECASE | re.MULTILINE,
)
_SENTENCE = re.compile(r"[.!?:;](?:\s|$)|\n")
_VARIABLES = re.compile(r"\{[+#./;?&]?([^{}]{1,200})\}")
_MIDDLE = re.compile(r"(?<=[a-z,] )[A-Za-z]{3,}\b")
_PREPOSITIONS = word_set("by for from in of on to with at into via as and or")
_EMPTY_TEXT = """
mcp server tool tools api data result results response item items thing object value values name id all
new my the a an do use using v1 v2 v3 v4 it this that and or full single multiple
"""
_EMPTY = frozenset(map(stem, _EMPTY_TEXT.split()))
_WEAK_TEXT = """
tool server api data information detail specific specified given provide provided support optional option
default result response request name id type value multiple including include based new existing item object
full available allow need want call return list get make helpful format field output input content text
number set within about also only such user please must should may via query parameter help useful enable
perform access current specify different other another any them between across through while either both
per each every more most
"""
_WEAK = frozenset(map(meaning, _WEAK_TEXT.split()))
_ABOUT = frozenset(["info", "detail", "metadata"])
_ABOUT_WEIGHT = 0.4
_WEAK_WEIGHT = 0.3
_SAME_PARAMETERS = {
    "query": "query q search term keyword searchterm text query_string search_query keywords terms prompt question",
    "limit": "limit max_result num_result count num top_k page_size per_page size n max first number_of_result"
    " max_count maximum_result result_limit top maxresult",
    "page": "page offset cursor skip start page_token after page_number start_index start_cursor startat",
    "path": "path file file_name filename filepath file_path relative_path",
    "url": "url uri link href",
    "text": "message content body text",
    "lat": "lat latitude",
    "lng": "lng lon long longitude",
    "timezone": "tz timezone time_zone",
    "symbol": "symbol ticker",
    "sort": "sort sort_by order order_by sort_order",
    "format": "format output_format response_format",
    "to": "to recipient recipient_email",
}
_PARAMETERS = {word: key for key, words in _SAME_PARAMETERS.items() for word in words.split()}
_SIDELINES = frozenset(
    {"limit", "page", "sort", "format", "timeout", "field", "language", "verbose", "dry run"}
)
_NAMING = frozenset(map(stem, word_set("id ids key number no slug identifier iid uuid name names code ref")))


@dataclass(frozen=True, eq=False)
class Profile:
    """One item as it is compared.

    ``verb`` is the class of its verb, or the verb itself, ``verb_word`` the word as
    written; ``things`` the other words of its name;
    ``head`` the thing it is about; ``many`` those that stand in the plural; ``first`` the words of
    the first sentence of its text. ``name`` and
    ``text`` weigh words before rarity; ``parameters`` gives, by what a parameter stands for, its
    type and whether it is required; ``results`` the fields of its result. ``writes`` is what its
    annotations say, None where they say nothing. ``basis`` is the digest of all that is compared,
    whatever else the server offers. ``brand`` holds proper
    names that end its name. ``said`` gives the word as written where it stands for another.
    """

    kind: str
    verb: str | None
    verb_word: str
    things: tuple[str, ...]
    head: str
    many: frozenset[str]
    first: frozenset[str]
    name: Mapping[str, float]
    text: Mapping[str, float]
    parameters: Mapping[str, tuple[str, bool]]
    results: frozenset[str]
    writes: bool | None
    takes: Mapping[str, str]
    basis: str
    brand: frozenset[str]
    said: Mapping[str, str]

    def document(self) -> dict[str, Any]:
        """Return the profile as a JSON object."""
        return {
            "kind": self.kind,
            "verb": self.verb,
            "verb_word": self.verb_word,
            "things": list(self.things),
            "head": self.head,
            "many": sorted(self.many),
            "first": sorted(self.first),
            "name": dict(self.name),
            "text": dict(self.text),
            "parameters": {key: list(value) for key, value in self.parameters.items()},
            "results": sorted(self.results),
            "writes": self.writes,
            "takes": dict(self.takes),
            "basis": self.basis,
            "brand": sorted(self.brand),
            "said": dict(self.said),
        }

    @cached_property
    def does(self) -> frozenset[str]:
        """The classes of verbs that its name or the first sentence of its text says."""
        found = {_class_of(word) for word in self.first}
        return frozenset(one for one in (self.verb, *found) if one)

    @cached_property
    def named(self) -> frozenset[str]:
        """The things that its name says, none where they were guessed from the text."""
        return frozenset(self.things) if self.head else frozenset()

    @cached_property
    def explained(self) -> frozenset[str]:
        """The words that its name or its text says."""
        return frozenset({*self.things, *self.first, stem(self.verb_word)})

    @cached_property
    def words(self) -> frozenset[str]:
        """All words of the name, for opposites."""
        return frozenset({stem(self.verb_word), *self.things})


def profile_from(document: Mapping[str, Any]) -> Profile:
    """Return the profile that its `document` wrote."""
    return Profile(
        kind=document["kind"],
        verb=document["verb"],
        verb_word=document["verb_word"],
        things=tuple(document["things"]),
        head=document["head"],
        many=frozenset(document["many"]),
        first=frozenset(document["first"]),
        name=document["name"],
        text=document["text"],
        parameters={key: (kind, needed) for key, (kind, needed) in document["parameters"].items()},
        results=frozenset(document["results"]),
        writes=document["writes"],
        takes=document["takes"],
        basis=document["basis"],
        brand=frozenset(document["brand"]),
        said=document["said"],
    )


def profiles(items: Sequence[Item], server_name: str = "") -> list[Profile]:
    """Return the profiles of the items of one server, in their order.

    Words that names of the server have in front of their verb, and those of the server's own name,
    say little of a job and are set aside.
    """
    named = {stem(word) for word in split_identifier(server_name)} - _EMPTY
    split = [split_identifier(item.name) for item in items if item.kind == "tool"]
    first = Counter(words[0] for words in split if len(words) > 1)
    before_verb = Counter(words[0] for words in split if len(words) > 1 and is_verb(words[1]))
    common = {
        word
        for word, many in first.items()
        if verb_class(word) is None
        and many >= _ENOUGH
        and (many >= _SHARED_BY * len(split) or before_verb[word] >= _SHARED_BY * many)
    }
    return [_profile(item, common, named) for item in items]


def _profile(item: Item, common: set[str], named: set[str]) -> Profile:
    proper = _proper_names(item.description)
    sentence, text = _text(item.description, proper)
    called = split_identifier(_called(item))
    words, aside = _bare(called, common, named | proper)
    brand = {stem(word) for word in _trailing(called, words)} - named
    words, more = _unsaid(words, sentence)
    aside += more
    verb_word, rest = _verb(words)
    if not verb_word and sentence and _class_of(sentence[0]):
        verb_word = sentence[0]
    verb = _class_of(verb_word) or (stem(verb_word) or None)
    if (verb_word, True) in (("add", "to" in rest), ("remove", "from" in rest)):
        # To add something to another makes nothing new.
        verb = f"{verb_word} to another"
    first = meanings(sentence)
    things = tuple(one for one in meanings(rest) if one not in _EMPTY and one not in _PREPOSITIONS)
    head = _head(rest)
    guessed = not things
    if guessed:
        # A name that says only what is done, such as "search": the first words of the text say to what.
        things = tuple(one for one in first[1:] if _tells(one))[:2]
    return Profile(
        kind=item.kind,
        verb=verb,
        verb_word=verb_word,
        things=things,
        head=head,
        many=_plurals(rest, head),
        first=frozenset(first),
        name=_name_weights(words, verb, things, head, aside, guessed),
        text=text,
        parameters=_parameters(item),
        results=_results(item),
        writes=_writes(item),
        takes=_shown(item),
        basis=_basis(item),
        brand=frozenset(brand),
        said=_said((*words, *_plain(item.description)), {*things, *text}),
    )


def _plurals(rest: tuple[str, ...], head: str) -> frozenset[str]:
    """Return the things that stand in the plural; "all" and its like put the head there."""
    many = {meaning(word) for word in rest if _is_plural(word)}
    return frozenset(many | {head}) if head and _ALL & set(rest) else frozenset(many)


def _is_plural(word: str) -> bool:
    ends = word.endswith("s") and not word.endswith(("ss", "us", "is"))
    return ends and stem(word) != word and word not in _ONLY_PLURAL


_ONLY_PLURAL = frozenset(["contents", "details", "news", "goods", "means", "series", "whereabouts"])
_ALL = frozenset(["all", "every", "batch", "bulk", "multiple", "many"])


def _class_of(word: str) -> str | None:
    return verb_class(word) or verb_class(stem(word)) or verb_class(f"{stem(word)}e")


def _said(words: Iterable[str], meant: set[str]) -> dict[str, str]:
    """Return the first word that was written for each meaning that is not itself a word written."""
    said: dict[str, str] = {}
    for word in words:
        found = meaning(word)
        if found in meant and found != word:
            said.setdefault(found, word)
    return said


def _tells(word: str) -> bool:
    return not (word in _WEAK or is_stop_word(word) or verb_class(word) or verb_class(f"{word}e"))


def _called(item: Item) -> str:
    """What an item is called: the name of a tool, of a resource the name or the end of its address."""
    name = item.body.get("name")
    return name if isinstance(name, str) and name else item.name


def _bare(
    words: tuple[str, ...], common: set[str], named: set[str]
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the words of a name without those that stand for its server, and those."""
    left, aside = list(words), []
    while len(left) > 1 and (_aside(left[0], named) or left[0] in common or _in_front(left)):
        aside.append(left.pop(0))
    while len(left) > 1 and _aside(left[-1], named):
        aside.append(left.pop())
    return tuple(left), tuple(aside)


def _trailing(called: tuple[str, ...], words: tuple[str, ...]) -> tuple[str, ...]:
    """Return what was set aside at the end of a name, such as the source that a search is made in."""
    ends = len(called)
    while ends > 0 and called[ends - 1] != words[-1]:
        ends -= 1
    return called[ends:]


def _unsaid(words: tuple[str, ...], sentence: tuple[str, ...]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Set a first word aside that the text does not say, where a verb follows: ``desk_cancel``."""
    rest = words[1:]
    said = set(map(stem, sentence))
    if said and rest and _is_brand(words[0]) and stem(words[0]) not in said and any(map(is_verb, rest)):
        return rest, words[:1]
    return words, ()


def _is_brand(word: str) -> bool:
    return not is_verb(word) and meaning(word) == stem(word) and word not in _ALL


def _proper_names(description: str) -> frozenset[str]:
    """Return the stems of words that a text writes with a capital in the middle of its sentences."""
    plain, proper = set(), set()
    for word in _MIDDLE.finditer(description):
        text = word.group()
        if text[:1].isupper() and not text.isupper():
            proper.add(stem(text.lower()))
        else:
            plain.add(stem(text.lower()))
    found = proper - plain
    return frozenset(found) if len(found) * 3 <= len(plain) else frozenset()


def _aside(word: str, named: set[str]) -> bool:
    return word in ("mcp", "api", "tool") or (stem(word) in named and not is_verb(word))


def _in_front(words: list[str]) -> bool:
    """Whether a name begins with what is no verb of it, before a verb and its thing: ``desk_get_fare``."""
    if len(words) < 3 or verb_class(words[0]) is not None or words[1] in _NOUNS_TOO:
        return False
    return words[1] in _PLAIN_VERBS or (not is_verb(words[0]) and verb_class(words[1]) is not None)


def _verb(words: tuple[str, ...]) -> tuple[str, tuple[str, ...]]:
    """Return the verb of a name, which stands in front or, in names such as issue_get, at the end."""
    if not words:
        return "", ()
    if len(words) > 1 and words[0] in _CARRIERS and verb_class(words[1]) and words[1] not in _NOUNS_TOO:
        return words[1], words[2:]
    first, last = words[0], words[-1]
    if verb_class(first) and (first not in _NOUNS_TOO or len(words) == 1):
        return first, words[1:]
    if len(words) > 1 and verb_class(last) and last not in _NOUNS_TOO:
        return last, words[:-1]
    return (first, words[1:]) if is_verb(first) or len(words) == 1 else ("", words)


_PLAIN_VERBS = frozenset(["get", "list", "search", "find", "read", "create", "update", "delete"])
_CARRIERS = frozenset(["run", "execute", "do", "make", "perform", "start"])
EMPTY_VERBS = frozenset(["take", "make", "do", "perform", "execute", "capture", "apply", "handle"])


_NOUNS_TOO = word_set(
    "view filter post issue file book load order total plan change match set test run all label notice record"
    " report review log schedule message call email comment note tag branch commit display release stage"
)


def _head(rest: tuple[str, ...]) -> str:
    """Return the thing that a name is about: the last before a preposition."""
    kept: list[str] = []
    for word in rest:
        if word in _PREPOSITIONS and kept:
            break
        if word not in _PREPOSITIONS and stem(word) not in _EMPTY:
            kept.append(word)
    found = [one for one in meanings(tuple(kept)) if one not in _ABOUT] if kept else []
    return found[-1] if found else ""


def _name_weights(
    words: tuple[str, ...],
    verb: str | None,
    things: tuple[str, ...],
    head: str,
    aside: tuple[str, ...],
    guessed: bool,
) -> dict[str, float]:
    weights = {stem(word): _ASIDE for word in aside if stem(word) not in _EMPTY}
    if guessed:
        weights |= dict(zip(things, _GUESSED, strict=False))
        weights[f"={' '.join(map(stem, words))}"] = _WHOLE
    else:
        weights |= {
            word: 1.0 if word == head else _ABOUT_WEIGHT if word in _ABOUT else _MODIFIER for word in things
        }
    if verb and verb not in EMPTY_VERBS:
        weights |= {f"({_near(verb)})": _VERB} if verb in VERB_CLASSES else {verb: _OWN_VERB}
    return weights


def _near(verb: str | None) -> str:
    """Reading one, listing and finding are near enough for two names to share them."""
    return "look" if verb in ("read", "find", "list", "check") else str(verb)


def _text(description: str, proper: frozenset[str]) -> tuple[tuple[str, ...], dict[str, float]]:
    """Return the words of the first sentence, and the weight of each word of a description."""
    said = _SECTIONS.split(description.strip(), maxsplit=1)[0] or description
    cut = _SENTENCE.search(said)
    ends = cut.start() if cut and cut.start() > 12 else len(said)
    first = _plain(said[:ends])
    weights: dict[str, float] = {}
    for words, weight in ((first, 1.0), (_plain(said[ends:])[:_MOST_WORDS], _LATER)):
        content = tuple(word for word in words if not is_stop_word(word) and len(word) > 1)
        for number, word in enumerate(meanings(content[:_MOST_WORDS])):
            kind = verb_class(word) or verb_class(f"{word}e")
            if number == 0 and weight == 1.0 and kind:
                word = f"({_near(kind)})"
            weak = word in _WEAK or word in proper or word.startswith("(")
            scaled = weight * (_WEAK_WEIGHT if weak else 1.0)
            weights[word] = max(weights.get(word, 0.0), scaled)
    return first, weights


def _plain(text: str) -> tuple[str, ...]:
    return tuple(word.removesuffix("'s").removesuffix("’s") for word in sentence_words(text))


def _parameters(item: Item) -> dict[str, tuple[str, bool]]:
    if item.kind == "prompt":
        listed = item.body.get("arguments")
        return {
            parameter_key(one["name"]): ("string", one.get("required") is True)
            for one in (listed if isinstance(listed, list) else ())
            if isinstance(one, dict) and isinstance(one.get("name"), str)
        }
    if item.kind == "template":
        written = item.body.get("uriTemplate")
        found = _VARIABLES.findall(written) if isinstance(written, str) else []
        names = [name for one in found for name in one.split(",")]
        return {parameter_key(name.partition(":")[0].rstrip("*")): ("string", False) for name in names}
    schema = item.body.get("inputSchema")
    required = schema.get("required") if isinstance(schema, dict) else None
    needed = set(map(str, required)) if isinstance(required, list) else set()
    return {
        parameter_key(name): (_type(child), name in needed) for name, child in _properties(schema).items()
    }


def _shown(item: Item) -> dict[str, str]:
    """Return the parameters as they are called, by what they stand for."""
    listed = item.body.get("arguments") if item.kind == "prompt" else None
    if isinstance(listed, list):
        names = [one["name"] for one in listed if isinstance(one, dict) and isinstance(one.get("name"), str)]
    else:
        names = list(_properties(item.body.get("inputSchema")))
    return {parameter_key(name): name for name in names}


def _properties(schema: Any) -> Mapping[str, Any]:
    found = schema.get("properties") if isinstance(schema, dict) else None
    return found if isinstance(found, dict) else {}


def parameter_key(name: str) -> str:
    """Return what a parameter stands for: ``issue_number`` and ``issueKey`` are the issue."""
    words = split_identifier(name)
    whole = "_".join(map(stem, words))
    if whole in _PARAMETERS:
        return _PARAMETERS[whole]
    kept = list(words)
    while len(kept) > 1 and stem(kept[-1]) in _NAMING:
        kept.pop()
    again = "_".join(map(stem, kept))
    return _PARAMETERS.get(again, " ".join(meanings(tuple(kept))))


def _type(schema: Any) -> str:
    found = schema.get("type") if isinstance(schema, dict) else None
    if isinstance(found, list):
        found = next((one for one in found if one != "null"), None)
    if found in ("integer", "number"):
        return "number"
    if isinstance(found, str):
        return found
    members = schema.get("anyOf") if isinstance(schema, dict) else None
    for member in members if isinstance(members, list) else ():
        if isinstance(member, dict) and member.get("type") not in (None, "null"):
            return _type(member)
    return ""


def parameter_weight(key: str, required: bool) -> float:
    """Return how much a parameter says of the job, before its rarity."""
    return (1.0 if required else _OPTIONAL) * (_SIDELINE if key in _SIDELINES else 1.0)


def _results(item: Item) -> frozenset[str]:
    return frozenset(_result_names(item.body.get("outputSchema"), 0))


def _result_names(schema: Any, depth: int) -> Iterable[str]:
    if not isinstance(schema, dict) or depth > 4:
        return
    for name, child in _properties(schema).items():
        inner = list(_result_names(child, depth + 1))
        yield from inner or (parameter_key(name),)
    yield from _result_names(schema.get("items"), depth + 1)


def _basis(item: Item) -> str:
    fields = ("name", "uri", "uriTemplate", "description")
    return digest(
        {
            "kind": item.kind,
            **{field: item.body[field] for field in fields if isinstance(item.body.get(field), str)},
            "parameters": {key: list(value) for key, value in _parameters(item).items()},
            "results": sorted(_results(item)),
            "writes": _writes(item),
        }
    )


def _writes(item: Item) -> bool | None:
    annotations = item.body.get("annotations")
    hint = annotations.get("readOnlyHint") if isinstance(annotations, dict) else None
    return None if not isinstance(hint, bool) else not hint
