"""Reading a text: its clauses, and what each says in tokens that stand for what they mean.

Articles, spelling, markup, number words, the names of units and common ways of saying the same are read away; negation,
numbers, units, order and comparison stay.
"""

from __future__ import annotations

import difflib
import itertools
import re
from collections.abc import Iterable, Iterator
from typing import Literal

from msgspec import Struct

from tallshelf.core.words.acts import changes
from tallshelf.core.words.amounts import FRACTIONS, NUMBERS
from tallshelf.core.words.classes import writes
from tallshelf.core.words.frames import rewritten
from tallshelf.core.words.lexicon import is_word, lemma, parts
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.phrases import LEFT_OUT, signs
from tallshelf.core.words.praise import without_praise
from tallshelf.core.words.remembered import remembered
from tallshelf.core.words.sentences import sentences
from tallshelf.core.words.split import word_set
from tallshelf.core.words.units import WORDS, KnownUnit, known_unit

Kind = Literal["says", "aside", "link"]
"""What a clause is there for: it says what holds; it gives an example, tells when to use it, where to look or why; or
it holds the addresses of a text."""

_SPACES = Pattern(r"[ \t]{2,}")
_LINK = Pattern(r"\[([^\]\n]{0,200})\]\([^)\s]{0,500}\)")
_ADDRESS = Pattern(r"\bhttps?://[^\s)>\]]+", re.IGNORECASE)
_MARKUP = Pattern(
    r"(?m)^[ \t]{0,8}(?:#{1,6}[ \t]+|[-*+•][ \t]+|\d{1,2}[.)][ \t]+|>[ \t]?|:param\b)|\*\*|__|(?<![\w*])\*(?=\w)|"
    r"(?<=\w)\*(?![\w*])|^[ \t]*```\w*|^[ \t]*\|?[ \t]*-{3}.*$"
)
_TYPED = Pattern(
    r"(?m)^([ \t]*`?\w+`?) \((?:int|integer|str|string|bool|boolean|float|number|list|array|dict|object)"
    r"(?:\[[^\]\n]{0,40}\])?(?:, ?optional)?\)(?=:)"
)
"""A parameter's name with its type, as comments in code have it: the schema says both."""
_BREAK = Pattern(r"(?<=[.!?])[\"'”)]{0,2}\s+(?=[\"'“(`*\[]{0,2}[A-Z0-9])|\n+|;\s|\s[–—]\s|\s\|\s")
_EXAMPLE = Pattern(
    r"[(,;:]? ?(?:\bfor example|\bfor instance|\bsuch as|\bexamples?:)[^)\n;]*\)?",
    re.IGNORECASE,
)
_FENCED = Pattern(r":[ \t]*\n+[ \t]*```\w*\n([^`]{1,600})```")
"""An example in a fence of its own, after a colon."""
_COMES_TO = r"(?:stands for|runs|matches|finds|reads as|is read as|is written)\b"
_SHOWN = Pattern(
    r":[ \t]*(?:`[^`\n]{2,80}[ ,\d][^`\n]{0,80}`|[“\"][^”\"\n]{2,80}[ ,\d][^”\"\n]{0,80}[”\"])[ \t]*\.?$|"
    rf"\((?:`[^`\n]{{2,80}}`|[“\"][^”\"\n]{{2,80}}[”\"]|[1-9]\d[\d.,]*) {_COMES_TO}[^)\n]{{0,200}}\)"
)
"""One example that stands alone after a colon, or in brackets with what it comes to."""
_THEN = Pattern(
    r"[,:;][ \t]+(?:so|therefore|thus|hence|which means|that is|in other words)\b[^\n]*", re.IGNORECASE
)
_SHORT_FOR = Pattern(r"\be\.[ \t]?g\.|\beg\b", re.IGNORECASE)
_REASON = Pattern(
    r"[,:;][ \t]+(?:because|since|so that|so(?= (?:a|an|the|on|in|for|if|when|at|that|it|they|you|there)\b)|therefore|"
    r"thus|hence|which means|that is|in other words)\b[^\n]*|\bbecause\b[^\n.]*",
    re.IGNORECASE,
)
_ASIDE = Pattern(
    r"^(?:please[ \t]+)?(?:use|call|prefer|choose|pick|try)[ \t]+(?:this|it|the tool|when|if)\b|^(?:when|for) to use\b|"
    r"^note to \w+|^\(?(?:see|cf\.?|more at|details at|docs?:|documentation|handbook)\b|"
    r"^(?:for|to) [^.\n]{3,80}?,? (?:see|use|call)\b|^\(?use [`\w]+_\w+`?",
    re.IGNORECASE,
)
_SINCE = Pattern(
    r"^\(?(?:added|new|available|introduced|since)(?: in| since| from)? (?:version |release |v)?\d+(?:\.\d+)+\b",
    re.IGNORECASE,
)
"""Since which version there is something: it says nothing of what that does."""
_FOLLOWS = Pattern(r"^(?:in other words|that is|hence|thus)\b|\btherefore\b|\band so on\b", re.IGNORECASE)
"""A sentence that says once more what was said, or what follows from it."""
_HINT = Pattern(
    r"\((?:see [^()\n]{0,20}?[`\w]+_\w+`?|(?:use|try) [`\w]+_\w+`? (?:for|instead)\b[^()\n]{0,40})\)",
    re.IGNORECASE,
)
"""In brackets: which other tool is for something else."""
_EVERYDAY = word_set("take run fall go come turn move bring carry")
"""Verbs of which a reason seldom says that something is changed: "because it takes long"."""
_CLAIMS = word_set("NOT ONLY MUST MAY LE GE LT GT REQUIRED OPTIONAL UNSET FOREVER")
"""Signs by which a sentence says something of its own, however it begins."""
_ASIDES = (_SHOWN, _HINT, _EXAMPLE, _REASON)
_TOKEN = Pattern(
    r"`[^`\n]{1,80}`|\d{4}-\d\d-\d\d(?!\d)|[YMDymd]{2,4}[-/.][YMDymd]{2}[-/.][YMDymd]{2,4}|(?:km|m|ft)/[hs]\b|\d+(?:[.,:]\d+)*|"
    r"[^\W\d_]+(?:'[^\W\d_]+)?(?:[-_][^\W_]+)*[²³]?|[°][CF]?|[%‰€$£¥₹<>=*?+]|[-−](?=\d)"
)
_BASED = Pattern(r"\b(\w+)-based\b(?= \w)|\b(\d|zero|one)-based\b", re.IGNORECASE)
_SHORT = {
    "can't": "can not",
    "cannot": "can not",
    "won't": "will not",
    "it's": "it",
    "you're": "you",
    "we'll": "we",
}
_NEGATIONS = word_set(
    """
not no never none neither nor nobody nowhere nothing hardly unless
"""
)
_SAYS_LITTLE = word_set(
    """
of in on at for by to as so then than very such into onto shall will would should do does did have has had
given particular specific respective certain tool function method api call use via own itself themselves if
when where while how much many whether about one ones thing things value exist exists way case like come go
param args and with but yet mean explain still data information info written already around roughly
approximately approx circa unique
"""
)
_COMPARING = word_set("GE LE GT LT")
_BOUNDS = {"MOST": "LE", "LEAST": "GE"}
"""Before a number: max 5 is at most 5."""
_AGES = word_set("unit:year unit:month unit:week unit:day unit:hour unit:minute unit:second")
"""What is more than two weeks old is older than that."""
_DONE = ("ed", "read", "paid", "sold", "sent", "seen", "known")
"""How what was not done ends: what is unassigned is not assigned."""
_NUMBERS = {word: f"{number:g}" for word, number in NUMBERS.items()}
_ALSO_OTHERWISE = frozenset(["second", "foot", "point", "minute", "pound"])
"""Units whose names are other words as well, after an article."""
_SPELLINGS = ("our", "or"), ("ogue", "og"), ("yse", "yze"), ("ise", "ize"), ("tre", "ter")


