"""Rules on the names of items."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence

from tallshelf.core.style.rule import Rule, RuleHit, Setting, Subject
from tallshelf.core.style.rules._examples import server, tool, tools
from tallshelf.core.style.view import ItemView
from tallshelf.core.words.acts import is_look, lead_verb
from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.lists import is_verb, known_abbreviation
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import case_style, cased, stem, telling_words, word_set

_CHARACTERS = Pattern(r"[A-Za-z0-9_./-]{1,128}")
_VOWEL = Pattern("[aeiouy]")
_NUMBERED = Pattern(r"v?\d{1,2}")
# Words that say little of what a verb works on, or that stand for any verb.
_REAL_THINGS = frozenset(
    {"task", "call", "query", "request", "operation", "action", "tool", "process", "run"}
)
_EMPTY_VERBS = frozenset(["get", "set", "fetch", "make", "use", "apply", "start", "work", "load"])
_KNOWN_NUMBERS = word_set(
    "base64 sha1 sha2 md5 utf8 ipv4 ipv6 oauth2 web3 s3 ec2 mp3 mp4 h264 h265 iso8601 co2 pm10 pm25 k8s "
    "2fa 2d 3d a3 a4 a5 x509 http2 http3 top10 top5 b12 g7 g20 o2 h2"
)
LONGEST = Setting(
    "long-name", "most_characters", 64, "characters of a tool's name with the server's in front"
)
HOUSE_CASE = Setting(
    "mixed-case-styles", "house_style", (), "the one case style names must have, such as snake_case"
)


def _name_characters(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if item.item.kind in ("tool", "prompt") and not _CHARACTERS.fullmatch(item.name):
            shown = item.name[:60] or "(no name)"
            message = f"{shown!r} is no name that hosts take; use 1 to 128 of A-Z a-z 0-9 _ - . /"
            yield RuleHit(item.identity, "/name", message)


def _long_name(subject: Subject) -> Iterator[RuleHit]:
    prefix = subject.snapshot.server_name
    limits = [profile.name_length for profile in subject.style.profiles if profile.name_length]
    most = min([subject.of(LONGEST), *limits])
    for item in subject.view.tools:
        whole = f"{prefix}_{item.name}" if prefix else item.name
        if len(whole) > most:
            message = (
                f"with the server's name in front it has {len(whole)} characters; hosts cut it at {most}"
            )
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _mixed_case(subject: Subject) -> Iterator[RuleHit]:
    styles = {item.identity: case_style(item.name) for item in subject.view.tools}
    counted = Counter(style for style in styles.values() if style)
    house = subject.of(HOUSE_CASE)
    if not counted or (len(counted) == 1 and not house):
        return
    most = house[0] if house else counted.most_common(1)[0][0]
    for item in subject.view.tools:
        style = styles[item.identity]
        if style and style != most:
            yield RuleHit(
                item.identity,
                "/name",
                f"`{item.name}` is {style}; the others here are {most}",
                (0, len(item.name)),
                ({"op": "replace", "path": "/name", "value": cased(item.words, most)},),
            )


def _missing_verb(subject: Subject) -> Iterator[RuleHit]:
    own = frozenset(subject.style.words.verbs)
    server = _server_words(subject) | _shared_beginning(subject.view.tools)
    for item in subject.view.tools:
        words = [word for word in item.words if word not in server] or list(item.words)
        if len(words) > 1 and words[0] in _WAYS_OF_DOING:
            words = words[1:]
        if (
            words
            and words[0] not in own
            and not is_verb(words[0])
            and not is_verb(item.words[0])
            and not _is_called_by_what_it_gives(item)
            and _names_a_thing(words, item)
        ):
            message = f"`{item.name}` does not begin with what is done; put a verb first, such as get or list"
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


_WAYS_OF_DOING = word_set("batch bulk multi mass auto quick async")
_FEWEST_ALIKE = 3


def _shared_beginning(tools: Sequence[ItemView]) -> frozenset[str]:
    """Return the word that most names begin with, which tells whose they are: browser, of browser_click."""
    firsts = Counter(item.words[0] for item in tools if len(item.words) > 1)
    if not firsts:
        return frozenset()
    word, often = firsts.most_common(1)[0]
    alike = often >= _FEWEST_ALIKE and often * 2 > len(tools) and not is_verb(word)
    return frozenset({word}) if alike else frozenset()


def _is_called_by_what_it_gives(item: ItemView) -> bool:
    """Whether its text tells of the thing that it gives: "next departure".

    Either it says that it only reads, or the text begins with no verb and speaks of what the name names.
    """
    said, hint = item.text.text, item.annotations.get("readOnlyHint")
    lead = lead_verb(said)
    names_first = not lead or verb_share(lemma(lead)) < _MAINLY
    if hint is True:
        return bool(said) and (names_first or is_look(lead))
    named = {stem(word) for word in item.words}
    return hint is None and names_first and not named.isdisjoint(telling_words(item.text.words))


_SELDOM, _MAINLY = 2, 0.3
"""How often WordNet's texts use as a verb what is read as none; and what share of its uses makes a word a verb."""


