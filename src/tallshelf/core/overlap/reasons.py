"""What two items share and where they differ, in sentences that a person can check."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from tallshelf.core.overlap.profile import Profile
from tallshelf.core.overlap.score import Score

_VERBS = {
    "read": "look up",
    "list": "list",
    "find": "find",
    "create": "create",
    "change": "change",
    "remove": "remove",
    "stop": "stop",
    "start": "start",
    "send": "send",
    "check": "check",
    "count": "work out",
    "import": "import",
    "export": "export",
}
_FEW = 6


def reasons_for(a: Profile, b: Profile, scored: Score) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return why a pair may do one job, and what is different about it."""
    return tuple(_shared(a, b)), (*(factor.words for factor in scored.apart), *_differing(a, b))


def _shared(a: Profile, b: Profile) -> Iterator[str]:
    things = [word for word in a.things if word in set(b.things)]
    about = {a.head, b.head} & set(things) or not (a.head and b.head)
    if a.verb and a.verb == b.verb and things and about:
        verb = a.verb_word if a.verb_word == b.verb_word != "lookup" else _VERBS.get(a.verb, a.verb)
        yield f"both {verb} {_list(a, things)}"
    elif things and about:
        yield f"both are about {_list(a, things)}"
    elif things:
        yield f"their names share {_quoted(a.said.get(word, word) for word in things)}"
    texts = sorted(
        (word for word in a.text if word in b.text and not word.startswith("(")),
        key=lambda word: (-a.text[word] * b.text[word], word),
    )
    if texts:
        yield f"their texts share {_quoted(a.said.get(word, word) for word in texts[:_FEW])}" + (
            f" and {len(texts) - _FEW} more" if len(texts) > _FEW else ""
        )
    yield from _parameters(a, b)
    if a.results and b.results:
        same = a.results & b.results
        yield f"their results share {len(same)} of {len(a.results | b.results)} fields"


def _parameters(a: Profile, b: Profile) -> Iterator[str]:
    same = [key for key in a.parameters if key in b.parameters]
    if not a.parameters and not b.parameters:
        yield "neither takes a parameter"
    elif same and len(same) == len(a.parameters) == len(b.parameters):
        names = _quoted(_called(a, b, key) for key in same)
        yield f"the same parameter: {names}" if len(same) == 1 else f"the same parameters: {names}"
    elif same:
        whole = len({*a.parameters, *b.parameters})
        yield f"{len(same)} of {whole} parameters are the same: {_quoted(_called(a, b, key) for key in same)}"


def _called(a: Profile, b: Profile, key: str) -> str:
    """Return what a parameter is called, by both names where they differ."""
    left, right = a.takes.get(key, key), b.takes.get(key, key)
    return left if left == right else f"{left} / {right}"


def _differing(a: Profile, b: Profile) -> Iterator[str]:
    for own, other, which in ((a, b, "first"), (b, a, "second")):
        only = [key for key in own.parameters if key not in other.parameters]
        needed = [own.takes.get(key, key) for key in only if own.parameters[key][1]]
        rest = [own.takes.get(key, key) for key in only if not own.parameters[key][1]]
        if needed:
            yield f"only the {which} needs {_quoted(needed[:_FEW])}"
        if rest:
            yield f"only the {which} can take {_quoted(rest[:_FEW])}"
    for key, (kind, _) in a.parameters.items():
        other_kind = b.parameters.get(key, ("", False))[0]
        if kind and other_kind and kind != other_kind:
            yield f"“{_called(a, b, key)}” is {kind} in the first and {other_kind} in the second"


def _list(profile: Profile, words: Iterable[str]) -> str:
    return " ".join(profile.said.get(word, word) for word in words)


def _quoted(words: Iterable[str]) -> str:
    return ", ".join(f"“{word}”" for word in words)
