"""Whether a text steers whoever reads it beyond its own tool: orders, requests for what is not its own, other servers.

A text is read sentence by sentence, without what it quotes. A sentence steers where it speaks to or of the model that
reads it, tells it what to say, hide, skip or assume, or asks for the conversation, secrets or the machine. What the
item is for decides what is innocent: a word of its name or of its first sentence is what it works on.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterator
from typing import Literal, NamedTuple

from msgspec import Struct

from tallshelf.core.words.abroad import order_abroad
from tallshelf.core.words.addressed import may_be_told, steers
from tallshelf.core.words.commanding import command
from tallshelf.core.words.implied import IMPLYING
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.persons import names_people
from tallshelf.core.words.remembered import remembered
from tallshelf.core.words.sentences import is_wrapped, sentences
from tallshelf.core.words.split import word_set
from tallshelf.core.words.steering_forms import ASKS, ORDERS, OTHERS
from tallshelf.core.words.ways import Ways, singular, words_in

Steer = Literal["orders", "asks", "others"]

_QUOTED = Pattern(r"[\"“„«「][^\"”“»」\n]{3,200}[\"”»」]|`[^`\n]{1,100} [^`\n]{1,100}`")
_READERS = Pattern(
    r"\b(?:assistants?|agents?|(?:language |vision |ai )?models?|ais?|llms?|(?:chat|reader |ai )?bots?|copilots?|"
    r"machines|sprachmodelle?n?|assistenten?|modelos?|asistentes?|assistentes?|modèles?|modelli?|modello|"
    r"assistenti?|modellen|"
    r"modelu|asystent\w*|modeller(?:na)?|modellen)\b",
    re.IGNORECASE,
)
_LATIN = Pattern(r"[A-Za-z]+")
_OWN_KIND = word_set(
    "assistant agent model server tool connector conversation chat cookie machine bot variable secret password"
    " credential key transcript message calendar contact dialogue session history environment"
    " configuration"
)
"""What a tool may work on: where its name or its first sentence says so, speaking of it steers nobody."""

# Speaking of another's tools steers only where the sentence sets something against them, or takes from them.
_AGAINST = Pattern(
    r"\b(?:instead|in place|rather than|never|not|don['’]t|stop|ignor\w*|discard\w*|replac\w*|supersed\w*|"
    r"overrul\w*|prefer\w*|"
    r"whatever|give(?:s)? way|stay off|unplug|cancel|divided|held back|hidden|unerwähnt|answered|quoted|"
    r"returns?|delivers?|comes? up|"
    r"avoid\w*|unsafe|wrong|unnecessary|obsolete|redundant|no longer needed|double-check\w*|disabl\w*|uninstall\w*|"
    r"belong|nags|leave|moved|bear|go(?:es)? through|accompan\w+|expects|read its|dial|guess\w*|declares|reports?|"
    r"outrank\w*|outdated|out of date|stale|detours?|ha(?:s|ve|d) (?:had )?(?:its|their) day|trumps?|beats?|precedence|"
    r"overrid\w+|worse|slower|better|less (?:reliable|exact)|distrust\w*|inferior|thing of the past|superfluous|"
    r"retired|unneeded)\b",
    re.IGNORECASE,
)
# Naming the model steers it only where the sentence says what it is to do, to say, to skip or to take as given.
_TOLD = Pattern(
    r"\b(?:must|should|shall|ought|never|always|not|don['’]t|no(?! longer\b)|usually|customarily|normally|expected|"
    r"supposed|silently|also|"
    r"answers?|repl(?:y|ies)|says?|tells?|mentions?|keeps?|skips?|proceeds?|waives?|treats?|assumes?|"
    r"marks?|puts?|restarts?|renews?|"
    r"reads? this|reading this|ignor\w*|follow\w*|obey\w*|consent|confirm\w*|considerate|good|kind|"
    r"without|before|after|hint|note|hey|"
    r"bots?:|assistants?:|between|überlicherweise|verzichten|brukar|meestal)\b",
    re.IGNORECASE,
)


# What is called by a reader's name and is none, or is made for one; and sentences that tell how to use a sibling.
_NO_READER = Pattern(
    r"\b(?:user|real estate|travel|shipping) agents?\b|\bvirtual machines\b|\b(?:ai|llm|bot|model|agent|"
    r"assistant)[ -](?:accounts?|"
    r"summar\w+|responses?|triage|prompts?|configured|definitions?|index|names?|ids?|versions?|generated|"
    r"friendly|powered|based|"
    r"outputs?|context|tokens?|types?|usage|class|file)\b|\buse (?:the )?[`'\"]?\w+[-_]\w+",
    re.IGNORECASE,
)


_DENIAL = Pattern(r"\b(?:never|not|nothing)\b|n['’]t\b", re.IGNORECASE)
_FORMS: tuple[tuple[Steer, str], ...] = (("orders", ORDERS), ("asks", ASKS), ("others", OTHERS))
_WAYS: dict[Steer, Ways] = {
    kind: Ways((form.strip() for form in re.split(r"\n\s+\| ", text)), re.IGNORECASE | re.VERBOSE)
    for kind, text in _FORMS
}
_READER_WORDS = words_in(re.sub(r"\\[a-zA-Z]", " ", _READERS.pattern)) | {"ai"}
_MAY_STEER = _READER_WORDS.union(IMPLYING, *(ways.words for ways in _WAYS.values()))


class Steering(Struct, frozen=True):
    """What steers: how, the words that do, and where they stand."""

    kind: Steer
    words: str
    start: int
    end: int


def steering(
    text: str,
    about: frozenset[str] = frozenset(),
    is_lead: bool = True,
    vocabulary: Callable[[], Collection[str]] | None = None,
    *,
    worded: bool = True,
    siblings: Collection[str] = (),
    server: Collection[str] = (),
    field: Collection[str] = (),
) -> tuple[Steering, ...]:
    """Return what in a text steers its reader.

    ``about`` are the words of the item's name; ``is_lead`` says that the text's first sentence says what the item does;
    ``vocabulary`` returns the words of the item and its siblings, to which commands are held. A text that is not
    ``worded`` has none of the words by which known ways steer (`may_steer`): it is read for commands alone.
    ``siblings`` are the names of the server's tools: a step that names one, and using what one is called by, is usage;
    ``server`` the words of its own name, ``field`` those of the parameter that the text describes.
    Lines are read one by one, and as the sentences that they may be wrapped from.
    """
    plain = _QUOTED.sub(lambda match: _masked(match, text), text)
    item = _Item(frozenset(about), is_lead, vocabulary, worded, siblings, server, field)
    found = _steerings(plain, item, by_lines=True)
    return tuple(found or (_steerings(plain, item, by_lines=False) if is_wrapped(plain) else ()))


class _Item(NamedTuple):
    """What is known of the item that a text is of, as `steering` is told it."""

    about: frozenset[str]
    is_lead: bool
    vocabulary: Callable[[], Collection[str]] | None
    worded: bool
    siblings: Collection[str]
    server: Collection[str]
    field: Collection[str]


def _steerings(plain: str, item: _Item, *, by_lines: bool) -> list[Steering]:
    steerings: list[Steering] = []
    own = set(item.about)
    first, bare = True, False
    for sentence, start in sentences(plain, by_lines=by_lines):
        said = sentence.strip()
        if not said:
            continue
        leads, first = first and item.is_lead, False
        if leads:
            own |= {word.lower().rstrip("s") for word in _LATIN.findall(said)}
            bare = command(said) is not None
        if _is_plain(sentence):
            continue
        words = words_in(said)
        if leads and "," not in said and "(" not in said:
            steerings += _in(sentence, words, start, own, item, lead=True) if item.worded else ()
            continue
        found = _in(sentence, words, start, own, item, lead=False) if item.worded else []
        bare_before = not item.is_lead or bare
        if not any(one.kind == "orders" for one in found) and (
            span := steers(
                said, words, own, bare=bare_before, goes_on=item.is_lead and bare, vocabulary=item.vocabulary
            )
        ):
            begins = start + sentence.find(said)
            found.append(Steering("orders", said[span[0] : span[1]], begins + span[0], begins + span[1]))
        steerings += found
    return steerings


@remembered(16_384, 600)
def _is_plain(sentence: str) -> bool:
    """Whether a sentence steers nobody, whatever the tool is that it tells of: most do not, and are met again."""
    said = sentence.strip()
    words = words_in(said)
    return not (
        any(form.search(sentence) for _, forms in _met(sentence, words) for form in forms)
        or order_abroad(sentence) is not None
        or _reader_in(sentence, words) is not None
        or may_be_told(said, words)
    )


def _met(sentence: str, words: frozenset[str]) -> Iterator[tuple[Steer, list[Pattern]]]:
    """Yield the known ways that a sentence may have, by what they do."""
    signs = not sentence.isascii() or "~" in sentence
    for kind, ways in _WAYS.items():
        forms = ways.met(words, wordless=signs)
        if forms and (kind != "others" or _AGAINST.search(sentence)):
            yield kind, forms


def _reader_in(sentence: str, words: frozenset[str]) -> re.Match[str] | None:
    """Return where a sentence names its reader and tells it something."""
    if _READER_WORDS.isdisjoint(words):
        return None
    reader = _READERS.search(sentence)
    return reader if reader and _TOLD.search(sentence) and not _NO_READER.search(sentence) else None


def _masked(match: re.Match[str], text: str) -> str:
    """Return blanks for what is quoted, and for the marks alone where it stands as a sentence of its own."""
    before, after = text[: match.start()].rstrip(" "), text[match.end() :].lstrip(" ")
    alone = (not before or before[-1] in ".!?") and (not after or after[0].isupper() or after[0] in '\n"“`')
    inside = match.group()[1:-1]
    return f" {inside} " if alone else match.group()[0] + " " * len(inside) + match.group()[-1]


def may_steer(text: str, words: frozenset[str]) -> bool:
    """Whether a text may steer anybody: it has more than a label's words, and one that steering takes."""
    if not text.isascii() or "~" in text or "$" in text:
        return True
    return len(words) > 3 and not _MAY_STEER.isdisjoint(map(singular, words))


