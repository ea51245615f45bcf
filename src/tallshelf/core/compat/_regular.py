"""Strings under patterns: whether one fits some patterns and none of others, and which.

Patterns are read into automata (Thompson 1968) that are walked in step, breadth first: the
string found is a shortest one, and the work is bounded in states.
"""

from __future__ import annotations

import functools
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

import jsonschema_rs

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
_LONGEST = 400
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


@dataclass(frozen=True)
class _Automaton:
    """States are numbers, 0 the start and 1 the end; both loop, since a pattern is searched for."""

    moves: list[list[tuple[Ranges, int]]] = field(default_factory=list)
    free: list[list[tuple[bool | None, int]]] = field(default_factory=list)

    def state(self) -> int:
        if len(self.moves) >= _MOST_STATES:
            raise Unreadable
        self.moves.append([])
        self.free.append([])
        return len(self.moves) - 1

    def closure(self, states: Iterable[int], *, first: bool, last: bool = False) -> frozenset[int]:
        """Return all states reached without a character, at the text's start or end."""
        found, left = set(states), list(states)
        while left:
            for edge, target in self.free[left.pop()]:
                if target not in found and (edge is None or (first if edge else last)):
                    found.add(target)
                    left.append(target)
        return frozenset(found)


def _build(automaton: _Automaton, tree: Tree, start: int, end: int) -> None:
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
        raise Unreadable  # look-around and word edges are searched for, not walked


def _repeat(automaton: _Automaton, tree: Repeat, start: int, end: int) -> None:
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


def _searching(tree: Tree) -> _Automaton:
    automaton = _Automaton()
    start, end = automaton.state(), automaton.state()
    inner = automaton.state()
    automaton.free[start].append((None, inner))
    _build(automaton, tree, inner, end)
    automaton.moves[start].append((EVERY, start))
    automaton.moves[end].append((EVERY, end))
    return automaton


@functools.lru_cache(maxsize=512)
def _read(pattern: str) -> _Automaton | None:
    try:
        return _searching(parse(pattern))
    except Unreadable:
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
        automata.append(_searching(Choice(tuple(literal(text) for text in sorted(excluded)))))
    if shortest > _LONGEST or any(len(text) > _LONGEST for text in excluded):
        raise Unsure
    return _walk([_known(one) for one in automata], len(like), shortest, longest)


def _known(automaton: _Automaton | None) -> _Automaton:
    if automaton is None:
        raise Unsure
    return automaton


def _walk(automata: list[_Automaton], wanted: int, shortest: int, longest: int | None) -> str | None:
    letters = _letters(automata)
    states = tuple(one.closure([0], first=True) for one in automata)
    level, seen, length, steps = {states: ""}, {(states, 0)}, 0, 0
    while level:
        for found, text in level.items():
            if length >= shortest and all(
                (1 in one.closure(own, first=length == 0, last=True)) == (index < wanted)
                for index, (one, own) in enumerate(zip(automata, found, strict=True))
            ):
                return text
        if longest is not None and length >= longest:
            return None
        below: dict[tuple[frozenset[int], ...], str] = {}
        length += 1
        for found, text in level.items():
            for letter in letters:
                steps += 1
                if steps > _MOST_STEPS:
                    raise Unsure
                after = tuple(
                    one.closure(_after(one, own, letter), first=False)
                    for one, own in zip(automata, found, strict=True)
                )
                key = (after, min(length, shortest))
                if key not in seen and all(after[:wanted]):
                    seen.add(key)
                    below[after] = text + chr(letter)
        level = below
    return None


def _after(automaton: _Automaton, states: frozenset[int], letter: int) -> set[int]:
    return {
        target
        for state in states
        for ranges, target in automaton.moves[state]
        if any(low <= letter <= high for low, high in ranges)
    }


def _letters(automata: list[_Automaton]) -> list[int]:
    """Return one character, a readable one where there is, of each class that no range tells apart."""
    cuts = {0}
    for automaton in automata:
        for moves in automaton.moves:
            for ranges, _ in moves:
                for low, high in ranges:
                    cuts |= {low, high + 1}
    starts = sorted(cut for cut in cuts if cut <= 0x10FFFF)
    chosen: list[int] = []
    for start, end in zip(starts, [*starts[1:], 0x110000], strict=True):
        if not 0xD800 <= start <= 0xDFFF or end > 0xE000:
            own = start if start not in range(0xD800, 0xE000) else 0xE000
            chosen.append(next((one for one in _READABLE if start <= one < end), own))
    return sorted(chosen, key=lambda one: (_READABLE.index(one) if one in _READABLE else 99, one))