class Clause(Struct, frozen=True):
    """One thing that a text says: its tokens in order, and what it is there for."""

    tokens: tuple[str, ...]
    kind: Kind


@remembered(2_048, 4_000)
def read(text: str) -> tuple[Clause, ...]:
    """Return the clauses of a text, in order."""
    spaced = _SPACES.sub(" ", text).replace("’", "'")
    fenced = _FENCED.findall(spaced)
    spaced = _FENCED.sub(".", spaced) if fenced else spaced
    links = tuple(sorted(_ADDRESS.findall(spaced)))
    plain = _MARKUP.sub(" ", _ADDRESS.sub(" ", _LINK.sub(r"\1", spaced)))
    plain = _TYPED.sub(r"\1", plain)
    plain = rewritten(without_praise(_SHORT_FOR.sub("for example", plain)))
    clauses = [Clause(links, "link")] if links else []
    clauses += _asides(fenced)
    for part in _BREAK.split(plain):
        for said, _ in sentences(part.strip()):
            for form in _ASIDES:
                clauses += _asides(aside[0] for aside in form.finditer(said))
                said = form.sub(" ", said)
            tokens = tokens_of(said)
            if _SINCE.search(said) and not claims(tokens[1:]):
                continue
            is_aside = _ASIDE.search(said) or (_FOLLOWS.search(said) and not claims(tokens))
            if tokens:
                clauses.append(Clause(tokens, "aside" if is_aside else "says"))
    return tuple(clauses)