def _names_a_thing(words: list[str], item: ItemView) -> bool:
    """Whether a name begins with what is no verb; words that the lexicon does not know are not judged."""
    kinds = [parts(lemma(word)) for word in words]
    if not all(kinds) or _is_done_in(item.text.text, words[0]):
        return False
    verb = kinds[0].get("v")
    if verb is not None and "n" not in kinds[0]:
        return False
    return verb is None or verb.used <= _SELDOM or verb_share(lemma(words[0])) < _MAINLY


_NOUN_BEFORE = r"(?<!\bthe )(?<!\ba )(?<!\ban )(?<!\bof )(?<!\bits )"
_OBJECT = r" (?:a|an|the|all|every|each|one|this|its|his|her|their|your)\b"


def _is_done_in(text: str, word: str) -> bool:
    """Whether the text says that this is done: "Tare the balance" of ``tare_balance``, "lets the robot mow a strip"."""
    if lemma(lead_verb(text)) == lemma(word):
        return True
    done = rf"{_NOUN_BEFORE}\b{re.escape(word)}(?:s|es)?{_OBJECT}"
    return re.search(done, text, re.IGNORECASE) is not None


def _server_words(subject: Subject) -> frozenset[str]:
    return frozenset(re.split(r"[^a-z0-9]+", subject.snapshot.server_name.lower())) - {""}


