"""The whole comparison: prove, or refute with a confirmed witness, or say *undecided*."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, get_args

from tallshelf.core.compat._confirm import Accepts, Judge, Unusable, acceptance
from tallshelf.core.compat._contain import Walk
from tallshelf.core.compat._dialect import dialect_of, same_schema
from tallshelf.core.compat._form import Budget, Exhausted, complement
from tallshelf.core.compat._gap import Dropped, Gap
from tallshelf.core.compat._normal import Document
from tallshelf.core.compat._outcome import Nothing, Outcome
from tallshelf.core.compat._say import label, sentence
from tallshelf.core.compat._solve import Solver
from tallshelf.core.compat._space import Space
from tallshelf.core.compat.result import Comparison, Difference, Position, Reading, Side, Verdict, Witness
from tallshelf.core.errors import BadArgument

STEPS = 15_000
_ORDER: tuple[Verdict, ...] = ("breaking", "undecided", "compatible", "identical")


@dataclass(frozen=True)
class _Sides:
    """Who produces instances and who consumes them, in one position."""

    position: Position
    producer: Side

    @property
    def narrowing_breaks(self) -> bool:
        return self.position == "input"


def compare_schemas(old: Any, new: Any, position: Position, reading: Reading = "as-written") -> Comparison:
    """Compare two JSON Schemas (2020-12) as sets of the instances they accept.

    In position ``input`` the new schema must accept all that the old one accepts, so that
    callers need not change; in ``output`` the old one must accept all that the new one
    does, so that receivers need not. ``as-written`` takes both literally; ``as-declared``
    closes the producing side (old for input, new for output) where it says nothing about
    undeclared members.

    ``breaking`` always carries a witness that jsonschema-rs confirms against both schemas;
    ``compatible`` and ``identical`` (both accept the same) are proved; anything else is
    ``undecided`` with a reason. Work is bounded in steps. The inputs are not altered.

    Raises `BadArgument` for an unknown position or reading.
    """
    if position not in get_args(Position) or reading not in get_args(Reading):
        raise BadArgument(
            f"cannot compare in position {position!r}, reading {reading!r}",
            remedy="position is input or output; reading is as-written or as-declared.",
        )
    try:
        if same_schema(old, new):
            return Comparison("identical", None, ())
        judge = Judge(_usable(old, "old"), _usable(new, "new"))
        return _compare(old, new, _Sides(position, "old" if position == "input" else "new"), reading, judge)
    except Unusable as fault:
        return _undecided(str(fault))
    except (Exhausted, RecursionError):
        return _undecided("the schemas are too intricate to decide within the bound on steps")


def _usable(schema: Any, side: Side) -> Accepts:
    try:
        return acceptance(schema)
    except Unusable as fault:
        raise Unusable(f"the {side} schema cannot be compared: {fault}") from None


class _Question:
    """Both sides, as written and as declared; who produces (`ours`) lies inside who consumes, or not."""

    def __init__(self, producer: Any, consumer: Any) -> None:
        self.space = Space(Budget(STEPS))
        self.solver = Solver(self.space)
        self.ours, self.ours_closed = self._document(producer, "ours")
        self.theirs, self.theirs_closed = self._document(consumer, "theirs")

    def _document(self, schema: Any, tag: str) -> tuple[Document, Document]:
        dialect = dialect_of(schema)
        if dialect is None:
            raise Unusable(f"the dialect {schema['$schema']} is not read here")
        opened = Document(schema, dialect, self.space, tag)
        return opened, Document(schema, dialect, self.space, f"closed {tag}", opened)

    def walk(self, a: Document, b: Document, *, proving: bool = True) -> Walk:
        return Walk(a, b, self.solver, proving=proving)

    def outside(self, a: Document, b: Document) -> Outcome:
        """Look for an instance of the whole of A outside the whole of B."""
        return self.solver.node(a.root.also(complement(b.root)))


def _compare(old: Any, new: Any, sides: _Sides, reading: Reading, judge: Judge) -> Comparison:
    question = _Question(old, new) if sides.producer == "old" else _Question(new, old)
    closed = reading == "as-declared"
    ours, theirs = question.ours, question.theirs
    ours_read = question.ours_closed if closed else ours
    theirs_read = question.theirs_closed if closed else theirs

    forward = question.walk(ours_read, theirs)
    against = forward.gaps()
    differences = [_against(gap, sides, judge) for gap in against]
    if differences and all(one.witness is None for one in differences):
        against, differences = _settled(question, ours_read, against, differences, sides, judge)
    verdict, witness, reason = _verdict(differences, [gap.keyword for gap in against])

    try:
        backward = question.walk(theirs_read, ours_read, proving=False)
        loosened = backward.gaps()
        if closed:
            literal = question.walk(ours, theirs).gaps()
            differences += _only_as_written(literal, against, sides, judge)
        gone = forward.dropped if sides.producer == "new" else backward.dropped
        told = _told_already(against, gone)
        differences += [_in_favour(gap, sides) for gap in loosened if (gap.path, gap.keyword) not in told]
        differences += [_no_longer_declared(one, sides) for one in gone if not _has(differences, one, sides)]
        if sides.position == "output":
            said = [one.message for one in differences]
            differences += [
                _newly_declared(one, sides)
                for one in forward.gained
                if not any(message.startswith(label(one.path, sides.position)) for message in said)
            ]
        if verdict == "compatible" and not loosened and not _one_way(question):
            verdict = "identical"
    except Exhausted:
        pass  # the verdict stands; what else differs is not all told
    return Comparison(verdict, witness, tuple(_unique(differences)), reason)


def _settled(
    question: _Question,
    ours: Document,
    against: list[Gap],
    differences: list[Difference],
    sides: _Sides,
    judge: Judge,
) -> tuple[list[Gap], list[Difference]]:
    """Ask about the whole where no gap has a witness of its own: there may be one, or no gap at all."""
    outcome = question.outside(ours, question.theirs)
    if isinstance(outcome, Nothing):
        return [], []
    witness = judge.confirm([outcome.instance], sides.producer)
    if witness is None:
        return against, differences
    return against[:1], [replace(differences[0], verdict="breaking", witness=witness)]


def _verdict(differences: list[Difference], keywords: list[str]) -> tuple[Verdict, Witness | None, str]:
    if not differences:
        return "compatible", None, ""
    for difference in differences:
        if difference.witness is not None:
            return "breaking", difference.witness, ""
    names = ", ".join(sorted(set(keywords)))
    return "undecided", None, f"neither a proof nor a counterexample was found ({names})"


def _against(gap: Gap, sides: _Sides, judge: Judge) -> Difference:
    witness = judge.confirm(gap.candidates, sides.producer)
    return _difference(
        gap, sides, "breaking" if witness else "undecided", narrowed=sides.narrowing_breaks, witness=witness
    )


def _in_favour(gap: Gap, sides: _Sides) -> Difference:
    return _difference(gap, sides, "compatible", narrowed=not sides.narrowing_breaks)


def _difference(
    gap: Gap, sides: _Sides, verdict: Verdict, *, narrowed: bool, witness: Witness | None = None
) -> Difference:
    old_pointer, new_pointer = (gap.a_pointer, gap.b_pointer) if narrowed else (gap.b_pointer, gap.a_pointer)
    message = sentence(gap, sides.position, narrowed=narrowed)
    return Difference(gap.keyword, verdict, message, old_pointer, new_pointer, witness)


def _only_as_written(literal: list[Gap], against: list[Gap], sides: _Sides, judge: Judge) -> list[Difference]:
    """Counterexamples that nobody sends: kept, and compatible."""
    seen = {(gap.path, gap.keyword) for gap in against}
    found = []
    for gap in literal:
        if (gap.path, gap.keyword) in seen:
            continue
        witness = judge.confirm(gap.candidates, sides.producer)
        if witness is not None:
            one = _difference(gap, sides, "compatible", narrowed=sides.narrowing_breaks, witness=witness)
            found.append(
                Difference(
                    "undeclared-member", "compatible", one.message, one.old_pointer, one.new_pointer, witness
                )
            )
    return found


def _told_already(against: list[Gap], gone: list[Dropped]) -> set[tuple[tuple[str, ...], str]]:
    """Paths and keywords that a second sentence, from the other direction, would only repeat."""
    told = {(gap.path, gap.keyword) for gap in against if gap.keyword != "enum"}
    told |= {(gap.path, "additionalProperties") for gap in against}
    return told | {(one.path, keyword) for one in gone for keyword in ("additionalProperties", "required")}


def _no_longer_declared(one: Dropped, sides: _Sides) -> Difference:
    return Difference(
        "no-longer-declared",
        "compatible",
        f"{label(one.path, sides.position)} is no longer declared",
        one.pointer,
        None,
    )


def _newly_declared(one: Dropped, sides: _Sides) -> Difference:
    message = f"{label(one.path, sides.position)} is new, and may be returned"
    return Difference("newly-declared", "compatible", message, None, one.pointer)


def _has(differences: list[Difference], one: Dropped, sides: _Sides) -> bool:
    """Whether a breaking or undecided difference tells of this member already."""
    subject = label(one.path, sides.position)
    return any(
        difference.verdict != "compatible" and difference.message.startswith(subject)
        for difference in differences
    )


def _one_way(question: _Question) -> bool:
    """Whether, both taken literally, either schema accepts more than the other."""
    ours, theirs = question.ours, question.theirs
    return any(
        question.walk(a, b, proving=False).gaps() and not isinstance(question.outside(a, b), Nothing)
        for a, b in ((ours, theirs), (theirs, ours))
    )


def _unique(differences: list[Difference]) -> list[Difference]:
    """Keep one difference for each sentence and place, the worst of them."""
    worst = sorted(differences, key=lambda one: _ORDER.index(one.verdict))
    found: dict[tuple[Any, ...], Difference] = {}
    for one in worst:
        found.setdefault((one.message, one.old_pointer, one.new_pointer), one)
    return list(found.values())


def _undecided(reason: str) -> Comparison:
    return Comparison("undecided", None, (Difference("", "undecided", reason, "", ""),), reason)
