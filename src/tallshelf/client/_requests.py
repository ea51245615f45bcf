"""What a program asks of the service about requests: asking, answering, talking, and what waits."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from tallshelf.client import results
from tallshelf.client._wire import Wire, listing, path_step

Answer = Literal["agree", "send-back", "decline"]


class RequestCalls(Wire):
    """Requests and what belongs to them."""

    def requests(
        self,
        state: str = "",
        *,
        mine: bool = False,
        team: str = "",
        kind: str = "",
        q: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> Iterator[results.RequestRow]:
        """Yield requests, newest first or as ``sort`` says (``-changed_at``, ``opened_at``).

        The state ``live`` means undecided ones, ``mine`` those that wait for the asker (in their own order, whatever
        else is asked for); the words of ``q`` are in what is asked about, or in who asked.
        """
        wanted = {"state": state, "mine": "true" if mine else "", "team": team, "kind": kind, "q": q}
        return self._pages(results.RequestRow, "requests", {**wanted, **listing(sort, changed_after)})

    def request(self, number: int) -> results.RequestDetail:
        """Return one request."""
        return self._get(results.RequestDetail, f"requests/{number}")

    def inbox(self) -> list[results.InboxEntry]:
        """Return what waits for the asker, the most pressing first."""
        return self._get(results.Inbox, "inbox").results

    def submit(
        self,
        slug: str,
        snapshot: Mapping[str, Any],
        *,
        version: str | None = None,
        launch: Sequence[Mapping[str, Any]] = (),
        note: str = "",
        request: int | None = None,
        breaking: bool = False,
    ) -> results.RequestDetail:
        """Ask to publish a release; the same again answers with the same request.

        ``breaking`` declares that a calendar version breaks.
        """
        body = {
            "snapshot": snapshot,
            "version": version,
            "launch": list(launch),
            "note": note,
            "request": request,
            "breaking": breaking,
        }
        return self._post(results.RequestDetail, f"servers/{path_step(slug)}/releases", body, repeat=True)

    def ask(self, kind: str, server: str, reason: str, **terms: Any) -> results.RequestDetail:
        """Ask for another act: ``deprecate``, ``withdraw``, ``lift``, ``data-class`` or ``version-scheme``.

        Terms are ``version``, ``item``, ``sunset_at``, ``replacement``, ``data_class``, ``scheme``, as the kind needs.
        The same again answers with the same request.
        """
        return self._post(
            results.RequestDetail,
            "requests",
            {"kind": kind, "server": server, "reason": reason, **terms},
            repeat=True,
        )

    def sign_off(
        self,
        number: int,
        answer: Answer,
        *,
        release_digest: str,
        assessment_digest: str,
        note: str = "",
        desk: str = "",
        conditions: Sequence[Mapping[str, str]] = (),
        despite: Mapping[str, str] | None = None,
    ) -> results.RequestDetail:
        """Answer a request about exactly one release and one assessment of it.

        ``conditions`` to agreeing have ``text``, ``owner`` (a user name) and ``due`` (a day); ``despite`` says for
        each gate that fails why one agrees all the same.
        """
        seen = {"release_digest": release_digest, "assessment_digest": assessment_digest}
        reasons = [{"gate": gate, "reason": reason} for gate, reason in (despite or {}).items()]
        body = {"answer": answer, **seen, "note": note, "desk": desk, "conditions": list(conditions)}
        body["despite"] = reasons
        return self._post(results.RequestDetail, f"requests/{number}/sign-offs", body, repeat=True)

    def publish(self, number: int) -> results.Publication:
        """Publish an agreed request."""
        return self._post(results.Publication, f"requests/{number}/publication", None, repeat=True)

    def reassess(self, number: int) -> results.RequestDetail:
        """Have a request assessed anew when something that its assessment rests on has moved."""
        return self._post(results.RequestDetail, f"requests/{number}/assessment", None, repeat=True)

    def take_back(self, number: int) -> results.RequestDetail:
        """Take a request back."""
        return self._post(results.RequestDetail, f"requests/{number}/take-back", None, repeat=True)

    def take(self, number: int, *, hand_on: bool = False) -> results.RequestDetail:
        """Take a request that waits at an own desk, or hand it on."""
        return self._post(
            results.RequestDetail, f"requests/{number}/taking", {"hand_on": hand_on}, repeat=True
        )

    def comment(
        self,
        number: int,
        text: str,
        *,
        question: bool = False,
        objection: bool = False,
        item: str = "",
        pointer: str = "",
    ) -> results.RequestDetail:
        """Say something on a request, perhaps on a place in an item; or ask what blocks until it is answered."""
        kind = "objection" if objection else "question" if question else "remark"
        body = {"text": text, "kind": kind, "item": item, "pointer": pointer}
        return self._post(results.RequestDetail, f"requests/{number}/comments", body, repeat=True)

    def answer_comment(self, number: int, comment: int, text: str) -> results.RequestDetail:
        """Answer a remark or question."""
        return self._post(
            results.RequestDetail,
            f"requests/{number}/comments/{comment}/answers",
            {"text": text},
            repeat=True,
        )

    def follow_ups(self, state: str = "open", *, mine: bool = False) -> list[results.FollowUpRow]:
        """Return the conditions that reviewers agreed under, those due first before others."""
        params = {"state": state, "mine": "true" if mine else ""}
        found = self._get(
            results.FollowUps, "follow-ups", {name: value for name, value in params.items() if value}
        )
        return found.results

    def close_follow_up(self, number: int, note: str) -> results.FollowUpRow:
        """Close a follow-up, saying what was done."""
        return self._post(results.FollowUpRow, f"follow-ups/{number}/closing", {"note": note}, repeat=True)

    def deputies(self) -> list[results.DeputyRow]:
        """Return who signs in whose place."""
        return self._get(results.Deputies, "deputies").results

    def name_deputy(self, deputy: str, until: str, since: str | None = None) -> list[results.DeputyRow]:
        """Name who signs in one's place, between two moments."""
        body = {"deputy": deputy, "until": until, "since": since}
        return self._post(results.Deputies, "deputies", body, repeat=True).results

    def end_deputy(self, number: int) -> None:
        """End that somebody signs in one's place."""
        self._send("DELETE", f"deputies/{number}")
