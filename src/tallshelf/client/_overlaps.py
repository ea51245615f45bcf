"""What a program asks of the service about overlaps and rulings."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from tallshelf.client import results
from tallshelf.client._wire import Wire, listing, path_step


class OverlapCalls(Wire):
    """Overlaps, rulings on them, and mix-up risk."""

    def overlaps(self, slug: str, version: str = "current") -> results.Overlaps:
        """Return what a release overlaps with (``overlaps``), and its ``mix_ups``."""
        return self._get(
            results.Overlaps, f"servers/{path_step(slug)}/releases/{path_step(version)}/overlaps"
        )

    def check_overlaps(self, snapshot: Mapping[str, Any], *, server: str | None = None) -> results.Overlaps:
        """Return what a snapshot overlaps with in the catalog, storing nothing."""
        return self._post(results.Overlaps, "overlaps", {"snapshot": snapshot, "server": server}, repeat=True)

    def overlap_groups(
        self, *, state: str = "", cls: str = "", team: str = "", within: bool = False
    ) -> list[results.Group]:
        """Return the pairs of servers that overlap: ``open`` ones, ``ruled`` ones, or all; those ``within`` one."""
        params = {"state": state, "class": cls, "team": team, "within": "true" if within else ""}
        return list(self._pages(results.Group, "overlaps", params, "groups"))

    def mix_ups(self, items: Sequence[str]) -> list[results.MixUp]:
        """Return which of some items, as ``server#item``, a chooser would confuse when offered together."""
        return self._post(results.MixUps, "mix-ups", {"items": list(items)}, repeat=True).mix_ups

    def rulings(
        self,
        *,
        state: str = "",
        word: str = "",
        server: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> Iterator[results.RulingRow]:
        """Yield rulings, newest first, or as ``sort`` says (``-changed_at``); those on items of a ``server``."""
        params = {"state": state, "word": word, "server": server, **listing(sort, changed_after)}
        return self._pages(results.RulingRow, "rulings", params)

    def rule(
        self,
        pairs: Sequence[str],
        word: Literal["distinct", "keep-both", "prefer", "merge", "same-meaning"],
        reason: str,
        *,
        preferred: str = "",
        owner: str = "",
        due: str | None = None,
        release: str = "",
        base: str = "",
    ) -> results.RulingRow:
        """Propose a word on overlaps, named by their ``pair``; a second curator agrees to it.

        ``same-meaning`` is a word on silent changes, named by their ``basis``, that came with a ``release``
        (server@version) since the version ``base``.
        """
        body = {"pairs": list(pairs), "word": word, "reason": reason}
        more = {"preferred": preferred, "owner": owner, "due": due, "release": release, "base": base}
        return self._post(results.RulingRow, "rulings", {**body, **more}, repeat=True)

    def answer_ruling(
        self, number: int, answer: Literal["agree", "decline", "end"], note: str = ""
    ) -> results.RulingRow:
        """Agree to a proposed ruling, decline it, or end one."""
        return self._post(
            results.RulingRow, f"rulings/{number}/answer", {"answer": answer, "note": note}, repeat=True
        )
