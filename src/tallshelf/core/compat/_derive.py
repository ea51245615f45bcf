"""Patterns that look around, as automata whose states are conditions on what is left of the text.

A condition is derived by one character at a time (Brzozowski 1964), and what is looked for ahead is a second
condition on the same rest, so that `and`, `or` and `not` of conditions are all that is needed (Miyazaki and
Minamide 2019). What is looked for behind is followed from the start of the text, as its own condition.
"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from tallshelf.core.compat._pattern import (
    EVERY,
    WORD,
    Chain,
    Char,
    Choice,
    Edge,
    Look,
    Ranges,
    Repeat,
    Tree,
    Unreadable,
    WordEdge,
)

_MOST_PARTS = 300


class Rest(Struct, frozen=True):
    """The text that is left is taken by parts, one after another; ``()`` takes the empty one."""

    parts: tuple[Tree, ...]


class Both(Struct, frozen=True):
    parts: frozenset[Condition]


class Either(Struct, frozen=True):
    parts: frozenset[Condition]


class Not(Struct, frozen=True):
    part: Condition


Condition = Rest | Both | Either | Not
NEVER: Condition = Either(frozenset())
ALWAYS: Condition = Both(frozenset())
ANYTHING = Repeat(Char(EVERY), 0, None)


class State(Struct, frozen=True):
    """What is asked of the rest of the text; ``behind`` by what is looked for there; whether a word's character
    was last; whether nothing was read."""

    condition: Condition
    behind: tuple[Condition, ...]
    in_word: bool = False
    first: bool = True


class Derived:
    """The automaton of a pattern that is searched for in a text."""

    def __init__(self, tree: Tree) -> None:
        """Raise `Unreadable` where what is looked for behind has conditions on what comes next."""
        self._looks = list(dict.fromkeys(_behind(tree)))
        if any(_looks_on(look.part) for look in self._looks):
            raise Unreadable
        self._tree = tree
        self.ranges = [*_ranges(tree), WORD]
        self.work = 0
        """How many parts of conditions were derived so far."""

    def start(self) -> State:
        """Return the state before the first character."""
        behind = tuple(Rest((ANYTHING, look.part)) for look in self._looks)
        return State(Rest((ANYTHING, self._tree, ANYTHING)), behind)

    def after(self, state: State, letter: int) -> State:
        """Return the state after one character more."""
        step = _Step(self._looks, state, letter)
        behind = tuple(step.derived(rest) for rest in state.behind)
        after = State(step.derived(state.condition), behind, _in(WORD, letter), first=False)
        self.work += step.work
        return after

    def takes(self, state: State) -> bool:
        """Whether the text may end here."""
        return _Step(self._looks, state, None).ends(state.condition)

    def is_dead(self, state: State) -> bool:
        """Whether no text goes on from here."""
        return state.condition == NEVER


class _Step:
    """One character, or the end of the text where it is None, read from a state."""

    def __init__(self, looks: list[Look], state: State, letter: int | None) -> None:
        self._looks = looks
        self._state = state
        self._letter = letter
        self.work = 0

    def derived(self, condition: Condition) -> Condition:
        """Return what is asked of the text after the character."""
        if isinstance(condition, Not):
            return _not(self.derived(condition.part))
        if isinstance(condition, Both):
            return _both(*map(self.derived, condition.parts))
        if isinstance(condition, Either):
            return _either(*map(self.derived, condition.parts))
        return self._rest(condition.parts)

    def ends(self, condition: Condition) -> bool:
        """Whether the empty rest will do."""
        if isinstance(condition, Not):
            return not self.ends(condition.part)
        if isinstance(condition, Both):
            return all(map(self.ends, condition.parts))
        if isinstance(condition, Either):
            return any(map(self.ends, condition.parts))
        return self._rest(condition.parts) == ALWAYS

    def _rest(self, parts: tuple[Tree, ...]) -> Condition:
        """Derive parts by the character; at the end of the text, tell whether they take the empty rest."""
        self.work += 1
        if len(parts) > _MOST_PARTS:
            raise Unreadable
        if not parts:
            return NEVER if self._letter is not None else ALWAYS
        head, rest = parts[0], parts[1:]
        if isinstance(head, Char):
            holds = self._letter is not None and _in(head.ranges, self._letter)
            if not holds:
                return NEVER
            return ALWAYS if rest == (ANYTHING,) else Rest(rest)
        if isinstance(head, Choice):
            return _either(*(self._rest((char, *rest)) for char in head.choices))
        if isinstance(head, Chain):
            return self._rest((*head.parts, *rest))
        if isinstance(head, Repeat):
            return self._repeat(head, rest)
        if isinstance(head, Look):
            return self._look(head, rest)
        if isinstance(head, Edge):
            holds = self._state.first if head.start else self._letter is None
        else:
            after = self._letter is not None and _in(WORD, self._letter)
            holds = (self._state.in_word != after) == head.wanted
        return self._rest(rest) if holds else NEVER

    def _repeat(self, head: Repeat, rest: tuple[Tree, ...]) -> Condition:
        most = None if head.most is None else head.most - 1
        skipped = self._rest(rest) if head.fewest == 0 else NEVER
        if head.most == 0:
            return skipped
        if self._letter is None:
            empty = self._rest((head.part, *rest)) if head.fewest else NEVER
            return _either(skipped, empty)
        if head.fewest and _may_be_empty(head.part):
            if _has_condition(head.part):
                raise Unreadable
            skipped = self._rest(rest)
        again = Repeat(head.part, max(0, head.fewest - 1), most)
        return _either(skipped, self._once(head.part, (again, *rest)))

    def _once(self, part: Tree, rest: tuple[Tree, ...]) -> Condition:
        """Derive a part that is repeated: it must take the character itself, or it would go round for ever."""
        if not _may_be_empty(part):
            return self._rest((part, *rest))
        if isinstance(part, Choice):
            return _either(*(self._once(char, rest) for char in part.choices))
        if isinstance(part, Chain):
            rests: list[Condition] = []
            for index, char in enumerate(part.parts):
                rests.append(self._once(char, (*part.parts[index + 1 :], *rest)))
                if _has_condition(char):
                    raise Unreadable
                if not _may_be_empty(char):
                    break
            return _either(*rests)
        if isinstance(part, Repeat):
            if part.most == 0:
                return NEVER
            again = Repeat(part.part, max(0, part.fewest - 1), None if part.most is None else part.most - 1)
            return self._once(part.part, (again, *rest))
        return NEVER  # a condition, which takes no character

    def _look(self, head: Look, rest: tuple[Tree, ...]) -> Condition:
        if head.ahead:
            seen = self._rest((head.part, ANYTHING))
        else:
            here = self._state.behind[self._looks.index(head)]
            holds = _Step([], State(here, (), self._state.in_word, self._state.first), None).ends(here)
            seen = ALWAYS if holds else NEVER
        return _both(seen if head.wanted else _not(seen), self._rest(rest))


def _may_be_empty(tree: Tree) -> bool:
    if isinstance(tree, Char):
        return False
    if isinstance(tree, Choice):
        return any(map(_may_be_empty, tree.choices))
    if isinstance(tree, Chain):
        return all(map(_may_be_empty, tree.parts))
    if isinstance(tree, Repeat):
        return tree.fewest == 0 or _may_be_empty(tree.part)
    return True


def _not(condition: Condition) -> Condition:
    if condition == NEVER:
        return ALWAYS
    if condition == ALWAYS:
        return NEVER
    return condition.part if isinstance(condition, Not) else Not(condition)


def _both(*conditions: Condition) -> Condition:
    rests: set[Condition] = set()
    for rest in conditions:
        if rest == NEVER:
            return NEVER
        rests |= rest.parts if isinstance(rest, Both) else {rest}
    if any(_not(rest) in rests for rest in rests):
        return NEVER
    return next(iter(rests)) if len(rests) == 1 else Both(_few(rests))


def _either(*conditions: Condition) -> Condition:
    rests: set[Condition] = set()
    for rest in conditions:
        if rest == ALWAYS:
            return ALWAYS
        rests |= rest.parts if isinstance(rest, Either) else {rest}
    if any(_not(rest) in rests for rest in rests):
        return ALWAYS
    return next(iter(rests)) if len(rests) == 1 else Either(_few(rests))


def _few(conditions: set[Condition]) -> frozenset[Condition]:
    if len(conditions) > _MOST_PARTS:
        raise Unreadable
    return frozenset(conditions)


def _in(ranges: Ranges, letter: int) -> bool:
    return any(low <= letter <= high for low, high in ranges)


def _parts(tree: Tree) -> tuple[Tree, ...]:
    if isinstance(tree, Choice):
        return tree.choices
    if isinstance(tree, Chain):
        return tree.parts
    return (tree.part,) if isinstance(tree, Repeat | Look) else ()


def _ranges(tree: Tree) -> Iterator[Ranges]:
    if isinstance(tree, Char):
        yield tree.ranges
    for char in _parts(tree):
        yield from _ranges(char)


def _behind(tree: Tree) -> Iterator[Look]:
    if isinstance(tree, Look) and not tree.ahead:
        yield tree
    for char in _parts(tree):
        yield from _behind(char)


def _looks_on(tree: Tree) -> bool:
    """Whether a tree asks what comes after what it takes."""
    own = isinstance(tree, Look | WordEdge) or (isinstance(tree, Edge) and not tree.start)
    return own or any(map(_looks_on, _parts(tree)))


def _has_condition(tree: Tree) -> bool:
    return isinstance(tree, Look | WordEdge | Edge) or any(map(_has_condition, _parts(tree)))
