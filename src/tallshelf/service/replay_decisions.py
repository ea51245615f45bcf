"""Replaying what was decided: routing rules, house styles, waivers, rulings and known findings.

Each lets something pass or be asked; one that stands in the tables and was never decided is reported.
Older entries say less: nothing of the default rules, of a style's text, of what was known at adoption. What an
entry does not speak of is not held against it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from tallshelf.core.routing import DEFAULT_RULES
from tallshelf.core.snapshot import digest
from tallshelf.service.catalog.linting import stored_style_in_force
from tallshelf.service.catalog.models import KnownFinding, StoredRuling, StoredStyle, StoredWaiver
from tallshelf.service.review.assessing import stored_rules_in_force
from tallshelf.service.review.models import StoredRuleSet

_WAIVED = ("rule", "item", "pointer", "until")
_RULED = ("word", "members", "preferred", "pairs")


@dataclass
class Decided:
    """What the ledger says was decided and stands."""

    rules: dict[int, str] = field(default_factory=dict)
    rules_in_force: int | None = None
    styles: dict[int, str | None] = field(default_factory=dict)
    style_in_force: int | None = None
    waivers: dict[int, dict[str, Any]] = field(default_factory=dict)
    pairs: dict[int, Any] = field(default_factory=dict)
    rulings: dict[int, dict[str, Any]] = field(default_factory=dict)
    known: dict[str, set[str] | None] = field(default_factory=dict)

    def tell(self, event: str, body: dict[str, Any]) -> None:
        """Take one entry in."""
        match event:
            case "rules-proposed" | "rules-changed":
                self.rules[body["version"]] = body["digest"]
                if event == "rules-changed":
                    self.rules_in_force = body["version"]
            case "style-proposed":
                self.styles[body["version"]] = body.get("text_digest")
            case "style-in-force":
                self.style_in_force = body["version"]
            case "waiver-granted":
                self.waivers[body["waiver"]] = {name: body[name] for name in ("server", *_WAIVED)}
            case "waiver-ended":
                self.waivers.pop(body["waiver"], None)
            case "ruling-proposed":
                self.pairs[body["ruling"]] = body["pairs"]
            case "ruling-in-force":
                pairs = self.pairs.get(body["ruling"])
                self.rulings[body["ruling"]] = {name: {**body, "pairs": pairs}[name] for name in _RULED}
            case "ruling-ended":
                self.rulings.pop(body["ruling"], None)
            case "release-adopted" | "known-accepted":
                self.known[body["server"]] = set(body["fingerprints"]) if "fingerprints" in body else None
            case "known-shrunk":
                known = self.known.get(body["server"])
                self.known[body["server"]] = None if known is None else known - set(body["gone"])

    def differences(self) -> Iterator[str]:
        """Yield in words where the tables say otherwise."""
        yield from self._rules()
        yield from self._styles()
        yield from self._waivers()
        yield from self._rulings()
        yield from self._known()

    def _rules(self) -> Iterator[str]:
        for one in StoredRuleSet.objects.order_by("version"):
            shipped = DEFAULT_RULES.digest if one.by == "default" else None
            if not self.rules.get(one.version, shipped) == one.digest == digest(one.rules):
                yield f"version {one.version} of the routing rules is not the one that the ledger names"
        found = stored_rules_in_force()
        if found is not None and found.by == "default" and self.rules_in_force is None:
            return
        yield from _in_force("of the routing rules", found.version if found else None, self.rules_in_force)

    def _styles(self) -> Iterator[str]:
        for version, text in StoredStyle.objects.order_by("version").values_list("version", "text"):
            if self.styles.get(version, "") not in (digest(text), None):
                yield f"version {version} of the house style is not the one that the ledger names"
        found = stored_style_in_force()
        yield from _in_force("of the house style", found.version if found else None, self.style_in_force)

    def _waivers(self) -> Iterator[str]:
        granted = {
            one.pk: {
                "server": one.server.slug,
                **{name: getattr(one, name) for name in _WAIVED},
                "until": one.until.isoformat(),
            }
            for one in StoredWaiver.objects.filter(state="granted").select_related("server")
        }
        yield from _stands("waiver", granted, self.waivers)

    def _rulings(self) -> Iterator[str]:
        in_force = {
            one.pk: {name: getattr(one, name) for name in _RULED}
            for one in StoredRuling.objects.filter(state="in force")
        }
        yield from _stands("ruling", in_force, self.rulings)

    def _known(self) -> Iterator[str]:
        there: dict[str, set[str]] = {}
        for slug, fingerprint in KnownFinding.objects.values_list("server__slug", "fingerprint"):
            there.setdefault(slug, set()).add(fingerprint)
        for slug in sorted(there.keys() | self.known.keys()):
            if self.known.get(slug, set()) not in (there.get(slug, set()), None):
                yield f"the known findings of {slug} are not those that the ledger names"


def _in_force(what: str, found: int | None, told: int | None) -> Iterator[str]:
    if found != told:
        yield f"version {found or 0} {what} is in force, and the ledger says {told or 0}"


def _stands(what: str, there: dict[int, Any], told: dict[int, Any]) -> Iterator[str]:
    for number in sorted(there.keys() | told.keys()):
        if number not in told:
            yield f"{what} {number} stands, and the ledger does not say so"
        elif number not in there:
            yield f"{what} {number} does not stand any more, and the ledger does not say why"
        elif there[number] != told[number]:
            yield f"{what} {number} says other than the ledger"
