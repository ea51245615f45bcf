"""What keeps two items apart, whatever is alike: other acts, one and many, reading and writing, things, systems."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from tallshelf.core.overlap.names import EMPTY_VERBS
from tallshelf.core.overlap.profile import Profile
from tallshelf.core.overlap.systems import share_system
from tallshelf.core.words.classes import VERB_CLASSES, opposed
from tallshelf.core.words.meaning import opposites
from tallshelf.core.words.split import stem, word_set

SAME_JOB = 0.50
"""From where two items do the same job."""
NEAR_AT_MOST = SAME_JOB - 0.01
"""Whatever keeps a pair apart, it is not surely the same job."""
_LOOKING = frozenset({"read", "list", "find", "check"})
_WRITING = frozenset({"create", "change", "remove", "stop", "start", "send", "import"})


class Factor(Struct, frozen=True):
    """One thing that keeps a pair apart: how much of the score it leaves, the most it lets be, in words.

    ``is_act`` where it is what they do that differs, and not what they do it to.
    """

    leaves: float
    words: str
    most: float = NEAR_AT_MOST
    is_act: bool = False


def _verbs(a: Profile, b: Profile) -> Factor | None:
    left, right = a.verb, b.verb
    if not left or not right:
        only, other = (left, b) if left else (right, a)
        unsaid = only in VERB_CLASSES and only not in other.does
        if only in _LOOKING and not other.writes:
            return None  # what says no verb is read
        return (
            Factor(0.9, f"only the {'first' if left else 'second'} says that it is to {only}")
            if unsaid
            else None
        )
    if left == right:
        if left == "read" and a.head in a.many and b.head in b.many:
            return _looking(a, b)
        if left not in VERB_CLASSES or _alike(a.verb_word, b.verb_word):
            return None
        return Factor(0.92, f"one says {a.verb_word}, the other {b.verb_word}")
    if _alike(a.verb_word, b.verb_word) or _makes(a, b) or _makes(b, a):
        return None
    told = f"one is to {left}, the other to {right}"
    known = left in VERB_CLASSES and right in VERB_CLASSES
    if known and opposed(left, right):
        return Factor(0.3, told, is_act=True)
    if {left, right} <= _LOOKING:
        return _looking(a, b)
    if left in _WRITING and right in _WRITING:
        return Factor(_BOTH_WRITE.get(frozenset({left, right}), 0.7), told, is_act=True)
    if {left, right} & EMPTY_VERBS:
        return None
    changes = not {left, right}.isdisjoint(_WRITING) and " " not in left + right
    return Factor(0.7 if known else 0.85, told, is_act=known or changes)


def _makes(a: Profile, b: Profile) -> bool:
    """Whether one says in a verb what the other makes by name: to draft a letter is to create a draft."""
    return b.verb == "create" and stem(a.verb_word) in b.named and a.verb not in VERB_CLASSES


def _alike(left: str, right: str) -> bool:
    left, right = stem(left), stem(right)
    return left == right or any(left in words and right in words for words in _SAME_VERBS)


_SAME_VERBS = tuple(
    frozenset(map(stem, words.split()))
    for words in (
        "get fetch read retrieve show view load look lookup obtain",
        "create add insert new make register post",
        "update edit modify change patch set",
        "remove delete drop erase destroy",
        "list enumerate browse",
        "find search query lookup locate",
        "cancel stop end abort",
        "calculate compute work",
        "upload import",
        "check validate verify",
        "start open begin",
    )
)


def _amounts(a: Profile, b: Profile) -> Factor | None:
    """Tell what is about one thing from what is about many of them."""
    both = a.named & b.named
    # In tide_times the tide is singular whatever is meant: what stands in the plural is the times.
    differ = frozenset(
        one for one in (a.many & both) ^ (b.many & both) if not (_carried(a, one) or _carried(b, one))
    )
    if not differ or (a.verb in _LISTING and b.verb in _LISTING):
        return None
    many = next(iter(sorted(differ)))
    # What is done to many at once is the same work, where a server has no other way to do it to one; to get one, and to
    # get many, is not.
    batch = a.verb == b.verb and a.verb not in _LOOKING and not (_has_both(a) or _has_both(b))
    said = (a if many in b.many else b).said.get(many, many)
    told = _told(f"is about one {said}", "about many", many in b.many)
    return Factor(0.95, told, 1.0) if batch else Factor(0.88, told, is_act=a.verb == b.verb)


def _has_both(profile: Profile) -> bool:
    """Whether its server does the same to one and to many."""
    return {f"{profile.verb} one", f"{profile.verb} many"} <= profile.beside | {profile.act}


def _looking(a: Profile, b: Profile) -> Factor | None:
    """Tell getting one, listing and finding apart."""
    left, right = (_amounts_of(profile) for profile in (a, b))
    if left & right:
        return None
    one, other = min(left), min(right)
    return Factor(_AMOUNTS[frozenset({one, other})], f"one is to {one}, the other to {other}")


_LIST = stem("list")


def _amounts_of(profile: Profile) -> frozenset[str]:
    """Return how much a tool may look for: to find one thing is to look it up as well."""
    if profile.verb == "read":
        if not profile.head:
            return frozenset({"list", "look one up"})
        says_so = _LIST in profile.first or "list many" not in profile.beside  # "Get a list of teams"
        lists = profile.head in profile.many and says_so
        return frozenset({"list" if lists else "look one up"})
    if (
        profile.verb == "find"
        and profile.verb_word == "find"
        and profile.head
        and profile.head not in profile.many
    ):
        return frozenset({"find", "look one up"})
    return frozenset({str(profile.verb)})


_AMOUNTS = {
    frozenset({"list", "look one up"}): 0.75,
    frozenset({"find", "look one up"}): 0.8,
    frozenset({"find", "list"}): 0.85,
    frozenset({"check", "look one up"}): 0.9,
    frozenset({"check", "list"}): 0.75,
    frozenset({"check", "find"}): 0.75,
}
_BOTH_WRITE = {
    frozenset({"create", "send"}): 0.85,
    frozenset({"create", "import"}): 0.9,
    frozenset({"create", "start"}): 0.85,
    frozenset({"remove", "stop"}): 0.85,
    frozenset({"create", "change"}): 0.75,
    frozenset({"change", "remove"}): 0.5,
}


def _carried(profile: Profile, thing: str) -> bool:
    """Whether a thing that is no head stands before a head in the plural."""
    return thing != profile.head and thing not in profile.many and profile.head in profile.many


_LISTING = frozenset({"list", "find"})


def _told(one: str, other: str, second_is_other: bool) -> str:
    return (
        f"the first {one}, the second {other}" if second_is_other else f"the first {other}, the second {one}"
    )


def _annotations(a: Profile, b: Profile) -> Factor | None:
    if a.writes is None or b.writes is None or a.writes == b.writes:
        return None
    return Factor(0.9, _told("only reads", "may write", b.writes))


def _opposite_words(a: Profile, b: Profile) -> Factor | None:
    found = opposites(a.words, b.words)
    return Factor(0.35, f"“{found[0]}” is the opposite of “{found[1]}”") if found else None


def _things(a: Profile, b: Profile) -> Factor | None:
    """Tell what the names are about apart, where neither text explains the other's name."""
    left, right = _unexplained(a, b), _unexplained(b, a)
    if not left and not right:
        if a.head and b.head and a.head != b.head:
            return Factor(
                0.92,
                f"one is about {_some(a, frozenset([a.head]))}, the other about {_some(b, frozenset([b.head]))}",
            )
        return None
    if left and right:
        return Factor(0.7, f"one is about {_some(a, left)}, the other about {_some(b, right)}")
    own, only, which = (a, left, "first") if left else (b, right, "second")
    return Factor(0.9, f"only the {which} speaks of {_some(own, only)}")


