"""Rules on how texts are worded: tone, mark-up, language, and what ties them to one place."""

from __future__ import annotations

import itertools
import operator
import re
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject, at, rewritten
from tallshelf.core.style.rules._examples import says, takes, tool, tools
from tallshelf.core.style.text import Text, is_letter
from tallshelf.core.words.acts import lead_verb
from tallshelf.core.words.language import english_share, is_in_english
from tallshelf.core.words.lexicon import base_forms, is_word
from tallshelf.core.words.lists import known_abbreviation
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.praise import SELLING, SOFT_SELLING
from tallshelf.core.words.split import is_stop_word, word_set

_CAPITALS = Pattern(r"(?<![\w-])[A-Z]{4,}(?![\w-])")
_LOUD = Pattern(r"[A-Z]{2}(?:[A-Z]{2}|\s+[A-Z]{2})")
_SHOUTED = Pattern(r"\b(?:[A-Z]{2,}\s+){2,}[A-Z]{2,}\b")
_ACRONYMS = word_set(
    "JSON HTTP HTTPS HTML YAML TOML UUID UTF8 ISBN IBAN SEPA IATA ICAO NATO NASA SMTP IMAP MIME ASCII "
    "SSML CIDR GTIN GLAM REST SOAP GRPC TEXT DATE NULL TRUE FALSE SELECT INSERT UPDATE DELETE WHERE "
    "FROM JOIN CREATE TABLE DROP ALTER INTO VALUES ORDER GROUP LIMIT HAVING UNION POST PATCH HEAD MMSI EDIFACT SOLAS MARPOL IMDG"
)
# Words of which one stands in every text that the patterns find something in.
_SELLING_WORDS = word_set(
    "world revolutionary cutting best state unparalleled amazing amazingly awesome incredible incredibly blazing"
    " blazingly lightning game seamless seamlessly effortless effortlessly next supercharge supercharges"
    " supercharged unleash unleashes ultimate most"
)
_SOFT_WORDS = word_set("powerful easy robust comprehensive superior smart smartly")
_TAGS = (
    "b|i|u|br|p|div|span|a|ul|ol|li|h[1-6]|strong|em|code|pre|table|tr|td|th|img|script|style|iframe|system|important|"
    "instructions?|context|user|assistant|details|summary|blockquote"
)
_MARKUP = Pattern(
    rf"</?(?:{_TAGS})(?:\s[^<>]*)?/?>|^\s{{0,3}}#{{1,6}}\s|```|\*\*[^*\n]+\*\*|\[[^\]\n]{{1,200}}\]\([^)\n]{{1,500}}\)|&(?:nbsp|lt|gt|amp);|^\s*\|(?:[^|\n]*\|){{2,}}\s*$",
    re.IGNORECASE | re.MULTILINE,
)
_MARKUP_SIGNS = frozenset("<#`*[&|")
_FOREIGN = {
    "German": "und der das dem nicht mit für ist ein eine einen werden wird auf von oder nach wenn sind zum zur bitte nur",
    "French": "les une est avec pour dans sur qui vous cette aux du et ou votre par pas toutes tous chaque",
    "Spanish": "los las una para con por que del está como más sus este esta todos pero donde cada",
    "Italian": "gli una per con che della delle sono come questo questa nel dei alla non tutti ogni",
    "Dutch": "het een van niet met voor zijn wordt worden naar deze alle wanneer",
    "Portuguese": "os um uma para com não são como dos das esta este todos todas pelo pela",
    "Swedish": "och att det som inte för med är till av ett den kan alla",
    "Norwegian": "og det som ikke for med er til av ett den kan alle skal",
}
_FOREIGN_WORDS = {name: frozenset(words.split()) for name, words in _FOREIGN.items()}
# Words of other languages that stand in names as well, and are half of a hit each.
_WEAK = word_set(
    "de la le el en y un il lo da do die den des im am zu som for till alla alle med kan den per con"
)
_STRONG = frozenset().union(*_FOREIGN_WORDS.values()) - _WEAK
_SPECIAL = Pattern("[À-ÖØ-öø-ÿŒœŠšŽž]")
_ENOUGH_FOREIGN = 2
_HERE = Pattern(
    r"(?:(?<=[\s(\"'`=])|^)(?:/(?:home|Users|tmp|var|opt|root|srv|mnt)/[\w./-]+|[A-Za-z]:\\[\w\\. -]+|~/[\w./-]+)"
    r"|\blocalhost\b|\b127\.0\.0\.1\b|\b(?:10|192\.168|172\.(?:1[6-9]|2\d|3[01]))(?:\.\d{1,3}){2,3}\b"
    r"|\b[\w-]+\.(?:local|internal|corp|lan|intranet)\b|\bfile://[\w./~%-]+"
)
_DOTTED = Pattern(r"\d\.\d+\.\d")
_DAY_WORDS = word_set("as today today's generated current last updated built")
_PLACE_WORDS = word_set("localhost local internal corp lan intranet")
_VERSIONS = Pattern(r"\b(?:python|node(?:js)?|[a-z][\w-]{2,})[ /@=]{1,2}v?\d+\.\d+\.\d+\b", re.IGNORECASE)
_SOFTWARE = word_set(
    "python node java ruby perl go rust swift spring react angular express windows mac chrome edge"
)
_TODAY = Pattern(
    r"\b(?:as of|today is|today's date is|generated (?:on|at)|current date(?: is)?:?|last updated:?|updated on|built on)\s+"
    r"(?:\d{4}-\d\d-\d\d|\d{1,2}[./ ]\w+[./ ]\d{2,4}|\w+ \d{1,2},? \d{4})",
    re.IGNORECASE,
)
_DOUBLED = Pattern(r"\b(the|a|an|of|to|in|is|and|for|by|with) \1\b", re.IGNORECASE)


