"""What a program asks of the service about kits."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from tallshelf.client import results
from tallshelf.client._wire import Wire, listing, path_step


class KitCalls(Wire):
    """Kits: what teams pick of the catalog, what that comes to, and whom a change hits."""

    def kits(
        self,
        *,
        team: str = "",
        server: str = "",
        item: str = "",
        q: str = "",
        trouble: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> Iterator[results.KitRow]:
        """Yield kits by name, or as ``sort`` says; those of a team, or that hold something of a server.

        The words of ``q`` are in name or title; the ``trouble`` is ``suspended``, ``ended`` or ``budget``.
        """
        wanted = {"team": team, "server": server, "item": item, "q": q, "trouble": trouble}
        return self._pages(results.KitRow, "kits", {**wanted, **listing(sort, changed_after)})

    def kit(self, name: str) -> results.KitDetail:
        """Return one kit: what it holds, what is wrong with it, what would move, and how it came to this."""
        return self._get(results.KitDetail, f"kits/{path_step(name)}")

    def put_kit(self, text: str, *, reason: str = "") -> results.KitPut:
        """Put a kit, written in TOML; ``reason`` is needed where it is to see higher data than before."""
        return self._post(results.KitPut, "kits", {"text": text, "reason": reason}, repeat=True)

    def check_kit(self, text: str) -> results.KitCheck:
        """Return what a kit would come to now, and what of that breaks it, storing nothing."""
        return self._post(results.KitCheck, "kit-check", {"text": text}, repeat=True)

    def read_for_kit(self, servers: Sequence[Mapping[str, Any]], names: Sequence[str]) -> results.KnownForKit:
        """Return what the catalog knows of a host's servers (name, command, args, url) and of names in texts."""
        body = {"servers": list(servers), "names": list(names)}
        return self._post(results.KnownForKit, "kit-reading", body, repeat=True)

    def move_kit(self, name: str, to: str = "") -> results.KitMoved:
        """Move a kit to what its picks take now, or one server of it, named ``server@version``."""
        return self._post(results.KitMoved, f"kits/{path_step(name)}/moves", {"to": to}, repeat=True)

    def drop_kit(self, name: str, reason: str) -> None:
        """Take a kit off the shelf; its locks stay, and it may be put again."""
        self._post(results.KitReason, f"kits/{path_step(name)}/drop", {"reason": reason}, repeat=True)

    def proposed_kits(self) -> list[results.NamedProposal]:
        """Return the kits that are to see higher data, and wait for a second curator."""
        return self._get(results.ProposedKits, "kit-proposals").results

    def answer_kit(
        self, name: str, answer: Literal["agree", "decline"], note: str = ""
    ) -> results.KitAnswered:
        """Agree to that a kit sees higher data, or decline it."""
        body = {"answer": answer, "note": note}
        return self._post(results.KitAnswered, f"kits/{path_step(name)}/answer", body, repeat=True)

    def kit_matrix(self, *, team: str = "") -> results.KitMatrix:
        """Return servers against kits: who holds what, at which version."""
        return self._get(results.KitMatrix, "kit-matrix", {"team": team} if team else {})

    def ending(self, slug: str, *, version: str = "", item: str = "") -> results.Ending:
        """Return what it would hit that a server, a release or an item is used no more, and what could stand in."""
        params = {name: value for name, value in (("version", version), ("item", item)) if value}
        return self._get(results.Ending, f"servers/{path_step(slug)}/ending", params)

    def kits_of(self, slug: str) -> list[results.ReleaseHeld]:
        """Return the releases of a server, newest first, each with the kits that hold it."""
        return self._get(results.ReleasesHeld, f"servers/{path_step(slug)}/kits").results