def _in(
    sentence: str,
    words: frozenset[str],
    start: int,
    own: Collection[str],
    item: _Item,
    *,
    lead: bool,
) -> list[Steering]:
    found: dict[Steer, Steering] = {}
    for kind, forms in _met(sentence, words):
        matches = (match for form in forms for match in form.finditer(sentence))
        for match in matches:
            if not (
                _is_own(match.group(), own)
                or _is_its_server(match.group(), item.server)
                or _denied_twice(sentence, match)
                or (kind == "asks" and _bounds(sentence, match))
                or _is_next_step(sentence, match, item.siblings)
            ):
                found[kind] = Steering(kind, match.group(), start + match.start(), start + match.end())
                break
    abroad = order_abroad(sentence)
    if abroad is not None and abroad.kind not in found:
        words_said = sentence[abroad.start : abroad.end]
        found[abroad.kind] = Steering(abroad.kind, words_said, start + abroad.start, start + abroad.end)
    if not found and not lead:
        reader = _reader_in(sentence, words)
        if (
            reader
            and not _is_own(reader.group(), own)
            and not _is_of_the_field(sentence, reader, item.field)
            and not _is_set_up(sentence, reader)
            and not _uses_a_sibling(sentence, reader, item.siblings)
        ):
            found["orders"] = Steering("orders", reader.group(), start + reader.start(), start + reader.end())
    return list(found.values())


