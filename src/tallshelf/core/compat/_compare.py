"""The whole comparison: prove, or refute with a confirmed witness, or say *undecided*."""

from __future__ import annotations

from typing import Any, get_args

from tallshelf.core.compat._budget import Budget, Exhausted
from tallshelf.core.compat._confirm import Judge
from tallshelf.core.compat._contain import Walk
from tallshelf.core.compat._dialect import dialect_of, same_schema
from tallshelf.core.compat._form import complement
from tallshelf.core.compat._gap import Gap
from tallshelf.core.compat._ignored import Hunt
from tallshelf.core.compat._normal import Document
from tallshelf.core.compat._outcome import Nothing, Outcome
from tallshelf.core.compat._sizes import scale_of
from tallshelf.core.compat._solve import Solver
from tallshelf.core.compat._space import Space
from tallshelf.core.compat._tell import Sides, Telling
from tallshelf.core.compat.result import Comparison, Difference, Position, Reading, Verdict, Witness
from tallshelf.core.errors import BadArgument
from tallshelf.core.usable import Unusable

STEPS = 15_000
"""For the verdict; as many again for what else differs. Large schemas have more."""
_STEPS_FOR_EACH, _MOST_FOR_SIZE = 4, 30_000
CLOSED_EMPTY = "closed-empty"


def compare_schemas(old: Any, new: Any, position: Position, reading: Reading = "as-written") -> Comparison:
    """Compare two JSON Schemas (2020-12) as sets of the instances they accept.

    In position ``input`` the new schema must accept all that the old one accepts, so that
    callers need not change; in ``output`` the old one must accept all that the new one
    does, so that receivers need not. ``as-written`` takes both literally; ``as-declared``
    closes the producing side (old for input, new for output) where it says nothing about
    undeclared members; then it tells as well which arguments are still taken and declared no more.

    ``breaking`` carries a witness that jsonschema-rs confirms against both schemas (or is ``counted``, where
    every counterexample has more than 10,000 elements or members, or 100,000 characters);
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
        scale = scale_of(old, new)
        sides = Sides(position, "old" if position == "input" else "new")
        telling = Telling(sides, Judge(old, new, scale), scale)
        return _compare(scale.copy(old), scale.copy(new), telling, reading)
    except Unusable as fault:
        return _undecided(str(fault))
    except (Exhausted, RecursionError):
        return _undecided("the schemas are too intricate to decide within the bound on steps")


class _Question:
    """Both sides, as written and as declared; who produces (`ours`) lies inside who consumes, or not."""

    def __init__(self, producer: Any, consumer: Any, steps: int) -> None:
        self.space = Space(Budget(steps))
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

    def is_closed_empty(self, walk: Walk) -> bool:
        """Whether reading the producer as declared left nothing of it, or of an object in it that was compared."""
        if walk.emptied:
            return True
        closed = self.solver.node(self.ours_closed.root)
        return isinstance(closed, Nothing) and not isinstance(self.solver.node(self.ours.root), Nothing)


def _compare(old: Any, new: Any, telling: Telling, reading: Reading) -> Comparison:
    sides = telling.sides
    steps = STEPS + min(_STEPS_FOR_EACH * (_size(old) + _size(new)), _MOST_FOR_SIZE)
    question = _Question(*((old, new) if sides.producer == "old" else (new, old)), steps)
    closed = reading == "as-declared"
    ours_read = question.ours_closed if closed else question.ours

    forward = question.walk(ours_read, question.theirs)
    against = forward.gaps()
    differences = telling.against(against)
    telling.untold += forward.untold
    if forward.cut and not any(difference.verdict == "breaking" for difference in differences):
        raise Exhausted
    if (
        not forward.cut
        and differences
        and all(difference.verdict == "undecided" for difference in differences)
    ):
        against = _settled(question, ours_read, against, telling)
    verdict, witness, reason = _verdict(telling.differences(), [gap.keyword for gap in against])
    if verdict == "compatible" and closed and question.is_closed_empty(forward):
        return _undecided(
            "read as declared, nothing is left of what the "
            f"{sides.producer} schema takes: it asks for members that it does not name",
            CLOSED_EMPTY,
        )
    question.space.budget = Budget(steps)
    try:
        if forward.cut:
            raise Exhausted
        if _the_rest(question, forward, against, telling, closed=closed) and verdict == "compatible":
            verdict = "identical"
    except (Exhausted, RecursionError):
        message = "what else differs was not all found within the bound on steps"
        telling.say((), "", "undecided", message, old_pointer="", new_pointer="")
    return Comparison(verdict, witness, telling.differences(), reason, telling.untold)


def _the_rest(
    question: _Question, forward: Walk, against: list[Gap], telling: Telling, *, closed: bool
) -> bool:
    """Tell what differs beyond the verdict, and return whether both, taken literally, accept the same."""
    position = telling.sides.position
    ours, theirs = question.ours, question.theirs
    gone = [dropped.path for dropped in forward.dropped] if position == "output" else []
    if closed and position == "input":
        ignored = Hunt(question.ours_closed, theirs, question.solver).found()
        telling.ignored(ignored)
        gone = [one.path for one in ignored]
    backward = question.walk(
        question.theirs_closed if closed else theirs, question.ours_closed if closed else ours, proving=False
    )
    loosened = backward.gaps()
    if backward.cut:
        raise Exhausted
    telling.untold += backward.untold
    if closed:
        telling.only_as_written(question.walk(ours, theirs).gaps(), against)
    telling.in_favour(loosened, against, gone)
    if position == "output":
        telling.dropped(forward.dropped)
        telling.gained(forward.gained)
    return not against and not loosened and not _one_way(question)


def _settled(question: _Question, ours: Document, against: list[Gap], telling: Telling) -> list[Gap]:
    """Ask about the whole where no gap has a witness of its own: there may be one, or no gap at all."""
    outcome = question.outside(ours, question.theirs)
    if isinstance(outcome, Nothing):
        telling.instead([], None)
        return []
    proof = telling.judge.confirm([outcome.instance], telling.sides.producer)
    if proof is None:
        return against
    telling.instead(against[:1], proof)
    return against[:1]


def _verdict(differences: tuple[Difference, ...], keywords: list[str]) -> tuple[Verdict, Witness | None, str]:
    if not differences:
        return "compatible", None, ""
    breaking = [difference for difference in differences if difference.verdict == "breaking"]
    if breaking:
        return (
            "breaking",
            next((difference.witness for difference in breaking if difference.witness), None),
            "",
        )
    names = ", ".join(sorted(set(keywords)))
    return "undecided", None, f"neither a proof nor a counterexample was found ({names})"


def _one_way(question: _Question) -> bool:
    """Whether, both taken literally, either schema accepts more than the other."""
    ours, theirs = question.ours, question.theirs
    return any(
        question.walk(a, b, proving=False).gaps() and not isinstance(question.outside(a, b), Nothing)
        for a, b in ((ours, theirs), (theirs, ours))
    )


def _undecided(message: str, reason: str = "") -> Comparison:
    difference = Difference(reason, "undecided", message, "", "")
    return Comparison("undecided", None, (difference,), reason or message)


def _size(value: Any) -> int:
    """Return how many values a JSON value is made of."""
    if isinstance(value, dict):
        return 1 + sum(map(_size, value.values()))
    return 1 + sum(map(_size, value)) if isinstance(value, list) else 1
