"""Regular expressions (ECMA-262, as JSON Schema asks for) read into trees."""

from __future__ import annotations

from msgspec import Struct

Ranges = tuple[tuple[int, int], ...]
"""A set of characters, as sorted ranges of code points that do not touch."""

LAST = 0x10FFFF
EVERY: Ranges = ((0, LAST),)
_MOST_DEEP = 40


class Unreadable(Exception):
    """A pattern with constructs that are no regular language, or not read here."""


class Char(Struct, frozen=True):
    """One character of a set."""

    ranges: Ranges


class Edge(Struct, frozen=True):
    """The start (``^``) or the end (``$``) of the text."""

    start: bool


class Chain(Struct, frozen=True):
    """Parts one after another."""

    parts: tuple[Tree, ...]


class Choice(Struct, frozen=True):
    """One of several."""

    choices: tuple[Tree, ...]


class Repeat(Struct, frozen=True):
    """A part, over and over; ``most`` None is without end."""

    part: Tree
    fewest: int
    most: int | None


class Look(Struct, frozen=True):
    """What must, or must not, stand after this spot or before it."""

    part: Tree
    ahead: bool
    wanted: bool


class WordEdge(Struct, frozen=True):
    """A spot with a word's character on just one side, or (not ``wanted``) on both or none."""

    wanted: bool


Tree = Char | Edge | Chain | Choice | Repeat | Look | WordEdge


def parse(pattern: str) -> Tree:
    """Read a pattern; raise `Unreadable` where it is not of the kinds read here."""
    reader = _Reader(pattern)
    tree = reader.choice(0)
    if not reader.ended:
        raise Unreadable(pattern)
    return tree


def literal(text: str) -> Tree:
    """Return the tree that takes one whole text."""
    return Chain((Edge(start=True), *(Char(((ord(char), ord(char)),)) for char in text), Edge(start=False)))


def inverted(ranges: Ranges) -> Ranges:
    """Return all characters that are not of a set."""
    found, start = [], 0
    for low, high in ranges:
        if low > start:
            found.append((start, low - 1))
        start = high + 1
    if start <= LAST:
        found.append((start, LAST))
    return tuple(found)


def joined(ranges: list[tuple[int, int]]) -> Ranges:
    """Return ranges sorted and melted together."""
    found: list[tuple[int, int]] = []
    for low, high in sorted(ranges):
        if found and low <= found[-1][1] + 1:
            found[-1] = (found[-1][0], max(found[-1][1], high))
        else:
            found.append((low, high))
    return tuple(found)


def _of(*chars: str) -> Ranges:
    return joined([(ord(char[0]), ord(char[-1])) for char in chars])


def holds(ranges: Ranges, char: str) -> bool:
    """Whether a character is of a set."""
    return any(low <= ord(char) <= high for low, high in ranges)


_DIGIT = _of("09")
WORD = _of("09", "AZ", "__", "az")
_SPACE = _of(*"\t\n\v\f\r \u00a0\u1680\u2028\u2029\u202f\u205f\u3000\ufeff", "\u2000\u200a")
_CLASSES = {
    "d": _DIGIT,
    "D": inverted(_DIGIT),
    "w": WORD,
    "W": inverted(WORD),
    "s": _SPACE,
    "S": inverted(_SPACE),
}
_CONTROLS = {"t": "\t", "n": "\n", "r": "\r", "f": "\f", "v": "\v", "0": "\0"}
_DOT = inverted(_of("\n"))


