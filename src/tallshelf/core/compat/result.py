"""What a comparison of two schemas says."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

Position = Literal["input", "output"]
Reading = Literal["as-written", "as-declared"]
Verdict = Literal["identical", "compatible", "breaking", "undecided"]
Side = Literal["old", "new"]


@dataclass(frozen=True)
class Witness:
    """An instance that one schema accepts and the other refuses, confirmed by a validator."""

    instance: Any
    accepted_by: Side
    refused_by: Side


@dataclass(frozen=True)
class Difference:
    """One place where two schemas differ.

    ``keyword`` is the JSON Schema keyword that differs, or one of ours:
    ``undeclared-member`` (a counterexample that exists only as written),
    ``no-longer-declared`` (dropped from the declaration, still accepted), ``newly-declared`` (a result that may come
    and was not spoken of). Pointers are
    RFC 6901, relative to the schemas compared; None where that side has no such place.
    """

    keyword: str
    verdict: Verdict
    message: str
    old_pointer: str | None
    new_pointer: str | None
    witness: Witness | None = None


@dataclass(frozen=True)
class Comparison:
    """The verdict on two schemas, with what leads to it.

    ``reason`` says why when the verdict is ``undecided``, and is empty otherwise.
    """

    verdict: Verdict
    witness: Witness | None
    differences: tuple[Difference, ...]
    reason: str = ""