def _vague_name(subject: Subject) -> Iterator[RuleHit]:
    vague = {*subject.style.words.vague}
    for item in subject.view.tools:
        first, *rest = item.words or ("",)
        empty = first in vague or (bool(rest) and first in _EMPTY_VERBS)
        # After a verb that says something, a task or a call is a thing like others.
        things = frozenset() if first in vague else _REAL_THINGS
        if empty and all(word in vague and word not in things for word in rest):
            message = (
                f"`{item.name}` says nothing about what it works on; name the thing and what is done to it"
            )
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _numbered_name(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        if not any(map(str.isdigit, item.name)):
            continue
        words = [
            word
            for word in re.split(r"[^a-z0-9]+", re.sub(r"(?<=[a-z])(?=[A-Z])", "_", item.name).lower())
            if word
        ]
        last = words[-1] if words else ""
        digits = re.search(r"v?\d{1,2}$", last)
        if (
            not digits
            or last in _KNOWN_NUMBERS
            or "".join(words[-2:]) in _KNOWN_NUMBERS
            or len(words) == 1 == len(last)
        ):
            continue
        if _NUMBERED.fullmatch(last) or last[: digits.start()].isalpha():
            message = f"`{item.name}` is told apart by a number; say what is different about it"
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _server_name_repeated(subject: Subject) -> Iterator[RuleHit]:
    whole = [
        word
        for word in re.split(r"[^a-z0-9]+", subject.snapshot.server_name.lower())
        if word not in ("", "mcp", "server")
    ]
    if not whole:
        return
    for item in subject.view.tools:
        words = list(item.words)
        if len(words) > len(whole) and (words[: len(whole)] == whole or words[-len(whole) :] == whole):
            if words[: len(whole)] != whole and (len(whole) == 1 or len(words) == len(whole) + 1):
                continue  # what is done to the thing, as in list_free_berths of a server called berths
            message = f"`{item.name}` repeats the server's name, which hosts put in front anyway"
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _unexplained_abbreviation(subject: Subject) -> Iterator[RuleHit]:
    known = {*map(str.lower, subject.style.words.abbreviations)}
    for item in subject.view.tools:
        short = [
            word for word in item.words if 2 <= len(word) <= 5 and word.isalpha() and not _VOWEL.search(word)
        ]
        for word in short:
            said = any(word in text.word_set for text in item.texts)
            if not said and word not in known and not known_abbreviation(word):
                message = f"`{word}` in `{item.name}` is explained nowhere; write it out or explain it"
                yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


RULES = (
    Rule(
        id="unfit-name-characters",
        family="names",
        covers=("name-charset", "name-too-long"),
        level="error",
        reason="MCP allows letters, digits, underscore, hyphen, dot and slash, 128 at most; hosts refuse the rest.",
        check=_name_characters,
        bad=tools(tool("find berth!")),
        good=tools(tool("find_berth")),
    ),
    Rule(
        id="long-name",
        family="names",
        covers=("name-too-long",),
        level="warning",
        reason="Hosts put the server's name in front of the tool's and cut what is too long.",
        check=_long_name,
        settings=(LONGEST,),
        bad=tools(tool("list_all_berths_of_a_port_that_are_free_and_long_enough_for_one_vessel")),
        good=tools(tool("list_free_berths")),
    ),
    Rule(
        id="mixed-case-styles",
        fix_is_safe=False,
        family="names",
        covers=("case-mixed",),
        level="warning",
        reason="Names of one make are read as one set; an odd one out is mistyped.",
        check=_mixed_case,
        settings=(HOUSE_CASE,),
        bad=tools(tool("list_berths"), tool("get_berth"), tool("bookBerth")),
        good=tools(tool("list_berths"), tool("get_berth"), tool("book_berth")),
    ),
    Rule(
        id="missing-verb",
        family="names",
        covers=("verb-missing",),
        level="warning",
        reason="A tool does something; a name that begins with the verb says what. One that reads, or whose text tells of what it gives, may be "
        "called by that.",
        check=_missing_verb,
        bad=tools(tool("berth_availability")),
        good=tools(tool("check_berth_availability")),
    ),
    Rule(
        id="vague-name",
        family="names",
        covers=("name-vague",),
        level="warning",
        reason="A model picks a tool by its name first; a name made of empty words gives it nothing to go by.",
        check=_vague_name,
        bad=tools(tool("process_data")),
        good=tools(tool("list_free_berths")),
    ),
    Rule(
        id="numbered-name",
        family="names",
        covers=("name-numbered",),
        level="warning",
        reason="A number does not say which of two tools is meant for a job.",
        check=_numbered_name,
        bad=tools(tool("search_berths2")),
        good=tools(tool("encode_base64")),
    ),
    Rule(
        id="server-name-repeated",
        family="names",
        covers=("server-name-repeated",),
        level="warning",
        reason="Hosts put the server's name in front; said twice it costs length and tells nothing.",
        check=_server_name_repeated,
        bad=server(
            serverInfo={"name": "berth-planner", "version": "1.0.0"},
            tools=[tool("berth_planner_list_berths")],
        ),
        good=server(serverInfo={"name": "berth-planner", "version": "1.0.0"}, tools=[tool("list_berths")]),
    ),
    Rule(
        id="unexplained-abbreviation",
        family="names",
        covers=(),
        level="note",
        reason="An abbreviation of the house means nothing to a model that was not told.",
        check=_unexplained_abbreviation,
        bad=tools(tool("get_qrt_list")),
        good=tools(tool("get_vts_list", "List the calls to the vessel traffic service (VTS) of one day.")),
    ),
)
