"""What a comparison of two schemas says."""

from __future__ import annotations

from typing import Any, Literal

from msgspec import Struct

Position = Literal["input", "output"]
Reading = Literal["as-written", "as-declared"]
Verdict = Literal["identical", "compatible", "breaking", "undecided"]
Side = Literal["old", "new"]


class Witness(Struct, frozen=True):
    """An instance by which a difference is seen, confirmed by a validator.

    One schema accepts it and the other refuses it; or both accept it, and the new one declares
    nothing of what stands at the pointers ``ignored`` (RFC 6901, into the instance).
    """

    instance: Any
    accepted_by: Side | Literal["both"]
    refused_by: Side | None = None
    ignored: tuple[str, ...] = ()


class Difference(Struct, frozen=True):
    """One place where two schemas differ.

    ``keyword`` is the JSON Schema keyword that differs, or one of ours:
    ``undeclared-member`` (a counterexample that exists only as written),
    ``argument-ignored`` (declared by the old schema, accepted by the new one and declared no more),
    ``no-longer-declared`` (a result dropped from the declaration), ``newly-declared`` (a result that may come
    and was not spoken of), ``closed-empty`` (read as declared, the producing side is left with no instance).
    Pointers are RFC 6901, relative to the schemas compared; None where that side has no such place.
    """

    keyword: str
    verdict: Verdict
    message: str
    old_pointer: str | None
    new_pointer: str | None
    witness: Witness | None = None
    counted: bool = False
    """Shown by counting: every counterexample is too large to be written down."""


class Comparison(Struct, frozen=True):
    """The verdict on two schemas, with what leads to it.

    ``reason`` says why when the verdict is ``undecided``, and is empty otherwise. ``untold`` is how many
    differences there are beyond those that are told.
    """

    verdict: Verdict
    witness: Witness | None
    differences: tuple[Difference, ...]
    reason: str = ""
    untold: int = 0
