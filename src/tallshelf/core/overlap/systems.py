"""The system that a server works on (this database, that code host), as its own texts and names give it away."""

from __future__ import annotations

import functools
import re
from collections import Counter
from collections.abc import Sequence

from tallshelf.core.snapshot import Item
from tallshelf.core.words.lexicon import base_forms, is_word
from tallshelf.core.words.lists import known_abbreviation
from tallshelf.core.words.meaning import meaning
from tallshelf.core.words.split import is_stop_word, split_identifier, word_set

_CAPITAL = re.compile(r"(?<=[a-z,;(] )[A-Z][A-Za-z0-9]{2,}\b")
_WORD = re.compile(r"[A-Za-z][A-Za-z0-9]{2,}")
_FEWEST, _SHARE = 2, 0.25
_OF_ALL = word_set(
    """
mcp api json yaml xml html markdown http https url uri oauth utc iso id ids uuid sql cli sdk jwt csv pdf regex utf
unicode async boolean bool int str param params args config auth metadata timestamp datetime pagination webhook webhooks
plugin readme english monday tuesday wednesday thursday friday saturday sunday january february march april june july
august september october november december use returns return required optional default note example examples important
if when with without from this that than what against into onto upon your their these those which whose whom about after
before between during through until within since because although unless whether while where there every each both
either neither nor per via you they them its our ours any some such only stderr stdout urls from get list create
update delete search find set add remove true false none null server tool tools
should would could must may might shall cannot never always only
"""
)
"""What servers of every system speak of."""
_WARES = word_set(
    "servers mcp service services client manager tools toolkit gateway bridge wrapper helper plus simple cloud"
    " npx uvx npm node python fastmcp"
)


def system_of(items: Sequence[Item], server_name: str = "") -> frozenset[str]:
    """Return the names of what a server works on, in lower case: those that it keeps writing as names.

    A name is no English word, or is written with a capital in the middle of sentences; it stands in a text, and in the
    server's own name, or in a quarter of its items, at least two. What only names say is what the owners call their
    server: it is kept in parentheses, and tells it apart only from one that names its system.
    """
    seen: Counter[str] = Counter()
    told: set[str] = set()
    for item in items:
        written = {word.lower() for word in _CAPITAL.findall(item.description)}
        written |= {word.lower() for word in _WORD.findall(item.description) if _is_unknown(word.lower())}
        told |= written
        seen.update((written | {word for word in split_identifier(item.name) if _is_unknown(word)}) - _OF_ALL)
    least = max(_FEWEST, round(_SHARE * len(items)))
    named = {*split_identifier(server_name), *_WORD.findall(server_name.lower())} - _OF_ALL
    often = {word for word, number in seen.items() if number >= least and not known_abbreviation(word)}
    found = (often | named) & told
    return frozenset(found or {f"({word})" for word in named if word not in _WARES})


# Names of one system by its formats, protocols and short forms.
_CALLED_ALIKE = {
    word: line.split()[0]
    for line in (
        "mail email imap smtp pop3 mailbox",
        "docx word doc",
        "xlsx excel xls spreadsheet",
        "pptx powerpoint ppt slides",
        "postgres postgresql pg",
        "kubernetes kubectl k8s",
        "ssh sftp scp",
        "mongodb mongo",
        "elasticsearch opensearch",
        "javascript js",
        "calendar caldav ical",
        "chart charts graph graphs",
        "browser chrome chromium firefox playwright puppeteer selenium webdriver devtools",
        "youtube yt",
        "duckduckgo ddg",
        "hackernews hn",
        "homeassistant hass",
        "telegram tg",
        "sqlite sqlite3",
        "mssql sqlserver",
    )
    for word in line.split()
}


def share_system(one: frozenset[str], other: frozenset[str]) -> bool:
    """Whether two servers name one system, perhaps one by a longer name; true where neither surely names one.

    A plain word of a server's name is no name of a system, and tells it apart only from one that has a name.
    """
    if _names_none(one) and _names_none(other):
        return True
    if not one or not other:
        return True
    return any(_alike(left.strip("()"), right.strip("()")) for left in one for right in other)


def is_named_alike(one: frozenset[str], other: frozenset[str]) -> bool:
    """Whether two servers surely name one system by the same name, or by names that stand for one another."""
    return not _kinds(one).isdisjoint(_kinds(other))


@functools.lru_cache(maxsize=4_096)
def _kinds(system: frozenset[str]) -> frozenset[str]:
    return frozenset(_CALLED_ALIKE.get(word, word) for word in system if not word.startswith("("))


_ONE_THING = {
    "mail": ("mail", "message"),
    "ssh": ("server", "host", "machine", "connection"),
}
"""By the kind of system, what people call by several names there: a message in a mailbox is a mail."""


def one_thing_in(system: frozenset[str]) -> frozenset[str]:
    """Return the words that stand for one thing where this is what is worked on; none of most."""
    bare = {word.strip("()") for word in system}
    return frozenset(
        meaning(word)
        for kind, words in _ONE_THING.items()
        if any(_alike(one, kind) for one in bare)
        for word in words
    )


def _names_none(system: frozenset[str]) -> bool:
    return all(word.startswith("(") for word in system)


def _alike(left: str, right: str) -> bool:
    left, right = _CALLED_ALIKE.get(left, left), _CALLED_ALIKE.get(right, right)
    short, long = sorted((left, right), key=len)
    return short in long if len(short) > 3 else short == long


def _is_unknown(word: str) -> bool:
    if len(word) <= 3 or known_abbreviation(word) or is_stop_word(word):
        return False
    # The lexicon has no words such as untrusted.
    denied = word.removeprefix("un") if word.endswith(("ed", "able")) else word
    return not any(is_word(base) for form in (word, denied) for base in base_forms(form))
