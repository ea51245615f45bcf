"""Problem documents (RFC 9457) as errors."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tallshelf.core import errors
from tallshelf.core.errors import Place, ServiceFault, ShelfError

_BY_CODE: dict[str, type[ShelfError]] = {
    cls.code: cls
    for name in errors.__all__
    if isinstance(cls := getattr(errors, name), type) and issubclass(cls, ShelfError)
}


class ProblemError(Exception):
    """Mixed into every error that came as a problem document, which it carries as ``problem``."""

    problem: Mapping[str, Any]


def error_from(problem: Mapping[str, Any], status: int) -> ShelfError:
    """Return the error of our tree that a problem document names, carrying the document."""
    code = str(problem.get("type", "")).rpartition(":")[2]
    cls = _BY_CODE.get(code, ServiceFault if status >= 500 else ShelfError)
    kind: Any = type(cls.__name__, (cls, ProblemError), {"code": cls.code, "title": cls.title})
    places = [
        Place(str(one.get("pointer", "")), str(one.get("detail", "")))
        for one in problem.get("errors", ())
        if isinstance(one, dict)
    ]
    error: ShelfError = kind(
        str(problem.get("detail") or problem.get("title") or f"HTTP {status}"),
        remedy=str(problem.get("remedy", "")),
        places=places,
    )
    error.problem = dict(problem)  # type: ignore[attr-defined]  # ProblemError has it
    return error