def _asides(texts: Iterable[str]) -> Iterator[Clause]:
    """Yield what stands aside as clauses; what says nothing, such as *such as* with nothing behind it, is none."""
    return (Clause(tokens, "aside") for tokens in map(tokens_of, texts) if tokens)


def claims(tokens: Iterable[str]) -> set[str]:
    """Return the tokens by which what looks like an aside says something of its own: a change, a bound, a duty."""
    return {token for token in tokens if token in _CLAIMS or any(map(writes, token.split()))}


def told_aside(text: str) -> tuple[str, ...]:
    """Return the tokens of what follows from what a text says, and of the examples that stand alone in it."""
    told = " ".join(found[0] for form in (_SHOWN, _THEN, _FENCED) for found in form.finditer(text))
    return tokens_of(re.sub(_COMES_TO, " ", told.replace("`", " ")))


def done_aside(text: str) -> set[str]:
    """Return the verbs of reasons that change something: "because it deletes them" says what is done."""
    return {
        token
        for reason in _REASON.finditer(rewritten(text))
        for token in tokens_of(reason[0])
        if token.islower() and token not in _EVERYDAY and changes(token)
    }


def without_asides(text: str) -> str:
    """Return a text without the examples, hints and reasons that stand inside of its sentences."""
    for form in _ASIDES:
        text = form.sub(" ", text)
    return text


def tokens_of(text: str) -> tuple[str, ...]:
    """Return what a text says: base forms of its telling words, signs in capitals, numbers, ``unit:`` names, code."""
    words = [word for word in _words(text) if word not in LEFT_OUT]
    told = list(
        signs(
            [sign if sign.startswith("unit:") else _spelled(sign) for sign in signs(words) if sign != "given"]
        )
    )
    if "AGAIN" in told and "READONLY" in told:  # a second call that changes nothing has no effect
        told[told.index("READONLY")] = "NOOP"
    if told.count("NOT") == 1:  # not any is none
        told = [one for one in told if one != "ANY"]
    aged = not _COMPARING.isdisjoint(told) and any(one in _AGES for one in told)
    left = [one for one in told if one not in _SAYS_LITTLE and not (aged and one == "old")]
    bounded = [
        _BOUNDS[one] if one in _BOUNDS and left[at + 1 : at + 2] and left[at + 1][:1].isdigit() else one
        for at, one in enumerate(left)
    ]
    zoned = [
        one for at, one in enumerate(bounded) if not (one == "time" and at and _is_zone(bounded[at - 1]))
    ]
    return tuple(_measured(zoned))


def _is_zone(token: str) -> bool:
    unit = _BY_NAME.get(token.removeprefix("unit:"))
    return token.startswith("unit:") and unit is not None and unit.measure == "time zone"


def _words(text: str) -> Iterator[str]:
    before = ""
    words = list(_joined(_TOKEN.findall(_BASED.sub(r"counted from \1\2", text))))
    for raw, following in itertools.zip_longest(words, words[1:], fillvalue=""):
        unit = known_unit(raw) if _names_unit(raw, before) else None
        low = raw.lower()
        if raw.startswith("`"):
            yield low.strip("`")
        elif unit is not None:
            yield f"unit:{unit.name}"
        elif low in ("a", "an") and _measures(following):
            yield "1"
        elif low in _SHORT:
            yield from _negated(_SHORT[low].split())
        elif low.endswith("n't"):
            yield "NOT"
        elif "-" in low and low[:1] != "-":
            yield from _negated(low.split("-"))
        else:
            yield from _negated([low.removesuffix("'s")])
        before = low


