"""Rules on the names of items."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Setting, Subject, rewritten
from tallshelf.core.style.rules._examples import server, tool, tools
from tallshelf.core.style.view import ItemView
from tallshelf.core.words import (
    case_style,
    cased,
    is_verb,
    known_abbreviation,
    looks_alike,
    opposites,
    same_verb,
    stem,
    telling_words,
    word_set,
)
from tallshelf.core.words.acts import is_look, lead_verb
from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.reading import read

_CHARACTERS = re.compile(r"[A-Za-z0-9_./-]{1,128}")
_VOWEL = re.compile("[aeiouy]")
_NUMBERED = re.compile(r"v?\d{1,2}")
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
    server = _server_words(subject)
    for item in subject.view.tools:
        words = [word for word in item.words if word not in server] or list(item.words)
        if (
            words
            and words[0] not in own
            and not is_verb(words[0])
            and not is_verb(item.words[0])
            and not _is_called_by_what_it_gives(item)
            and _names_a_thing(words, item.text.text)
        ):
            message = f"`{item.name}` does not begin with what is done; put a verb first, such as get or list"
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _is_called_by_what_it_gives(item: ItemView) -> bool:
    """Whether its text tells of the thing that it gives: "next departure".

    Either it says that it only reads, or the text begins with no verb and speaks of what the name names.
    """
    said, hint = item.text.text, item.annotations.get("readOnlyHint")
    lead = lead_verb(said)
    if hint is True:
        return bool(said) and (not lead or is_look(lead))
    named = {stem(word) for word in item.words}
    names_first = not lead or verb_share(lemma(lead)) < _MAINLY
    return hint is None and names_first and not named.isdisjoint(telling_words(item.text.words))


_SELDOM, _MAINLY = 2, 0.3
"""How often WordNet's texts use as a verb what is read as none; and what share of its uses makes a word a verb."""


def _names_a_thing(words: list[str], text: str) -> bool:
    """Whether a name begins with what is no verb; words that the lexicon does not know are not judged."""
    kinds = [parts(lemma(word)) for word in words]
    if not all(kinds):
        return False
    verb = kinds[0].get("v")
    if verb is not None and ("n" not in kinds[0] or lemma(lead_verb(text)) == lemma(words[0])):
        return False
    return verb is None or verb.used <= _SELDOM or verb_share(lemma(words[0])) < _MAINLY


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


def _near_twins(subject: Subject) -> Iterator[RuleHit]:
    told: set[str] = set()
    named = (
        pair for pair in _pairs(subject.view.tools) if _are_twins(*pair) and pair[0].bare != pair[1].bare
    )
    for first, second in itertools.chain(named, _say_the_same(subject.view.tools)):
        for item, other in ((second, first), (first, second)):
            if item.identity not in told:
                told.add(item.identity)
                message = f"`{item.name}` and `{other.name}` differ too little to be told apart; merge or rename one"
                yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _pairs(tools: tuple[ItemView, ...]) -> Iterator[tuple[ItemView, ItemView]]:
    """Yield the pairs that share the stem of a word that is not the first, or their first letters; some twice."""
    groups: dict[str, list[ItemView]] = {}
    for item in tools:
        for key in {*item.stems[1:], item.bare[:3], " ".join(sorted(item.stems))}:
            groups.setdefault(key, []).append(item)
    for members in groups.values():
        if len(members) > 1:
            yield from itertools.combinations(members[:200], 2)


def _say_the_same(tools: tuple[ItemView, ...]) -> Iterator[tuple[ItemView, ItemView]]:
    """Yield pairs that take the same and say the same in other words, as texts are read."""
    taking: dict[tuple[str, ...], list[ItemView]] = {}
    for item in tools:
        if item.own and item.text.text:
            taking.setdefault(tuple(sorted(field.name for field in item.own)), []).append(item)
    for group in taking.values():
        saying: dict[tuple[str, ...], list[ItemView]] = {}
        for item in group if len(group) > 1 else ():
            tokens = sorted(token for clause in read(item.text.text) for token in clause.tokens)
            saying.setdefault(tuple(tokens), []).append(item)
        for alike in saying.values():
            for first, second in itertools.combinations(alike[:20], 2):
                opposed = opposites(first.stem_set, second.stem_set)
                if first.text.text != second.text.text and not opposed:
                    yield first, second


