"""One method for each thing a program asks of the service."""

from __future__ import annotations

import time
import uuid
from collections.abc import Iterator, Mapping, Sequence
from types import TracebackType
from typing import Any, Literal, cast
from urllib.parse import quote

import httpx

from tallshelf import __version__
from tallshelf.client.errors import error_from
from tallshelf.core.errors import ServiceFault, TookTooLong, Unreachable
from tallshelf.core.overlap import CatalogItem
from tallshelf.core.snapshot import Item, Snapshot, parse_snapshot

Document = dict[str, Any]
Answer = Literal["agree", "send-back", "decline"]

_SAFE_TO_REPEAT = frozenset({"GET", "DELETE"})
_PAUSES = (0.2, 0.6)
_BUSY = frozenset({502, 503, 504})


class Shelf:
    """A service, as one account sees it.

    Reads are repeated when the connection fails; so are writes that are safe to repeat because
    the service answers the same one the same way. ``transport`` is for tests. Errors are those
    of `tallshelf.core.errors`; one that the service answered with carries its problem document
    as ``problem``.
    """

    def __init__(
        self, url: str, token: str, *, transport: httpx.BaseTransport | None = None, timeout: float = 60.0
    ) -> None:
        self.url = url.rstrip("/")
        self._http = httpx.Client(
            base_url=self.url + "/api/v1/",
            headers={"Authorization": f"Bearer {token}", "User-Agent": f"tallshelf/{__version__}"},
            timeout=timeout,
            transport=transport,
        )

    def __enter__(self) -> Shelf:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def close(self) -> None:
        """Close the connections."""
        self._http.close()

    # reading

    def me(self) -> Document:
        """Return who the token belongs to."""
        return cast(Document, self._get("session")["person"])

    def servers(self, *, team: str = "") -> Iterator[Document]:
        """Yield every server, page by page."""
        return self._pages("servers", {"team": team} if team else {})

    def server(self, slug: str) -> Document:
        """Return one server with its releases and suspensions."""
        return self._get(f"servers/{_path(slug)}")

    def release(self, slug: str, version: str = "current") -> Document:
        """Return one release."""
        return self._get(f"servers/{_path(slug)}/releases/{_path(version)}")

    def snapshot(self, slug: str, version: str = "current") -> Snapshot:
        """Return the snapshot of a release."""
        answer = self._send("GET", f"servers/{_path(slug)}/releases/{_path(version)}/snapshot")
        return parse_snapshot(answer.content)

    def items(self, slug: str, version: str = "current", item: str = "") -> Document:
        """Return the items of a release as a model sees them, with findings and declared objects."""
        params = {"item": item} if item else {}
        return self._get(f"servers/{_path(slug)}/releases/{_path(version)}/items", params)

    def rules(self) -> list[Document]:
        """Return the rules of the house style, each with its reason, settings and examples."""
        return cast("list[Document]", self._get("rules")["results"])

    def findings(self, slug: str, version: str = "current") -> list[Document]:
        """Return what the house style says of a release."""
        path = f"servers/{_path(slug)}/releases/{_path(version)}/findings"
        return cast("list[Document]", self._get(path)["findings"])

    def connection(self, slug: str, version: str = "current", environment: str = "") -> Document:
        """Return the connection block of a release."""
        params = {"environment": environment} if environment else {}
        return self._get(f"servers/{_path(slug)}/releases/{_path(version)}/connection", params)

    def comparison(self, old: str, new: str) -> Document:
        """Return the comparison of two releases, named ``server@version``."""
        return self._get("comparison", {"old": old, "new": new})

    def life(self, slug: str, item: str) -> Document:
        """Return the life of an item, such as ``tool:get_tide_times``, through all published releases."""
        return self._get(f"servers/{_path(slug)}/life", {"item": item})

    def stand_in(self, a: str, b: str) -> Document:
        """Return whether tool ``b`` can take the place of tool ``a``, each ``server[@version]#tool``."""
        return self._get("stand-in", {"a": a, "b": b})

    def by_digest(self, digest: str) -> Document:
        """Return whether the bytes of a digest are approved, and as which releases."""
        return self._get(f"by-digest/{_path(digest)}")

    def catalog_items(self) -> list[CatalogItem]:
        """Return every item of every current release."""
        return [
            CatalogItem(row["server"], Item(row["kind"], row["name"], row["declared"]))
            for row in self._get("catalog-items")["results"]
        ]

    def requests(self, state: str = "", *, mine: bool = False) -> Iterator[Document]:
        """Yield requests, newest first; ``live`` for undecided ones, ``mine`` for those that wait for the asker."""
        params = {"state": state, "mine": "true" if mine else ""}
        return self._pages("requests", {name: value for name, value in params.items() if value})

    def find(self, text: str, *, kind: str = "", team: str = "", limit: int = 20) -> Document:
        """Return what does what a text says: ``results``, best first, and ``respelled`` words."""
        params = {"q": text, "kind": kind, "team": team, "limit": str(limit)}
        return self._get("find", {name: value for name, value in params.items() if value})

    def request(self, number: int) -> Document:
        """Return one request."""
        return self._get(f"requests/{number}")

    def suspensions(self) -> list[Document]:
        """Return the suspensions that stand."""
        return cast("list[Document]", self._get("suspensions")["results"])

    def ledger(self, *, subject: str = "", event: str = "") -> Iterator[Document]:
        """Yield the ledger, newest first."""
        params = {name: value for name, value in {"subject": subject, "event": event}.items() if value}
        return self._pages("ledger", params)

    def tokens(self) -> list[Document]:
        """Return one's own tokens."""
        return cast("list[Document]", self._get("tokens")["results"])

    # writing

    def enrol(self, slug: str, *, title: str, team: str, contact: str, **more: Any) -> Document:
        """Put a server on the shelf."""
        body = {"slug": slug, "title": title, "team": team, "contact": contact, **more}
        return self._post("servers", body, repeat=True)

    def check(
        self,
        slug: str,
        snapshot: Mapping[str, Any],
        *,
        version: str | None = None,
        launch: Sequence[Mapping[str, Any]] = (),
        base: str | None = None,
    ) -> Document:
        """Assess a snapshot as a release of a server, storing nothing; ``base`` names a version."""
        body = {"snapshot": snapshot, "version": version, "launch": list(launch), "base": base}
        return self._post(f"servers/{_path(slug)}/check", body, repeat=True)

    def submit(
        self,
        slug: str,
        snapshot: Mapping[str, Any],
        *,
        version: str | None = None,
        launch: Sequence[Mapping[str, Any]] = (),
        note: str = "",
        request: int | None = None,
    ) -> Document:
        """Ask to publish a release; the same again answers with the same request."""
        body = {
            "snapshot": snapshot,
            "version": version,
            "launch": list(launch),
            "note": note,
            "request": request,
        }
        return self._post(f"servers/{_path(slug)}/releases", body, repeat=True)

    def sign_off(
        self, number: int, answer: Answer, *, release_digest: str, note: str = "", desk: str = ""
    ) -> Document:
        """Answer a request about exactly one release digest."""
        body = {"answer": answer, "release_digest": release_digest, "note": note, "desk": desk}
        return self._post(f"requests/{number}/sign-offs", body, repeat=True)

    def publish(self, number: int) -> Document:
        """Publish an agreed request."""
        return self._post(f"requests/{number}/publication", None, repeat=True)

    def take_back(self, number: int) -> Document:
        """Take a request back."""
        return self._post(f"requests/{number}/take-back", None, repeat=True)

    def edit(self, slug: str, *, seen: str = "", **changes: Any) -> Document:
        """Change a server's title, contact, source_link, tags or data_class.

        ``seen`` is the ``record_digest`` that was read: `Outdated` when it has moved since.
        """
        headers = {"If-Match": f'"{seen}"'} if seen else {}
        answer = self._send("PATCH", f"servers/{_path(slug)}", body=changes, headers=headers)
        return cast(Document, answer.json())

    def retire(
        self,
        slug: str,
        version: str,
        act: Literal["deprecate", "withdraw"],
        reason: str,
        *,
        sunset_at: str | None = None,
        replacement: str = "",
    ) -> Document:
        """Deprecate a release, perhaps with a date after which it must not be used, or withdraw it."""
        body = {"act": act, "reason": reason, "sunset_at": sunset_at, "replacement": replacement}
        return self._post(f"servers/{_path(slug)}/releases/{_path(version)}/retirement", body)

    def suspend(self, server: str, reason: str, item: str = "") -> Document:
        """Suspend a server or one item of it at once."""
        return self._post("suspensions", {"server": server, "reason": reason, "item": item}, repeat=True)

    def make_token(self, name: str, scopes: Sequence[str], days: int = 90) -> Document:
        """Make a token; its secret is in the answer, this once."""
        return self._post("tokens", {"name": name, "scopes": list(scopes), "days": days})

    def end_token(self, number: int) -> None:
        """End a token at once."""
        self._send("DELETE", f"tokens/{number}")

    # the wire

    def _get(self, path: str, params: Mapping[str, str] | None = None) -> Document:
        return cast(Document, self._send("GET", path, params=params).json())

    def _post(self, path: str, body: Any, *, repeat: bool = False) -> Document:
        return cast(Document, self._send("POST", path, body=body, repeat=repeat).json())

    def _pages(self, path: str, params: Mapping[str, str]) -> Iterator[Document]:
        cursor: str | None = None
        while True:
            page = self._get(path, {**params, "limit": "200", **({"cursor": cursor} if cursor else {})})
            yield from page["results"]
            cursor = page["next"]
            if cursor is None:
                return

    def _send(
        self,
        method: str,
        path: str,
        *,
        params: Mapping[str, str] | None = None,
        body: Any = None,
        repeat: bool = False,
        headers: Mapping[str, str] | None = None,
    ) -> httpx.Response:
        sent = dict(headers or {})
        if method == "POST":
            sent["Idempotency-Key"] = uuid.uuid4().hex
        pauses = _PAUSES if repeat or method in _SAFE_TO_REPEAT else ()
        for pause in (*pauses, None):
            try:
                answer = self._http.request(method, path, params=params, json=body, headers=sent)
            except httpx.TimeoutException:
                raise TookTooLong(f"{self.url} did not answer in time") from None
            except (httpx.TransportError, httpx.InvalidURL) as fault:
                if pause is None or isinstance(fault, httpx.UnsupportedProtocol | httpx.InvalidURL):
                    raise Unreachable(
                        f"could not reach {self.url}: {fault}",
                        remedy="Is the service running, and is that its address?",
                    ) from None
            else:
                if pause is None or answer.status_code not in _BUSY:
                    return self._checked(answer)
            time.sleep(pause)
        raise Unreachable(f"could not reach {self.url}")

    def _checked(self, answer: httpx.Response) -> httpx.Response:
        if answer.is_success:
            return answer
        try:
            problem = answer.json()
        except ValueError:
            problem = None
        if not isinstance(problem, dict) or "type" not in problem:
            raise ServiceFault(
                f"{self.url} answered with HTTP {answer.status_code}", remedy="Is that a Tall Shelf service?"
            )
        raise error_from(problem, answer.status_code)


def _path(text: str) -> str:
    return quote(text, safe="")
