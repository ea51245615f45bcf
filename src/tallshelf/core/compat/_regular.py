"""Strings under patterns: whether one fits some patterns and none of others, and which.

Patterns are read into automata (Thompson 1968) that are walked in step, breadth first: the
string found is a shortest one, and the work is bounded in states.
"""

from __future__ import annotations

import functools
from collections.abc import Iterable, Iterator
from typing import Any, Protocol

import jsonschema_rs
from msgspec import Struct, field

from tallshelf.core.compat._derive import Derived
from tallshelf.core.compat._pattern import (
    EVERY,
    Chain,
    Char,
    Choice,
    Edge,
    Ranges,
    Repeat,
    Tree,
    Unreadable,
    literal,
    parse,
)
from tallshelf.core.compat._search import searched

_MOST_STATES = 1_500
_MOST_STEPS = 4_000
_MOST_DERIVED = 30_000
_LEVELS = 400
_LONGEST_ROUND = 8
_READABLE = [*range(97, 123), *range(48, 58), *range(65, 91), 45, 95, 46, 32]


class Unsure(Exception):
    """It was not found out: a pattern is not read here, or the bound on states was met."""


@functools.lru_cache(maxsize=1024)
def _pattern(pattern: str) -> Any:
    try:
        return jsonschema_rs.Draft202012Validator(
            {"pattern": pattern}, pattern_options=jsonschema_rs.RegexOptions()
        )
    except (ValueError, jsonschema_rs.ValidationError):
        return None


def matches(pattern: str, text: str) -> bool | None:
    """Whether a pattern is found in a text, by engines without backtracking; None if they cannot read it."""
    validator = _pattern(pattern)
    return searched(pattern, text) if validator is None else bool(validator.is_valid(text))


def is_read(pattern: str) -> bool:
    """Whether the validator's engine reads a pattern."""
    return _pattern(pattern) is not None


class Automaton(Protocol):
    """What reads a text character by character; states can be kept in sets."""

    @property
    def ranges(self) -> list[Ranges]: ...
    def start(self) -> Any: ...
    def after(self, state: Any, letter: int) -> Any: ...
    def takes(self, state: Any) -> bool: ...
    def is_dead(self, state: Any) -> bool: ...


_Place = tuple[frozenset[int], bool]
"""States of `_Walked`, and whether nothing was read."""


class _Walked(Struct, frozen=True, eq=False):
    """States are numbers, 0 the start and 1 the end; both loop, since a pattern is searched for."""

    moves: list[list[tuple[Ranges, int]]] = field(default_factory=list)
    free: list[list[tuple[bool | None, int]]] = field(default_factory=list)

    @property
    def ranges(self) -> list[Ranges]:
        """Return the sets of characters that it tells apart."""
        return [ranges for moves in self.moves for ranges, _ in moves]

    def state(self) -> int:
        """Add a state."""
        if len(self.moves) >= _MOST_STATES:
            raise Unreadable
        self.moves.append([])
        self.free.append([])
        return len(self.moves) - 1

    def start(self) -> _Place:
        """Return the states before the first character."""
        return self._closure([0], first=True), True

    def after(self, state: _Place, letter: int) -> _Place:
        """Return the states after one character more."""
        reached = {
            target
            for own in state[0]
            for ranges, target in self.moves[own]
            if any(low <= letter <= high for low, high in ranges)
        }
        return self._closure(reached, first=False), False

    def takes(self, state: _Place) -> bool:
        """Whether the text may end here."""
        return 1 in self._closure(state[0], first=state[1], last=True)

    def is_dead(self, state: _Place) -> bool:
        """Whether no text goes on from here."""
        return not state[0]

    def _closure(self, states: Iterable[int], *, first: bool, last: bool = False) -> frozenset[int]:
        """Return all states reached without a character, at the text's start or end."""
        found, left = set(states), list(states)
        while left:
            for edge, target in self.free[left.pop()]:
                if target not in found and (edge is None or (first if edge else last)):
                    found.add(target)
                    left.append(target)
        return frozenset(found)