def _joined(words: list[str]) -> Iterator[str]:
    """Yield words, those that make one unit together as one: square metres, watt hours."""
    at = 0
    while at < len(words):
        pair = "-".join(words[at : at + 2]).lower()
        if pair in WORDS and at + 1 < len(words):
            yield pair
            at += 2
        else:
            yield words[at]
            at += 1


def _names_unit(raw: str, before: str) -> bool:
    """Whether a word is read as a unit: identifiers and days are not, single letters only after a number or "in"."""
    unit = known_unit(raw)
    if unit is None or unit.measure == "identifier" or (unit.measure == "date form" and raw.isalpha()):
        return False
    if raw.lower() in WORDS:
        return unit.name not in _ALSO_OTHERWISE or before not in ("the", "a", "first", "")
    return len(raw) > 1 or not raw.isalpha() or before.isdigit() or before in ("in", "(")


def units_of(tokens: Iterable[str]) -> set[KnownUnit]:
    """Return the units that tokens name."""
    return {unit for token in tokens if (unit := _BY_NAME.get(token.removeprefix("unit:")))}


def amount(token: str) -> str:
    """Return a unit's token as one of it, as amounts are written; other tokens as they are."""
    unit = _BY_NAME.get(token[5:]) if token.startswith("unit:") else None
    return f"{unit.measure}:{unit.factor:.6g}" if unit is not None and unit.factor else token


def _measures(word: str) -> bool:
    unit = WORDS.get(word.lower())
    return unit is not None and unit.factor > 0


def _negated(words: list[str]) -> Iterator[str]:
    for word in words:
        undone = word[2:]
        if word in _NEGATIONS:
            yield "NOT"
        elif word.startswith("un") and undone.endswith(_DONE) and _is_not(word, undone):
            yield "NOT"
            yield undone
        else:
            yield word


def _is_not(word: str, undone: str) -> bool:
    """Whether a word says that something was not done: unassigned; not unlocked, which is a form of a verb."""
    return len(undone) > 3 and is_word(undone) and "v" not in parts(lemma(word))


def _spelled(word: str) -> str:
    """Return a word in its base form and in US spelling, a number word as its digits."""
    if word[:1].isdigit():
        return word.replace(",", "")
    if not word.isalpha() or word.isupper():
        return word
    base = lemma(word)
    if base in _NUMBERS:
        return _NUMBERS[base]
    if (
        4 < len(base) < 20
        and not is_word(base)
        and (meant := difflib.get_close_matches(base, _NUMBERS, 1, 0.7))
        and meant[0][0] == base[0]
    ):
        return _NUMBERS[meant[0]]
    for british, american in _SPELLINGS:
        if base.endswith(british) and is_word(base.removesuffix(british) + american):
            return base.removesuffix(british) + american
    return base


def _measured(tokens: list[str]) -> Iterator[str]:
    """Yield tokens, each number or fraction of a measured unit as that many of the measure's first unit."""
    at = 0
    while at < len(tokens):
        unit = _unit_at(tokens, at + 1)
        if unit is not None and unit.factor:
            number = _number(tokens[at])
            if number is not None:
                yield f"{unit.measure}:{number * unit.factor:.6g}"
                at += 2
                continue
        if (
            tokens[at] in FRACTIONS
            and tokens[at + 1 : at + 2] == ["1"]
            and (unit := _unit_at(tokens, at + 2))
        ):
            yield f"{unit.measure}:{FRACTIONS[tokens[at]] * unit.factor:.6g}"
            at += 3
            continue
        yield tokens[at]
        at += 1


def _unit_at(tokens: list[str], at: int) -> KnownUnit | None:
    if at < len(tokens) and tokens[at].startswith("unit:"):
        return _BY_NAME.get(tokens[at][5:])
    return None


def _number(token: str) -> float | None:
    if token in FRACTIONS:
        return FRACTIONS[token]
    try:
        return float(token)
    except ValueError:
        return None


_BY_NAME = {unit.name: unit for unit in WORDS.values()}