def _unexplained(own: Profile, other: Profile) -> frozenset[str]:
    """Return the things in one's name that the other does not say, nor take or have all around it beside its head."""
    return own.named - other.explained - ((other.themes | other.taken) - {own.head})


def _brands(a: Profile, b: Profile) -> Factor | None:
    """Tell apart what is done at one source and at another."""
    if not a.brand or not b.brand or a.brand & b.brand:
        return None
    return Factor(0.92, f"one is at {', '.join(sorted(a.brand))}, the other at {', '.join(sorted(b.brand))}")


_PUBLIC = frozenset(
    map(stem, word_set("web internet weather headline exchange currency translation paper map"))
)
"""What is one service, whoever provides it."""


def of_one_public_service(a: Profile, b: Profile) -> bool:
    """Whether both are at a service that is one whoever provides it, such as web search."""
    return not _PUBLIC.isdisjoint({*a.things, *a.first} & {*b.things, *b.first})


def _systems(a: Profile, b: Profile) -> Factor | None:
    """Tell apart what is done on one system and on another; providers of one public service are one."""
    if share_system(a.system, b.system) or of_one_public_service(a, b):
        return None
    left, right = (", ".join(sorted(profile.system)[:2]) for profile in (a, b))
    return Factor(1.0, f"one works on {left}, the other on {right}")


def _some(profile: Profile, words: frozenset[str]) -> str:
    return ", ".join(sorted(profile.said.get(word, word) for word in words)[:3])


CHECKS: tuple[Callable[[Profile, Profile], Factor | None], ...] = (
    _verbs,
    _amounts,
    _annotations,
    _opposite_words,
    _things,
    _brands,
    _systems,
)
