"""What the functions for single keywords ask of the document they read; `_normal.Document` is one."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from tallshelf.core.compat._dialect import Dialect
from tallshelf.core.compat._form import Facets, Home, Place
from tallshelf.core.compat._references import References
from tallshelf.core.compat._space import Space


class Document(Home, Protocol):
    """One schema document, read into branches as they are asked for."""

    tracking: int

    @property
    def dialect(self) -> Dialect: ...

    @property
    def space(self) -> Space: ...

    @property
    def opened(self) -> Document: ...

    @property
    def references(self) -> References: ...

    def fold(self, place: Place) -> Sequence[Facets]: ...

    def opaque(self, keyword: str, place: Place, also: tuple[str, ...] = ()) -> Facets: ...
