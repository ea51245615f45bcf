"""What a program asks of the service about routing rules and desks."""

from __future__ import annotations

from typing import Literal

from tallshelf.client import results
from tallshelf.client._wire import Wire


class RoutingCalls(Wire):
    """Routing rules and desks."""

    def routing(self, version: int | None = None) -> results.Routing:
        """Return the routing rules in force, or those of a version, with their TOML as ``text``."""
        return self._get(results.Routing, "routing", {} if version is None else {"version": str(version)})

    def routing_versions(self) -> list[results.RoutingRow]:
        """Return every version of the routing rules, newest first."""
        return self._get(results.RoutingVersions, "routing/versions").results

    def try_routing(self, text: str, *, days: int = 90) -> results.RoutingRehearsal:
        """Return who would have been asked by other rules, on the requests of the last days."""
        return self._post(
            results.RoutingRehearsal, "routing/rehearsal", {"text": text, "days": days}, repeat=True
        )

    def apply_routing(self, text: str, note: str, *, seen: int | None = None) -> results.Routing:
        """Store routing rules: in force at once, or proposed when they ask less."""
        return self._post(results.Routing, "routing", {"text": text, "note": note, "seen": seen}, repeat=True)

    def answer_routing(
        self, version: int, answer: Literal["agree", "decline"], note: str = ""
    ) -> results.Routing:
        """Agree to proposed routing rules, or decline them."""
        body = {"answer": answer, "note": note}
        return self._post(results.Routing, f"routing/versions/{version}/answer", body, repeat=True)

    def desks(self) -> list[results.DeskRow]:
        """Return every desk, with who sits there."""
        return self._get(results.Desks, "desks").results