def _build(automaton: _Walked, tree: Tree, start: int, end: int) -> None:
    if isinstance(tree, Char):
        automaton.moves[start].append((tree.ranges, end))
    elif isinstance(tree, Edge):
        automaton.free[start].append((tree.start, end))
    elif isinstance(tree, Choice):
        for choice in tree.choices:
            _build(automaton, choice, start, end)
    elif isinstance(tree, Chain):
        for part in tree.parts:
            start, before = automaton.state(), start
            _build(automaton, part, before, start)
        automaton.free[start].append((None, end))
    elif isinstance(tree, Repeat):
        _repeat(automaton, tree, start, end)
    else:
        raise _LooksAround


def _repeat(automaton: _Walked, tree: Repeat, start: int, end: int) -> None:
    for _ in range(tree.fewest):
        start, before = automaton.state(), start
        _build(automaton, tree.part, before, start)
    if tree.most is None:
        inner, again = automaton.state(), automaton.state()
        automaton.free[start].append((None, inner))
        automaton.free[inner] += [(None, end)]
        _build(automaton, tree.part, inner, again)
        automaton.free[again].append((None, inner))
        return
    for _ in range(tree.most - tree.fewest):
        automaton.free[start].append((None, end))
        start, before = automaton.state(), start
        _build(automaton, tree.part, before, start)
    automaton.free[start].append((None, end))


def _searching(tree: Tree) -> _Walked:
    automaton = _Walked()
    start, end = automaton.state(), automaton.state()
    inner = automaton.state()
    automaton.free[start].append((None, inner))
    _build(automaton, tree, inner, end)
    automaton.moves[start].append((EVERY, start))
    automaton.moves[end].append((EVERY, end))
    return automaton


class _LooksAround(Exception):
    """A pattern with conditions on what stands around, whose automaton is derived."""


@functools.lru_cache(maxsize=512)
def _read(pattern: str) -> Automaton | None:
    try:
        tree = parse(pattern)
        try:
            return _searching(tree)
        except _LooksAround:
            return Derived(tree)
    except (Unreadable, RecursionError):
        return None


@functools.lru_cache(maxsize=256)
def find_string(
    like: frozenset[str],
    unlike: frozenset[str] = frozenset(),
    excluded: frozenset[str] = frozenset(),
    shortest: int = 0,
    longest: int | None = None,
) -> str | None:
    """Return a shortest string that fits, or None where none does; lengths in characters.

    Raises `Unsure` where a pattern is not read or the bound on states was met.
    """
    automata = [_read(pattern) for pattern in sorted(like)]
    automata += [_read(pattern) for pattern in sorted(unlike)]
    if excluded:
        if any(len(text) > _LEVELS for text in excluded):
            raise Unsure
        automata.append(_searching(Choice(tuple(literal(text) for text in sorted(excluded)))))
    walk = _Walk([_known(automaton) for automaton in automata], len(like), shortest, longest)
    try:
        return walk.far() if shortest > _LEVELS else walk.near()
    except (Unreadable, RecursionError):
        raise Unsure from None


def _known(automaton: Automaton | None) -> Automaton:
    if automaton is None:
        raise Unsure
    return automaton


States = tuple[Any, ...]