def _denied_twice(sentence: str, match: re.Match[str]) -> bool:
    """Never without asking: a sentence that wants people to be asked."""
    return match.group().lower().startswith("without") and bool(_DENIAL.search(sentence[: match.start()]))


_BOUND = Pattern(
    r"\b(?:must|has to|have to|should|may only|can only) (?:be|lie|stay|point)\b[^.]{0,20} "
    r"(?:inside|within|under|below)\b(?!.*\b(?:read|send|copy|attach|include|pass|upload|list|open)\b)",
    re.IGNORECASE,
)


def _bounds(sentence: str, match: re.Match[str]) -> bool:
    """Whether a place is one that a value has to lie in, and is not asked for: inside the home directory."""
    return "directory" in match.group().lower() and _BOUND.search(sentence[: match.start()]) is not None


_NAMES = Pattern(r"`([\w.-]+)`|\b([a-zA-Z0-9]+(?:[_-][a-zA-Z0-9]+)+)\b")
_USED = Pattern(
    r"\b(?:use|using|call|calling|try|run|start|before|after|than) (?:the |an? )?$", re.IGNORECASE
)


def _is_next_step(sentence: str, match: re.Match[str], siblings: Collection[str]) -> bool:
    """Then poll with a tool of the same server: what is done after it, and no more."""
    return match.group().lower().startswith("then") and any(
        name in siblings for names in _NAMES.findall(sentence) for name in names
    )


def _uses_a_sibling(sentence: str, reader: re.Match[str], siblings: Collection[str]) -> bool:
    """Use the agent as a last resort: that of a tool of the same server called so."""
    if not _USED.search(sentence[: reader.start()]):
        return False
    word = singular(reader.group().lower())
    return any(word in map(singular, re.split(r"[\W_]+", name.lower())) for name in siblings)


def _is_of_the_field(sentence: str, reader: re.Match[str], field: Collection[str]) -> bool:
    """Whether what may be a reader is what a parameter is called by, and is told nothing: a model that grades well."""
    told = (_TOLD.match(sentence[one.end() :].lstrip()) for one in _READERS.finditer(sentence))
    return singular(reader.group().lower()) in field and not any(told)


_SET_UP = Pattern(
    r"\s+(?:is|was) (?:configured|set up|enabled|installed),\s+it (?!.*\b(?:not|never|no)\b)\w+e?s\b"
)


def _is_set_up(sentence: str, reader: re.Match[str]) -> bool:
    """Whether what may be a reader is a part of the server, which does what is told of it: it fixes the query."""
    return _SET_UP.match(sentence, reader.end()) is not None and not names_people(sentence, ())


_ANY_SERVER = word_set("other another any every each all different mcp server servers")
_SERVER = Pattern(r"\b(\w+) servers?\b", re.IGNORECASE)
_A_KIND = word_set("ice stun turn dns ntp smtp imap ftp sftp ldap dhcp")
"""What kinds of servers are called by their protocol: ICE servers."""


def _is_its_server(words: str, server: Collection[str]) -> bool:
    """Whether the server that is spoken of is called as this one, or is of a kind that has no tools.

    As "the harbour server" of a server called harbour.
    """
    named = _SERVER.search(words)
    if named is None or named.group(1).lower() in _ANY_SERVER:
        return False
    return named.group(1).lower() in server or named.group(1).lower() in _A_KIND


def _is_own(words: str, own: Collection[str]) -> bool:
    """Whether a word that would steer is what the item itself works on."""
    return any(
        word in own
        for word in (one.lower().rstrip("s") for one in re.findall(r"[A-Za-z]+", words))
        if word in _OWN_KIND
    )
