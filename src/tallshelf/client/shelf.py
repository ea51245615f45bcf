"""One method for each thing a program asks of the service."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from tallshelf.client import results
from tallshelf.client._events import EventCalls
from tallshelf.client._kits import KitCalls
from tallshelf.client._overlaps import OverlapCalls
from tallshelf.client._record import Record
from tallshelf.client._requests import RequestCalls
from tallshelf.client._routing import RoutingCalls
from tallshelf.client._style import StyleCalls
from tallshelf.client._wire import listing, path_step
from tallshelf.core.snapshot import Snapshot, parse_snapshot


class Shelf(EventCalls, KitCalls, OverlapCalls, RequestCalls, RoutingCalls, StyleCalls):
    """A service, as one account sees it.

    Reads are repeated when the connection fails; so are writes that are safe to repeat because
    the service answers the same one the same way. ``transport`` is for tests. Errors are those
    of `tallshelf.core.errors`; one that the service answered with carries its problem document
    as ``problem``.
    """

    # reading

    def me(self) -> results.Me:
        """Return who the token belongs to."""
        person = self._get(results.Session, "session").person
        assert person is not None  # with a token it is somebody, or a problem
        return person

    def servers(
        self,
        *,
        q: str = "",
        team: str = "",
        state: str = "",
        tag: str = "",
        data_class: str = "",
        transport: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> Iterator[results.ServerRow]:
        """Yield servers, page by page: by slug, or as ``sort`` says (``-changed_at``, ``title``, ``-tokens``).

        All, or those alone that are in a ``state`` (``published``, ``in-review``, ``deprecated``, ``suspended``,
        ``empty``, ``adopted``), have a tag, and so on; the words of ``q`` are in name, title, team or tags.
        """
        wanted = {"q": q, "team": team, "state": state, "tag": tag}
        wanted |= {"data_class": data_class, "transport": transport}
        return self._pages(results.ServerRow, "servers", {**wanted, **listing(sort, changed_after)})

    def shelf(self) -> results.ShelfPicture:
        """Return what the shelf holds, counted by the teams that own it."""
        return self._get(results.ShelfPicture, "shelf")

    def server(self, slug: str) -> results.ServerDetail:
        """Return one server with its releases and suspensions."""
        return self._get(results.ServerDetail, f"servers/{path_step(slug)}")

    def release(self, slug: str, version: str = "current") -> results.ReleaseDetail:
        """Return one release."""
        return self._get(results.ReleaseDetail, f"servers/{path_step(slug)}/releases/{path_step(version)}")

    def snapshot(self, slug: str, version: str = "current") -> Snapshot:
        """Return the snapshot of a release."""
        answer = self._send("GET", f"servers/{path_step(slug)}/releases/{path_step(version)}/snapshot")
        return parse_snapshot(answer.content)

    def items(self, slug: str, version: str = "current", item: str = "") -> results.Items:
        """Return the items of a release as a model sees them, with findings and declared objects."""
        params = {"item": item} if item else {}
        return self._get(
            results.Items, f"servers/{path_step(slug)}/releases/{path_step(version)}/items", params
        )

    def connection(self, slug: str, version: str = "current", environment: str = "") -> results.Connection:
        """Return the connection block of a release."""
        params = {"environment": environment} if environment else {}
        return self._get(
            results.Connection, f"servers/{path_step(slug)}/releases/{path_step(version)}/connection", params
        )

    def comparison(self, old: str, new: str) -> results.ReleaseComparison:
        """Return the comparison of two releases, named ``server@version``."""
        return self._get(results.ReleaseComparison, "comparison", {"old": old, "new": new})

    def life(self, slug: str, item: str) -> results.Life:
        """Return the life of an item, such as ``tool:get_tide_times``, through all published releases."""
        return self._get(results.Life, f"servers/{path_step(slug)}/life", {"item": item})

    def stand_in(self, a: str, b: str) -> results.StandIn:
        """Return whether tool ``b`` can take the place of tool ``a``, each ``server[@version]#tool``."""
        return self._get(results.StandIn, "stand-in", {"a": a, "b": b})

    def by_digest(self, digest: str) -> results.ByDigest:
        """Return whether the bytes of a digest are approved, and as which releases."""
        return self._get(results.ByDigest, f"by-digest/{path_step(digest)}")

    def find(self, text: str, *, kind: str = "", team: str = "", limit: int = 20) -> results.Found:
        """Return what does what a text says: ``results``, best first, ``respelled`` words, and the ``fit``."""
        params = {"q": text, "kind": kind, "team": team, "limit": str(limit)}
        return self._get(results.Found, "find", {name: value for name, value in params.items() if value})

    def suspensions(self) -> list[results.SuspensionRow]:
        """Return the suspensions that stand."""
        return self._get(results.SuspensionsPage, "suspensions").results

    def ledger(
        self, *, subject: str = "", event: str = "", sort: str = "", changed_after: datetime | None = None
    ) -> Iterator[results.EntryRow]:
        """Yield the ledger, newest first; ``sort="number"``: oldest first."""
        params = {"subject": subject, "event": event, **listing(sort, changed_after)}
        return self._pages(results.EntryRow, "ledger", params)

    def checkpoint(self) -> results.Checkpoint:
        """Return where the ledger stands now, signed, and the public key."""
        return self._get(results.Checkpoint, "ledger/checkpoint")

    def export_ledger(self) -> Iterator[bytes]:
        """Yield the lines of the whole ledger, as `tallshelf.core.ledger.read_export` reads them."""
        return (line.encode("utf-8") for line in self._lines("GET", "ledger/export"))

    def proof(self, digest: str) -> Record:
        """Return what shows offline that the bytes of a release or snapshot digest were approved."""
        return self._get(Record, f"by-digest/{path_step(digest)}/proof")

    def tokens(self) -> list[results.TokenRow]:
        """Return one's own tokens."""
        return self._get(results.TokensPage, "tokens").results

    # writing

    def user_notes(self, slug: str, version: str = "current") -> results.UserNotes:
        """Return what users say of a release, newest first."""
        return self._get(results.UserNotes, self._notes_of(slug, version))

    def leave_note(self, slug: str, text: str, version: str = "current") -> results.UserNotes:
        """Leave a note on a release."""
        return self._post(results.UserNotes, self._notes_of(slug, version), {"text": text}, repeat=True)

    def answer_note(self, number: int, text: str) -> results.UserNoteRow:
        """Answer a note on a release of your team."""
        return self._post(results.UserNoteRow, f"user-notes/{number}/answer", {"text": text}, repeat=True)

    def remove_note(self, number: int) -> None:
        """Remove a note of yours."""
        self._send("DELETE", f"user-notes/{number}")

    @staticmethod
    def _notes_of(slug: str, version: str) -> str:
        return f"servers/{path_step(slug)}/releases/{path_step(version)}/notes"

    def enrol(self, slug: str, *, title: str, team: str, contact: str, **more: Any) -> results.ServerDetail:
        """Put a server on the shelf."""
        body = {"slug": slug, "title": title, "team": team, "contact": contact, **more}
        return self._post(results.ServerDetail, "servers", body, repeat=True)

    def check(
        self,
        slug: str,
        snapshot: Mapping[str, Any],
        *,
        version: str | None = None,
        launch: Sequence[Mapping[str, Any]] | None = None,
        base: str | None = None,
        breaking: bool = False,
    ) -> results.Checked:
        """Assess a snapshot as a release of a server, storing nothing; ``base`` names a version.

        ``breaking`` declares that a calendar version breaks.

        Without ``launch`` it is not checked whether anybody could connect to it.
        """
        given = None if launch is None else list(launch)
        body = {"snapshot": snapshot, "version": version, "launch": given, "base": base, "breaking": breaking}
        return self._post(results.Checked, f"servers/{path_step(slug)}/check", body, repeat=True)

    def edit(self, slug: str, *, seen: str = "", **changes: Any) -> results.ServerDetail:
        """Change a server's title, contact, source_link, tags or data_class.

        ``seen`` is the ``record_digest`` that was read: `Outdated` when it has moved since.
        """
        headers = {"If-Match": f'"{seen}"'} if seen else {}
        answer = self._send("PATCH", f"servers/{path_step(slug)}", body=changes, headers=headers)
        return results.ServerDetail.of(answer.json())

    def suspend(self, server: str, reason: str, item: str = "") -> results.SuspensionRow:
        """Suspend a server or one item of it at once."""
        return self._post(
            results.SuspensionRow,
            "suspensions",
            {"server": server, "reason": reason, "item": item},
            repeat=True,
        )

    def make_token(self, name: str, scopes: Sequence[str], days: int = 90) -> results.MadeToken:
        """Make a token; its secret is in the answer, this once."""
        return self._post(results.MadeToken, "tokens", {"name": name, "scopes": list(scopes), "days": days})

    def end_token(self, number: int) -> None:
        """End a token at once."""
        self._send("DELETE", f"tokens/{number}")