class _Walk:
    """Several automata in step: the first ``wanted`` of them must take the text, the others must not."""

    def __init__(self, automata: list[Automaton], wanted: int, shortest: int, longest: int | None) -> None:
        self._automata = automata
        self._wanted = wanted
        self._shortest = shortest
        self._longest = longest
        self._letters = _letters(automata)
        self._left = _MOST_STEPS
        self._known: dict[tuple[int, Any, int], Any] = {}
        self._derived = [
            (automaton, automaton.work) for automaton in automata if isinstance(automaton, Derived)
        ]
        self._start: States = tuple(automaton.start() for automaton in automata)

    def near(self) -> str | None:
        """Return a shortest text, breadth first, where lengths are few."""
        level, seen, length = {self._start: ""}, {(self._start, 0)}, 0
        while level:
            for states, text in level.items():
                if length >= self._shortest and self._takes(states):
                    return text
            if self._longest is not None and length >= self._longest:
                return None
            below: dict[States, str] = {}
            length += 1
            for states, text in level.items():
                for letter, after in self._steps(states):
                    key = after, min(length, self._shortest)
                    if key not in seen:
                        seen.add(key)
                        below[after] = text + chr(letter)
            level = below
        return None

    def far(self) -> str | None:
        """Return a text of a great length: to a state, round and round from there, and on to an end."""
        to, order = {self._start: ""}, [self._start]
        moves: dict[States, list[tuple[int, States]]] = {}
        for states in order:
            moves[states] = list(self._steps(states))
            for letter, after in moves[states]:
                if after not in to:
                    to[after] = to[states] + chr(letter)
                    order.append(after)
        on = self._on(order, moves)
        useful = [states for states in order if states in on]
        for states in useful:
            around = _round(states, moves, on)
            if around is None:
                continue
            rounds = -(-(self._shortest - len(to[states]) - len(on[states])) // len(around))
            text = to[states] + around * max(0, rounds) + on[states]
            if self._longest is None or len(text) <= self._longest:
                return text
        if self._shortest >= len(useful) and not any(_round(one, moves, on, len(useful)) for one in useful):
            return None  # no text goes round, so that none is longer than there are states
        raise Unsure

    def _on(self, order: list[States], moves: dict[States, list[tuple[int, States]]]) -> dict[States, str]:
        """Return the shortest way from each state to an end, where there is one."""
        on = {states: "" for states in order if self._takes(states)}
        grown = bool(on)
        while grown:
            grown = False
            for states in order:
                if states in on:
                    continue
                ways = [chr(letter) + on[after] for letter, after in moves[states] if after in on]
                if ways:
                    on[states] = min(ways, key=len)
                    grown = True
        return on

    def _steps(self, states: States) -> Iterator[tuple[int, States]]:
        for letter in self._letters:
            self._left -= 1
            if (
                self._left < 0
                or sum(derived.work - before for derived, before in self._derived) > _MOST_DERIVED
            ):
                raise Unsure
            after = tuple(
                self._after(index, automaton, own, letter)
                for index, (automaton, own) in enumerate(zip(self._automata, states, strict=True))
            )
            wanted = zip(self._automata[: self._wanted], after, strict=False)
            if not any(automaton.is_dead(own) for automaton, own in wanted):
                yield letter, after

    def _after(self, index: int, automaton: Automaton, state: Any, letter: int) -> Any:
        key = index, state, letter
        if key not in self._known:
            self._known[key] = automaton.after(state, letter)
        return self._known[key]

    def _takes(self, states: States) -> bool:
        return all(
            automaton.takes(own) == (index < self._wanted)
            for index, (automaton, own) in enumerate(zip(self._automata, states, strict=True))
        )


def _round(
    start: States,
    moves: dict[States, list[tuple[int, States]]],
    on: dict[States, str],
    most: int = _LONGEST_ROUND,
) -> str | None:
    """Return a shortest way from a state back to it, of at most some characters."""
    level, seen = {start: ""}, set[States]()
    for _ in range(most):
        below: dict[States, str] = {}
        for states, text in level.items():
            for letter, after in moves[states]:
                if after == start:
                    return text + chr(letter)
                if after in on and after not in seen:
                    seen.add(after)
                    below[after] = text + chr(letter)
        level = below
    return None


def _letters(automata: list[Automaton]) -> list[int]:
    """Return one character, a readable one where there is, of each class that no range tells apart."""
    cuts = {0}
    for automaton in automata:
        for ranges in automaton.ranges:
            for low, high in ranges:
                cuts |= {low, high + 1}
    starts = sorted(cut for cut in cuts if cut <= 0x10FFFF)
    chosen: list[int] = []
    for start, end in zip(starts, [*starts[1:], 0x110000], strict=True):
        if not 0xD800 <= start <= 0xDFFF or end > 0xE000:
            own = start if start not in range(0xD800, 0xE000) else 0xE000
            chosen.append(next((one for one in _READABLE if start <= one < end), own))
    return sorted(chosen, key=lambda one: (_READABLE.index(one) if one in _READABLE else 99, one))
