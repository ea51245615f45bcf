"""Rules on what a tool says that it returns, held against the result that it declares."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import tool, tools
from tallshelf.core.style.view import ItemView, Parameter
from tallshelf.core.words.classes import verb_class
from tallshelf.core.words.lexicon import lemma, synonyms, verb_share
from tallshelf.core.words.lexicon import parts as parts_of
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import is_stop_word, sentence_words, stem, word_set

_TOLD = Pattern(
    r"(?:^|[.!?\n][ \t]{0,8})(?:returns?|gives?|shows?|tells?|gets?|reports?|answers with|yields?)\b:?\s{1,40}([^\s.;][^.;\n]{7,200})",
    re.IGNORECASE,
)
_PARTS = Pattern(
    r",\s*(?:and\s+)?|\s+and\s+|\s+together\s+with\s+|\s+with\s+(?=its |their )|\s+as well as\s+",
    re.IGNORECASE,
)
_TELLS_NO_THING = word_set("whether how what which who when where why if all only")
_OWN = Pattern(r"(?:its|the|their|[a-z]+['’]s)\s", re.IGNORECASE)
_PHRASE_ENDS = word_set(
    "of in for per at from which that by on to under without as when where whose if since until between among into"
)
_HOLDS_ANYTHING = word_set(
    "result data text content contents detail details info information record records summary note notes body html"
    " report message line lines entry entries row rows item items list table page pages document file object json xml"
    " markdown value values answer output payload response csv attributes properties fields metadata"
)
"""Words of a result that may hold whatever is told of."""
_SAY_LITTLE = word_set(
    "current new last latest first next total exact full whole own given known open single different several all each"
    " every one two more other same such number numbers id ids identifier name names code"
)
_MOMENT = word_set("hour time when moment date day at start end since until month week year minute clock")
_COUNT = word_set("number count total amount quantity many sum")
_MANY_TOLD = Pattern(r"\b(?:total number|number of (?:all|them|hits|matches)|how many)\b", re.IGNORECASE)
_LISTS = Pattern(r"^(?:lists?|enumerates?) (?:all|every|each|the)\b", re.IGNORECASE)
_SCALAR = frozenset({"string", "integer", "number", "boolean", "null"})
_OF = Pattern(r"\bof (?:the|a|an|one) ([a-z]+)")
_FEWEST, _MANY_PARTS = 2, 3
_VERB = 0.8


def _missing(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        fields = item.results
        if not fields or not item.is_in_english:
            continue
        message = _one_of_many(item) or _part_that_is_missing(item) or _another_thing(item)
        if message:
            yield RuleHit(item.identity, "/outputSchema", message)


def _part_that_is_missing(item: ItemView) -> str:
    """Say which of the things that a text counts up no field of the result carries."""
    carried = _carried(item.results)
    any_number = any(field.types & {"integer", "number"} for field in item.results)
    if _MANY_TOLD.search(item.text.text) and not any_number and carried.isdisjoint(_COUNT):
        return "it says how many there are, and no field of the result does"
    if not carried.isdisjoint(_HOLDS_ANYTHING):
        return ""
    for told in _TOLD.findall(item.text.text):
        parts = list(_parts(told))
        missing = [
            phrase
            for phrase, words in parts
            if not _is_carried(words, carried) and not _is_carried(words, item.stem_set | {*item.words})
        ]
        if len(parts) >= _FEWEST and 0 < len(missing) < len(parts):
            return f"it says that it returns “{missing[0]}”, and no field of the result is that"
    return ""


def _parts(told: str) -> Iterator[tuple[str, frozenset[str]]]:
    """Yield the things that are counted up, each with the words that say what it is; nothing of other clauses."""
    parts = _PARTS.split(told)
    if told.split(maxsplit=1)[0].lower() in _TELLS_NO_THING:
        return
    for part in parts:
        phrase = list(itertools.takewhile(lambda word: word not in _PHRASE_ENDS, sentence_words(part)))
        words = frozenset(word for word in phrase if not is_stop_word(word) and word not in _SAY_LITTLE)
        bare = len(parts) >= _MANY_PARTS and phrase[:1] not in (["a"], ["an"])
        if not words or not _is_noun(phrase[-1]) or not (bare or _OWN.match(part)):
            continue
        yield " ".join(phrase), words


def _is_noun(word: str) -> bool:
    base = lemma(word)
    return "n" in parts_of(base) and verb_share(base) < _VERB and not word.endswith(("ed", "ing"))


def _is_carried(words: Iterable[str], carried: frozenset[str]) -> bool:
    for word in words:
        if stem(word) in carried or lemma(word) in carried:
            return True
        if (word in _MOMENT and not carried.isdisjoint(_MOMENT)) or any(
            synonyms(lemma(word), one) for one in carried
        ):
            return True
    return False


def _carried(fields: Iterable[Parameter]) -> frozenset[str]:
    """Return the words that results are called by and described with, as written, and in their base forms."""
    words = {word for field in fields for word in (*field.words, *field.text.words)}
    return frozenset({*words, *map(stem, words), *map(lemma, words)})


def _one_of_many(item: ItemView) -> str:
    """Say that a list is told of where the result is of one thing."""
    if not _LISTS.match(item.text.text):
        return ""
    own = [field for field in item.results if field.depth == 1]
    scalar = all(field.types and field.types <= _SCALAR for field in own)
    plural = any(word.endswith("s") and stem(word) != word for field in own for word in field.words)
    if len(own) != len(item.results) or not scalar or plural or not _carried(own).isdisjoint(_HOLDS_ANYTHING):
        return ""
    return "it lists many, and its result is declared as one"


def _another_thing(item: ItemView) -> str:
    """Say that the fields of a result, and the texts of what only reads, have no word in common."""
    own = [field for field in item.results if field.depth == 1]
    if len(own) < _FEWEST or len(own) != len(item.results) or not all(field.text.text for field in own):
        return ""
    if verb_class(item.words[0] if item.words else "") not in ("read", "find"):
        return ""
    told = {word for word in (*item.words, *item.text.words) if not is_stop_word(word)} - _SAY_LITTLE
    carried = _carried(own) - _SAY_LITTLE
    if not carried.isdisjoint(_HOLDS_ANYTHING) or _is_carried(told, carried):
        return ""
    counted_up = any(len(list(_parts(text))) >= _FEWEST for text in _TOLD.findall(item.text.text))
    if not counted_up and not _are_of_another(own, told):
        return ""
    names = ", ".join(f"`{field.name}`" for field in own[:3])
    return f"its result tells of {names}, and its texts speak of none of them"


def _are_of_another(fields: Iterable[Parameter], told: set[str]) -> bool:
    """Whether fields say of what they are, all of the same, and that is not what a tool speaks of."""
    of = [match.group(1) if (match := _OF.search(field.text.lower)) else "" for field in fields]
    return len(set(of)) == 1 and bool(of[0]) and not _is_carried([of[0]], frozenset(map(lemma, told)))


RULES = (
    Rule(
        id="result-not-as-told",
        family="schemas",
        covers=("result-not-as-told", "pasted-schema"),
        level="warning",
        reason="Who chooses a tool for what it says to return must find that in its result.",
        check=_missing,
        bad=tools(
            tool(
                "get_vessel",
                "Returns the vessel's flag, its draught and its home port.",
                returns={
                    "flag": {"type": "string", "description": "Flag."},
                    "draught_m": {"type": "number", "description": "Draught in metres."},
                },
            )
        ),
        good=tools(
            tool(
                "get_vessel",
                "Returns the vessel's flag, its draught and its home port.",
                returns={
                    "flag": {"type": "string", "description": "Flag."},
                    "draught_m": {"type": "number", "description": "Draught in metres."},
                    "harbour": {"type": "string", "description": "Port it is registered at."},
                },
            )
        ),
    ),
)
