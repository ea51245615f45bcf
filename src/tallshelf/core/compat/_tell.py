"""From gaps to differences: confirmed by witnesses, said in a sentence, each place told once."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from tallshelf.core.compat._confirm import Judge, Proof
from tallshelf.core.compat._gap import Dropped, Gap
from tallshelf.core.compat._ignored import Ignored
from tallshelf.core.compat._outcome import weight
from tallshelf.core.compat._say import label, sentence
from tallshelf.core.compat._sizes import Scale
from tallshelf.core.compat.result import Difference, Position, Side, Verdict, Witness

Path = tuple[str, ...]
_ORDER: tuple[Verdict, ...] = ("breaking", "undecided", "compatible", "identical")


class Sides(Struct, frozen=True):
    """Who produces instances and who consumes them, in one position."""

    position: Position
    producer: Side

    @property
    def narrowing_breaks(self) -> bool:
        return self.position == "input"


class Telling:
    """The differences of one comparison, each with the path of the place it is at."""

    def __init__(self, sides: Sides, judge: Judge, scale: Scale) -> None:
        self.sides = sides
        self.judge = judge
        self._scale = scale
        self.untold = 0
        """How many differences are there beyond those that are told."""
        self._room = _ROOM
        self._told: list[tuple[Path, Difference]] = []

    def differences(self) -> tuple[Difference, ...]:
        """Return one difference for each place and sentence, the worst first."""
        worst = sorted(
            (difference for _, difference in self._told),
            key=lambda difference: _ORDER.index(difference.verdict),
        )
        found: dict[tuple[Any, ...], Difference] = {}
        for difference in worst:
            found.setdefault((difference.message, difference.old_pointer, difference.new_pointer), difference)
        return tuple(found.values())

    def say(self, path: Path, keyword: str, verdict: Verdict, message: str, **more: Any) -> Difference:
        """Add a difference that is no gap; ``old_pointer``, ``new_pointer`` and ``witness`` are None if not given."""
        fields = {"old_pointer": None, "new_pointer": None, **more}
        difference = Difference(keyword, verdict, message, **fields)
        self._told.append((path, difference))
        return difference

    def against(self, gaps: Iterable[Gap]) -> list[Difference]:
        """Tell the gaps of the producer against the consumer: breaking where a candidate is a witness."""
        differences = []
        for gap in gaps:
            proof = self.judge.confirm(gap.candidates, self.sides.producer)
            verdict: Verdict = "breaking" if proof else "undecided"
            difference = self._difference(gap, verdict, narrowed=self.sides.narrowing_breaks, proof=proof)
            self._told.append((gap.path, difference))
            differences.append(difference)
        return differences

    def instead(self, gaps: list[Gap], proof: Proof | None) -> None:
        """Tell, instead of all gaps so far, some as breaking by a proof of the whole; or none."""
        self._told.clear()
        for gap in gaps:
            difference = self._difference(gap, "breaking", narrowed=self.sides.narrowing_breaks, proof=proof)
            self._told.append((gap.path, difference))

    def in_favour(self, gaps: Iterable[Gap], against: list[Gap], gone: list[Path]) -> None:
        """Tell what the other direction allows, but for what a second sentence would only repeat."""
        told = {(gap.path, gap.keyword) for gap in against if gap.keyword != "enum"}
        told |= {(gap.path, "additionalProperties") for gap in against}
        told |= {(path, keyword) for path in gone for keyword in _OF_THE_GONE}
        for gap in gaps:
            if (gap.path, gap.keyword) not in told:
                difference = self._difference(gap, "compatible", narrowed=not self.sides.narrowing_breaks)
                self._told.append((gap.path, difference))

    def only_as_written(self, literal: Iterable[Gap], against: list[Gap]) -> None:
        """Tell the counterexamples that nobody sends: kept, and compatible."""
        seen = {(gap.path, gap.keyword) for gap in against}
        for gap in literal:
            if (gap.path, gap.keyword) in seen:
                continue
            proof = self.judge.confirm(gap.candidates, self.sides.producer)
            if proof is not None:
                difference = self._difference(
                    gap, "compatible", narrowed=self.sides.narrowing_breaks, proof=proof
                )
                self.say(
                    gap.path,
                    "undeclared-member",
                    "compatible",
                    difference.message,
                    old_pointer=difference.old_pointer,
                    new_pointer=difference.new_pointer,
                    witness=difference.witness,
                )

    def ignored(self, ignoreds: Iterable[Ignored]) -> None:
        """Tell the arguments that are declared no more, and still taken."""
        for one in ignoreds:
            if self._has(one.path, hard=True):
                continue
            witness = self.judge.confirm_ignored(one.instance, one.way)
            subject = label(one.path, self.sides.position)
            if witness is None:
                message = f"it was not found out whether {subject}, no longer declared, is ignored"
                self.say(one.path, "argument-ignored", "undecided", message, old_pointer=one.pointer)
            else:
                message = _ignoring(one.path, self.sides.position)
                self.say(
                    one.path,
                    "argument-ignored",
                    "compatible",
                    message,
                    old_pointer=one.pointer,
                    witness=witness,
                )

    def dropped(self, droppeds: Iterable[Dropped]) -> None:
        """Tell the results that are declared no more."""
        for one in droppeds:
            if not self._has(one.path, hard=True):
                message = f"{label(one.path, self.sides.position)} is no longer declared"
                self.say(one.path, "no-longer-declared", "compatible", message, old_pointer=one.pointer)

    def gained(self, droppeds: Iterable[Dropped]) -> None:
        """Tell the results that are declared now."""
        for dropped in droppeds:
            if not self._has(dropped.path, hard=False):
                message = f"{label(dropped.path, self.sides.position)} is new, and may be returned"
                self.say(dropped.path, "newly-declared", "compatible", message, new_pointer=dropped.pointer)

    def _has(self, path: Path, *, hard: bool) -> bool:
        """Whether a difference, or (``hard``) a breaking or undecided one, is at a place already."""
        return any(
            at == path and not (hard and difference.verdict == "compatible") for at, difference in self._told
        )

    def _kept(self, witness: Witness | None) -> Witness | None:
        """Return a witness, unless those that were kept so far are too large for one more that is not small."""
        if witness is None or (size := weight(witness.instance)) <= _SMALL:
            return witness
        if self._room <= 0:
            return None
        self._room -= size
        return witness

    def _difference(
        self, gap: Gap, verdict: Verdict, *, narrowed: bool, proof: Proof | None = None
    ) -> Difference:
        old_pointer, new_pointer = (
            (gap.a_pointer, gap.b_pointer) if narrowed else (gap.b_pointer, gap.a_pointer)
        )
        sizes = [self._scale.back(gap.keyword, value) for value in (gap.a_value, gap.b_value)]
        gap = replace(gap, a_value=sizes[0], b_value=sizes[1])
        message = sentence(gap, self.sides.position, narrowed=narrowed)
        witness = self._kept(proof.witness if proof else None)
        counted = proof is not None and witness is None
        return Difference(gap.keyword, verdict, message, old_pointer, new_pointer, witness, counted)


def _ignoring(path: Path, position: Position) -> str:
    if path[-1:] == ("*",):
        where = label(path[:-1], position)
        return (
            f"members of {where} beyond those named are no longer declared: calls that give them are accepted, "
            "and they are ignored"
        )
    return (
        f"{label(path, position)} is no longer declared: calls that give it are accepted, and it is ignored"
    )


_SMALL, _ROOM = 100, 5_000
"""What any witness may weigh, and what those that weigh more may weigh together, but for the last of them."""
_OF_THE_GONE = ("additionalProperties", "required", "undeclared-member")