class _Reader:
    def __init__(self, text: str) -> None:
        self._text = text
        self._at = 0

    @property
    def ended(self) -> bool:
        return self._at >= len(self._text)

    def choice(self, depth: int) -> Tree:
        if depth > _MOST_DEEP:
            raise Unreadable(self._text)
        choices = [self._chain(depth)]
        while self._taken("|"):
            choices.append(self._chain(depth))
        return choices[0] if len(choices) == 1 else Choice(tuple(choices))

    def _chain(self, depth: int) -> Tree:
        parts: list[Tree] = []
        while not self.ended and self._next() not in "|)":
            parts.append(self._repeated(self._one(depth)))
        return parts[0] if len(parts) == 1 else Chain(tuple(parts))

    def _one(self, depth: int) -> Tree:
        char = self._take()
        if char == "^" or char == "$":
            return Edge(start=char == "^")
        if char == ".":
            return Char(_DOT)
        if char == "[":
            return Char(self._set())
        if char == "(":
            return self._group(depth)
        if char == "\\":
            if self._taken("b"):
                return WordEdge(wanted=True)
            return WordEdge(wanted=False) if self._taken("B") else Char(self._escape())
        if char in "*+?{":
            raise Unreadable(self._text)
        return Char(((ord(char), ord(char)),))

    def _group(self, depth: int) -> Tree:
        look: tuple[bool, bool] | None = None
        if self._taken("?") and not self._taken(":"):
            behind = self._taken("<")
            if not self.ended and self._next() in "=!":
                look = (not behind, self._take() == "=")
            elif behind:
                self._until(">")
            else:
                raise Unreadable(self._text)
        tree = self.choice(depth + 1)
        if not self._taken(")"):
            raise Unreadable(self._text)
        return tree if look is None else Look(tree, *look)

    def _repeated(self, part: Tree) -> Tree:
        while not self.ended and self._next() in "*+?{":
            if isinstance(part, Edge | Look | WordEdge):
                raise Unreadable(self._text)
            char = self._take()
            if char == "{":
                fewest, _, most = (text := self._until("}")).partition(",")
                ends = [fewest, most] if most else [fewest]
                if not all(end.isascii() and end.isdigit() and len(end) < 6 for end in ends):
                    raise Unreadable(self._text)
                part = Repeat(part, int(fewest), int(most) if most else None if "," in text else int(fewest))
            else:
                part = Repeat(part, int(char == "+"), 1 if char == "?" else None)
            self._taken("?")  # how eagerly it repeats changes no language
        return part

    def _set(self) -> Ranges:
        turned, ranges = self._taken("^"), list[tuple[int, int]]()
        while not self._taken("]"):
            low = self._member()
            if self._taken("-"):
                if not self.ended and self._next() == "]":
                    ranges += [*low, (ord("-"), ord("-"))]
                    continue
                high = self._member()
                if any(len(one) != 1 or one[0][0] != one[0][1] for one in (low, high)):
                    raise Unreadable(self._text)
                if low[0][0] > high[0][0]:
                    raise Unreadable(self._text)
                ranges.append((low[0][0], high[0][0]))
            else:
                ranges += low
        found = joined(ranges)
        return inverted(found) if turned else found

    def _member(self) -> Ranges:
        char = self._take()
        if char == "\\":
            return ((8, 8),) if self._taken("b") else self._escape()
        if char == "[" or (char in "&~-" and not self.ended and self._next() == char):
            raise Unreadable(self._text)  # set operations in some engines, plain text in others
        return ((ord(char), ord(char)),)

    def _escape(self) -> Ranges:
        char = self._take()
        if char in _CLASSES:
            return _CLASSES[char]
        if char in "xu":
            return self._numbered(2 if char == "x" else 4)
        if char in _CONTROLS:
            char = _CONTROLS[char]
        elif char.isalnum():
            raise Unreadable(self._text)
        return ((ord(char), ord(char)),)

    def _numbered(self, digits: int) -> Ranges:
        text = self._text[self._at : self._at + digits]
        if len(text) != digits or any(char not in "0123456789abcdefABCDEF" for char in text):
            raise Unreadable(self._text)
        self._at += digits
        code = int(text, 16)
        if 0xD800 <= code <= 0xDFFF:
            raise Unreadable(self._text)
        return ((code, code),)

    def _next(self) -> str:
        return self._text[self._at]

    def _take(self) -> str:
        if self.ended:
            raise Unreadable(self._text)
        self._at += 1
        return self._text[self._at - 1]

    def _taken(self, char: str) -> bool:
        if self.ended or self._next() != char:
            return False
        self._at += 1
        return True

    def _until(self, end: str) -> str:
        at = self._text.find(end, self._at)
        if at < 0:
            raise Unreadable(self._text)
        text, self._at = self._text[self._at : at], at + 1
        return text