def _take_the_same(first: ItemView, second: ItemView) -> bool:
    """Whether two tools take the same parameters, by name."""
    one, other = ({field.name for field in each.parameters if field.depth == 1} for each in (first, second))
    return one == other


_SHOWING = frozenset(["get", "fetch", "list", "show", "read", "view", "display", "retrieve"])
_TURNS_ROUND = frozenset({"to", "from", "2", "into", "for", "of", "by", "in"})


def _are_twins(first: ItemView, second: ItemView) -> bool:
    if len(first.words) < 2 or len(second.words) < 2:
        return False
    if first.stems == second.stems:  # one and many: two jobs, where they take different things
        return _take_the_same(first, second)
    if first.stem_set == second.stem_set:
        return _TURNS_ROUND.isdisjoint(first.words)
    if first.stems[1:] == second.stems[1:]:
        verbs = {first.words[0], second.words[0]}
        if same_verb(*verbs) or (
            verbs <= _SHOWING and first.words[1:] == second.words[1:] and _take_the_same(first, second)
        ):
            return True
    pairs = [pair for pair in zip(first.words, second.words, strict=False) if pair[0] != pair[1]]
    if len(pairs) == 1 and len(first.words) == len(second.words) and all(map(is_verb, pairs[0])):
        return same_verb(*pairs[0])  # get and set
    one, other = first.bare, second.bare
    return (
        len(one) > 8
        and abs(len(one) - len(other)) <= 1
        and one[-1].isalpha()
        and other[-1].isalpha()
        and _one_letter_apart(one, other)
    )


def _one_letter_apart(one: str, other: str) -> bool:
    if one == other:
        return False
    start = next(
        (at for at, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), min(len(one), len(other))
    )
    return (
        one[start + 1 :] == other[start + 1 :]
        or one[start:] == other[start + 1 :]
        or one[start + 1 :] == other[start:]
    )


def _same_but_for_case(subject: Subject) -> Iterator[RuleHit]:
    seen: dict[str, str] = {}
    for item in subject.view.tools:
        before = seen.setdefault(item.bare, item.name)
        if before != item.name:
            message = f"`{item.name}` and `{before}` differ by case or separator only; models mix them up"
            yield RuleHit(item.identity, "/name", message, (0, len(item.name)))


def _lookalike_letters(subject: Subject) -> Iterator[RuleHit]:
    for name in subject.view.names:
        found = [char for char in name.text if looks_alike(char)]
        if found:
            yield RuleHit(name.item, name.pointer, _alike(found[0], name.text))
    for text in subject.view.beyond_ascii:
        for word in re.finditer(r"\w+", text.text):
            odd = [char for char in word.group() if looks_alike(char)]
            if odd and any(char.isascii() and char.isalpha() for char in word.group()):
                latin = "".join(looks_alike(char) or char for char in word.group())
                yield RuleHit(
                    text.item,
                    text.pointer,
                    _alike(odd[0], word.group()),
                    word.span(),
                    rewritten(text, word.span(), latin),
                )
                break


def _alike(char: str, word: str) -> str:
    return f"{char!r} (U+{ord(char):04X}) in {word!r} only looks like {looks_alike(char)!r}; write the Latin letter"


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
        id="near-twin-names",
        family="names",
        covers=("name-near-twin",),
        level="warning",
        reason="Of two names that mean the same a model picks one by chance.",
        check=_near_twins,
        bad=tools(tool("get_berth"), tool("fetch_berth")),
        good=tools(tool("list_berths"), tool("get_berth"), tool("delete_berth")),
    ),
    Rule(
        id="same-but-for-case",
        family="names",
        covers=("name-near-twin", "case-mixed"),
        level="error",
        reason="Names that differ by case or separator only are one name to a reader.",
        check=_same_but_for_case,
        bad=tools(tool("find_berth"), tool("findBerth")),
        good=tools(tool("find_berth"), tool("find_vessel")),
    ),
    Rule(
        id="lookalike-letters",
        family="names",
        covers=("lookalike-letters", "hidden-characters"),
        level="error",
        reason="A letter of another script makes another name that looks the same.",
        check=_lookalike_letters,
        bad=tools(tool("list_b\u0435rths")),
        good=tools(tool("list_berths", "Lists the berths of Дубровник and of Åbo, by their length.")),
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
