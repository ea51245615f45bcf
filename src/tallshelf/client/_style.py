"""What a program asks of the service about the house style."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import datetime
from typing import Any, Literal

from tallshelf.client import results
from tallshelf.client._record import Record
from tallshelf.client._wire import Wire, listing, path_step


class StyleCalls(Wire):
    """The house style, waivers and known findings."""

    def rules(self) -> list[results.Rule]:
        """Return the rules of the house style, each with its reason, settings and examples."""
        return self._get(results.Rules, "rules").results

    def style(self, version: int | None = None) -> results.Style:
        """Return the house style in force, or one by its version, with its TOML as ``text``."""
        return self._get(results.Style, "style", {} if version is None else {"version": str(version)})

    def styles(self) -> list[results.StyleRow]:
        """Return every version of the house style, newest first."""
        return self._get(results.Styles, "styles").results

    def preview_style(self, text: str) -> Iterator[Record]:
        """Yield how far the effect of a style is worked out (``done``, ``of``), and last the effect."""
        return self._documents("style/effect", {"text": text})

    def apply_style(self, text: str, note: str, *, seen: int | None = None) -> results.Style:
        """Store a house style: in force at once, or proposed when it loosens.

        ``seen`` is the version it was written against: `Outdated` when another is in force by now.
        """
        return self._post(results.Style, "style", {"text": text, "note": note, "seen": seen}, repeat=True)

    def answer_style(
        self, version: int, answer: Literal["agree", "decline"], note: str = ""
    ) -> results.Style:
        """Agree to a proposed house style, or decline it."""
        return self._post(
            results.Style, f"styles/{version}/answer", {"answer": answer, "note": note}, repeat=True
        )

    def findings(self, slug: str, version: str = "current") -> list[results.Finding]:
        """Return what the house style says of a release."""
        path = f"servers/{path_step(slug)}/releases/{path_step(version)}/findings"
        return self._get(results.Findings, path).findings

    def lint(
        self,
        snapshot: Mapping[str, Any],
        *,
        house_style: str | None = None,
        version: str | None = None,
        server: str | None = None,
    ) -> list[results.Finding]:
        """Return the findings of a snapshot under the style in force, or another in TOML."""
        body = {"snapshot": snapshot, "house_style": house_style, "version": version, "server": server}
        return self._post(results.Findings, "lint", body, repeat=True).findings

    def findings_summary(self) -> list[results.SummaryRow]:
        """Return how often each rule speaks in each team's current releases."""
        return self._get(results.Summary, "findings").results

    def places(
        self, *, rule: str = "", team: str = "", server: str = "", level: str = ""
    ) -> Iterator[results.Placed]:
        """Yield the findings of all current releases with where they are, filtered."""
        params = {"rule": rule, "team": team, "server": server, "level": level}
        return self._pages(
            results.Placed, "findings/places", {name: value for name, value in params.items() if value}
        )

    def waivers(
        self,
        *,
        server: str = "",
        state: str = "",
        rule: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> Iterator[results.WaiverRow]:
        """Yield waivers, newest first, or as ``sort`` says (``until``, ``-changed_at``)."""
        params = {"server": server, "state": state, "rule": rule, **listing(sort, changed_after)}
        return self._pages(results.WaiverRow, "waivers", params)

    def ask_waiver(
        self, server: str, rule: str, item: str, reason: str, until: str, *, pointer: str | None = None
    ) -> results.WaiverRow:
        """Ask that a rule be set aside for an item, or one place in it, until a moment (ISO 8601)."""
        body = {"server": server, "rule": rule, "item": item, "reason": reason, "until": until}
        return self._post(results.WaiverRow, "waivers", {**body, "pointer": pointer}, repeat=True)

    def answer_waiver(
        self, number: int, answer: Literal["grant", "refuse", "end"], note: str = ""
    ) -> results.WaiverRow:
        """Grant, refuse or end a waiver."""
        return self._post(
            results.WaiverRow, f"waivers/{number}/answer", {"answer": answer, "note": note}, repeat=True
        )

    def known(self, slug: str) -> results.Known:
        """Return how many findings of a server are accepted as ``known``, and what is ``proposed``."""
        return self._get(results.Known, f"servers/{path_step(slug)}/known-findings")

    def propose_known(self, slug: str, reason: str) -> results.Known:
        """Propose to accept all findings of the current release as known, but for those on safety."""
        body = {"reason": reason}
        return self._post(results.Known, f"servers/{path_step(slug)}/known-findings", body, repeat=True)

    def answer_known(self, number: int, answer: Literal["agree", "decline"], note: str = "") -> results.Known:
        """Agree to a proposal of another curator about known findings, or decline it."""
        body = {"answer": answer, "note": note}
        return self._post(results.Known, f"known-findings/{number}/answer", body, repeat=True)
