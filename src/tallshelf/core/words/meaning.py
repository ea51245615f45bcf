"""Words that stand for the same thing in the texts of tools, and words that are opposites."""

from __future__ import annotations

from tallshelf.core.words.remembered import remembered
from tallshelf.core.words.split import stem

_SAME = """
directory folder dir
repository repo
user member person people staff employee
message msg
mail email
picture image photo img
url link uri href
webpage website site page
documentation doc
issue ticket
conversation chat thread
event meeting appointment
paper article publication
stock share equity
database db
configuration config setting preference
parameter param argument arg
command cmd
latest recent newest last
now current today present
location place
time clock datetime
note memo
task todo
label tag
customer client
vessel ship boat
number count amount
maximum max
minimum min
average avg mean
environment env
variable var
application app
information info
authentication auth
organization organisation org
category kind type
schedule timetable
route path
remark comment
price cost
trip journey travel
"""
_OPPOSITES = """
staged unstaged
incoming outgoing
inbound outbound
inbox sent
first last
oldest newest
minimum maximum
lowest highest
smallest largest
upcoming past
previous next
before after
open closed
public private
source target
local remote
global local
encode decode
encrypt decrypt
compress decompress
serialize parse
import export
upload download
push pull
login logout
lock unlock
start stop
pause resume
enable disable
activate deactivate
add remove
attach detach
mount unmount
connect disconnect
read write
send receive
up down
left right
forward back
show hide
accept reject
approve decline
buy sell
deposit withdraw
increase decrease
follow unfollow
subscribe unsubscribe
like unlike
archive unarchive
pin unpin
star unstar
assign unassign
mute unmute
block unblock
publish unpublish
departure arrival
depart arrive
parent child
sender recipient
active inactive
online offline
installed available
asynchronous synchronous
income expense
credit debit
forecast historical
forecast history
forecast current
current historical
"""
_GROUP = {stem(word): line.split()[0] for line in _SAME.strip().splitlines() for word in line.split()}
_MEMBERS: dict[str, frozenset[str]] = {
    word: frozenset(line.split()) - {word} for line in _SAME.strip().splitlines() for word in line.split()
}
_COMPOUNDS = {
    ("pull", "request"): "pull request",
    ("merge", "request"): "pull request",
    ("web", "page"): "webpage",
    ("web", "site"): "webpage",
    ("e", "mail"): "mail",
    ("phone", "number"): "phone",
    ("file", "system"): "filesystem",
    ("data", "base"): "database",
    ("time", "zone"): "timezone",
    ("time", "table"): "schedule",
    ("key", "word"): "keyword",
    ("user", "name"): "username",
    ("file", "path"): "path",
    ("file", "name"): "path",
    ("check", "out"): "checkout",
    ("log", "in"): "login",
    ("log", "out"): "logout",
    ("look", "up"): "lookup",
    ("set", "up"): "setup",
}


def alike(word: str) -> frozenset[str]:
    """Return the words that stand for the same as a base form in the texts of tools; none of most."""
    return _MEMBERS.get(word, frozenset())


@remembered(65_536, 40)
def meaning(word: str) -> str:
    """Return what a lower-case word stands for: the first of its group, or its stem."""
    root = stem(word)
    return _GROUP.get(root, root)


def meanings(words: tuple[str, ...]) -> tuple[str, ...]:
    """Return what words in order stand for; pairs that make one thing, such as pull request, are one."""
    found: list[str] = []
    at = 0
    while at < len(words):
        pair = (words[at], stem(words[at + 1])) if at + 1 < len(words) else ("", "")
        if pair in _COMPOUNDS:
            found.append(_COMPOUNDS[pair])
            at += 2
        else:
            found.append(meaning(words[at]))
            at += 1
    return tuple(found)


_PAIRS = [tuple(stem(word) for word in line.split()) for line in _OPPOSITES.strip().splitlines()]
_OPPOSITE: dict[str, frozenset[str]] = {}
for _one, _other in _PAIRS:
    for _word, _against in ((_one, _other), (_other, _one)):
        _OPPOSITE[_word] = _OPPOSITE.get(_word, frozenset()) | {_against}


def opposites(left: frozenset[str], right: frozenset[str]) -> tuple[str, str] | None:
    """Return a word of the one set and its opposite in the other, where neither set has both."""
    for word in sorted(left - right):
        for against in sorted(_against_of(word) & right - left):
            return word, against
    return None


@remembered(16_384, 40)
def _against_of(word: str) -> frozenset[str]:
    root = stem(word)
    undone = {root[len(prefix) :] for prefix in ("un", "dis", "de") if root.startswith(prefix)}
    return _OPPOSITE.get(root, frozenset()) | {f"un{root}", f"dis{root}", f"de{root}"} | undone