def _shouting(subject: Subject) -> Iterator[RuleHit]:
    named: frozenset[str] | None = None
    for text in subject.view.texts:
        if "!" not in text.text and not _LOUD.search(text.text):
            continue
        shouted = _SHOUTED.search(text.text)
        if named is None:
            named = frozenset(
                {parameter.name for parameter in subject.view.fields}
                | {value.text for value in subject.view.values}
                | {word.upper() for item in subject.view.items for word in item.words}
            )
        matches = [
            word
            for word in _CAPITALS.finditer(text.text)
            if word.group() not in _ACRONYMS
            and word.group() not in named
            and not known_abbreviation(word.group().lower())
        ]
        close = any(b.start() - a.end() <= 2 for a, b in itertools.pairwise(matches))
        if shouted or len(matches) >= 3 or close or text.text.count("!") >= 2:
            first = (
                (shouted or matches[0]).span()
                if shouted or matches
                else (text.text.index("!"), text.text.index("!") + 1)
            )
            patch = rewritten(
                text, (0, len(text.text)), _calm(text.text, [match.group() for match in matches])
            )
            yield at(text, "the text shouts; say it calmly, once", first, suggestion=patch)


def _calm(text: str, loud: list[str]) -> str:
    """Write the loud words small and each run of exclamation marks as a full stop."""
    for word in loud:
        text = text.replace(word, word.lower())
    text = _SHOUTED.sub(lambda match: match.group().lower(), text)
    calm = re.sub(r"\s*!+", ".", text)
    return calm[:1].upper() + calm[1:]


def _selling(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.texts.holding(_SELLING_WORDS):
        match = SELLING.search(text.text)
        if match:
            yield at(
                text, f"“{match.group()}” sells; say what it does and let the reader judge", match.span()
            )


def _soft_selling(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.texts.holding(_SOFT_WORDS):
        match = SOFT_SELLING.search(text.text)
        if match:
            yield at(text, f"“{match.group()}” tells nothing that a choice could rest on", match.span())


def _markup(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.texts:
        match = None if _MARKUP_SIGNS.isdisjoint(text.text) else _MARKUP.search(text.text)
        if match:
            yield at(
                text,
                f"“{match.group().strip()[:40]}” is mark-up; a model reads the text, and a person sees the signs",
                match.span(),
            )


_ENGLISH_SENTENCE = 0.6


def _is_wholly_foreign(text: str) -> bool:
    """Whether no sentence of a text is English, and one is surely not: it is not mixed, but in another language."""
    shares = [share for one in re.split(r"[.!?\n]", text) if (share := english_share(one)) is not None]
    return (
        not lead_verb(text)
        and bool(shares)
        and max(shares) < _ENGLISH_SENTENCE
        and min(shares) < 1 - _ENGLISH_SENTENCE
    )


_HARDLY_ENGLISH, _LOWER_WORD = 0.4, Pattern(r"(?<![\w-])[^\W\d_A-Z]{4,}(?![\w-])")


def _is_foreign(text: Text) -> bool:
    """Whether hardly a word of a text is English, names apart."""
    if any(map(is_stop_word, text.word_set)) or "_" in text.text or "/" in text.text:
        return False
    share = english_share(text.text)
    if share is None or share > _HARDLY_ENGLISH:
        return False
    words = _LOWER_WORD.findall(text.text)
    return sum(not any(map(is_word, base_forms(word))) for word in words) >= 2


def _mixed_languages(subject: Subject) -> Iterator[RuleHit]:
    texts = subject.view.texts
    english = {item.identity for item in subject.view.items if is_in_english(item.text.text)}
    wholly = {item.identity for item in subject.view.items if _is_wholly_foreign(item.text.text)}
    found = set()
    for text in texts:
        if text.item in english - wholly and _is_foreign(text):
            found.add(text)
            yield at(text, f"“{text.text[:60]}” is not in the language of the rest; write it in one language")
    for text in dict.fromkeys((*texts.beyond_ascii, *texts.holding(_STRONG))):
        if text in found:
            continue
        if not text.text.isascii():
            letters = [char for char in text.text if is_letter(char)]
            foreign = [char for char in letters if ord(char) > 0x24F]
            if len(foreign) >= 5 and len(foreign) * 8 >= len(letters) and len(letters) - len(foreign) >= 5:
                yield at(text, "the text is in two scripts; write it in one language")
                continue
        marked = 0.5 if not text.text.isascii() and _SPECIAL.search(text.text) else 0.0
        for language, common in _FOREIGN_WORDS.items():
            strong = (text.word_set & common) - _WEAK
            if not strong or text.item in wholly:
                continue
            hits = len(strong) + marked + len(text.word_set & _WEAK) / 2
            if hits >= _ENOUGH_FOREIGN and len(strong) + marked > 1 and len(text.words) < 12 * hits:
                told = ", ".join(sorted(strong)[:3])
                yield at(text, f"part of it is {language} ({told}); write it in one language")
                break


def _tied_to_a_place(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.everything:
        numbers = text.has_digit and _DOTTED.search(text.text) is not None
        day = text.has_digit and not text.word_set.isdisjoint(_DAY_WORDS)
        place = numbers or _may_be_a_place(text)
        for may, pattern, what in (
            (place, _HERE, "a place on one machine"),
            (numbers, _VERSIONS, "a library's version"),
            (day, _TODAY, "a day"),
        ):
            match = pattern.search(text.text) if may else None
            if match and pattern is _VERSIONS and _counts_no_software(match.group()):
                continue  # a number of the trade after an English word, as in "example 1904.22.7"
            if match and not (pattern is _HERE and text.gives_an_example(match.start())):
                yield at(
                    text,
                    f"“{match.group().strip()}” is {what}; the text would change without a release",
                    match.span(),
                )
                break


def _may_be_a_place(text: Text) -> bool:
    said = text.text
    return "/" in said or "\\" in said or "~" in said or not text.word_set.isdisjoint(_PLACE_WORDS)


def _counts_no_software(found: str) -> bool:
    word = re.split(r"[^a-z]", found.lower())[0]
    return is_word(word) and word not in _SOFTWARE


def _doubled_word(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.texts:
        if True not in map(operator.eq, text.words, text.words[1:]):
            continue
        match = _DOUBLED.search(text.text)
        if match:
            written = text.text[: match.start()] + match.group(1) + text.text[match.end() :]
            patch = ({"op": "replace", "path": text.pointer, "value": written},)
            yield at(text, f"“{match.group()}”: a word stands twice", match.span(), suggestion=patch)


RULES = (
    Rule(
        id="shouting",
        fix_is_safe=False,
        family="words",
        covers=("shouting-or-selling",),
        level="warning",
        reason="Capitals and exclamation marks pull a model towards one tool, whatever the job.",
        check=_shouting,
        bad=says("ALWAYS USE this to list berths!! It lists them."),
        good=says("Convert a position from WGS84 to the JSON that the ECDIS takes, in UTF-8."),
    ),
    Rule(
        id="selling",
        family="words",
        covers=("shouting-or-selling",),
        level="warning",
        reason="Praise pulls a model towards one tool, whatever the job.",
        check=_selling,
        bad=says("A revolutionary way to list the berths of one port."),
        good=tools(tool()),
    ),
    Rule(
        id="empty-praise",
        family="words",
        covers=("shouting-or-selling",),
        level="note",
        reason="A word of praise takes room that a fact could have.",
        check=_soft_selling,
        bad=says("A powerful list of the berths of one port."),
        good=tools(tool()),
    ),
    Rule(
        id="mark-up",
        family="words",
        covers=("markup",),
        level="warning",
        reason="Hosts show texts as they are; tags and signs are read aloud or taken for orders.",
        check=_markup,
        bad=says("List the <b>free</b> berths of one port."),
        good=says("List the berths of one port whose length is < 40 m, as in `N-04`."),
    ),
    Rule(
        id="mixed-languages",
        family="words",
        covers=("mixed-languages",),
        level="warning",
        reason="A model that was asked in one language chooses worse by a text in two.",
        check=_mixed_languages,
        bad=says("List the berths of one port. Bitte nur mit gültigem Hafen und nicht für Werften."),
        good=says("List the berths of La Spezia, Den Helder and Åbo, with their length in metres."),
    ),
    Rule(
        id="tied-to-a-place",
        family="words",
        covers=("local-path",),
        level="warning",
        reason="A text that carries the place, version or day it ran in changes without a release.",
        check=_tied_to_a_place,
        bad=takes(file="File to read, below /home/tomas/berths"),
        good=takes(file="Name of the file, such as /tmp/berths.csv"),
    ),
    Rule(
        id="doubled-word",
        family="words",
        covers=(),
        level="note",
        reason="A word that stands twice shows that nobody read the text.",
        check=_doubled_word,
        bad=says("List the the berths of one port."),
        good=says("List the berths of one port."),
    ),
)
