"""Routing rules, house styles, waivers, rulings and known findings, as the ledger tells them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tallshelf.core.entitlement import State
from tallshelf.core.snapshot import digest
from tallshelf.core.style import parse_style
from tallshelf.service.catalog.linting import stored_style_in_force
from tallshelf.service.catalog.models import (
    KnownFinding,
    StoredKnown,
    StoredRuling,
    StoredStyle,
    StoredWaiver,
)
from tallshelf.service.review.assessing import stored_rules_in_force
from tallshelf.service.review.models import StoredRuleSet
from tallshelf.service.verifying.rows import Difference, compare

_RULED = ("word", "members", "pairs", "preferred", "owner")


def differences(state: State) -> Iterator[Difference]:
    """Yield where what was decided is not as told."""
    yield from compare("version of the routing rules", _rules(), _told_rules(state))
    yield from compare("version of the house style", _styles(), _told_styles(state))
    rules, style = stored_rules_in_force(), stored_style_in_force()
    in_force = {"rules": rules.version if rules else 0, "style": style.version if style else 0}
    told = {"rules": state.in_force.get("rules", 0), "style": state.in_force.get("style", 0)}
    yield from compare(
        "in force:",
        {name: {"version": number} for name, number in in_force.items()},
        {name: {"version": number} for name, number in told.items()},
    )
    yield from compare("waiver", _waivers(), _told_waivers(state))
    yield from compare("ruling", _rulings(), _told_rulings(state))
    yield from compare("proposal about known findings", _proposals(), _told_proposals(state))
    yield from _known(state)


def _rules() -> dict[int, dict[str, object]]:
    return {
        rule_set.version: {
            "digest": rule_set.digest,
            "rules": digest(rule_set.rules),
            "state": rule_set.state,
            "replaces": rule_set.replaces,
        }
        for rule_set in StoredRuleSet.objects.all()
    }


def _told_rules(state: State) -> dict[int, dict[str, object]]:
    told: dict[int, dict[str, object]] = {}
    for number, proposal in state.rules.items():
        row: dict[str, object] = {"digest": proposal.body["digest"], "rules": proposal.body["digest"]}
        row["state"] = proposal.state
        if "replaces" in proposal.body:
            row["replaces"] = proposal.body["replaces"]
        told[number] = row
    return told


def _styles() -> dict[int, dict[str, object]]:
    return {
        style.version: {
            "text": digest(style.text),
            "digest": _style_digest(style.text),
            "named": style.digest,
            "state": style.state,
        }
        for style in StoredStyle.objects.all()
    }


def _style_digest(text: str) -> str:
    try:
        return parse_style(text).digest
    except Exception as fault:  # whatever keeps it from being read is what is told
        return f"unreadable ({fault})"


def _told_styles(state: State) -> dict[int, dict[str, object]]:
    told: dict[int, dict[str, object]] = {}
    for number, proposal in state.styles.items():
        row: dict[str, object] = {"named": proposal.body["digest"], "state": proposal.state}
        if "text_digest" in proposal.body:
            row["text"] = proposal.body["text_digest"]
        told[number] = row
    return told


def _waivers() -> dict[int, dict[str, Any]]:
    return {
        waiver.pk: {
            "server": waiver.server.slug,
            "rule": waiver.rule,
            "item": waiver.item,
            "pointer": waiver.pointer,
            "until": waiver.until,
            "state": waiver.state,
            "asked_by": waiver.asked_by.username,
            "fingerprints": sorted(waiver.fingerprints),
        }
        for waiver in StoredWaiver.objects.select_related("server", "asked_by")
    }


def _told_waivers(state: State) -> dict[int, dict[str, Any]]:
    return {
        waiver.number: {
            "server": waiver.server,
            "rule": waiver.rule,
            "item": waiver.item,
            "pointer": waiver.pointer,
            "until": waiver.until,
            "state": waiver.state,
            "asked_by": waiver.by,
            "fingerprints": sorted(waiver.fingerprints),
        }
        for waiver in state.waivers.values()
    }


def _rulings() -> dict[int, dict[str, Any]]:
    return {
        ruling.pk: {
            **{name: getattr(ruling, name) for name in _RULED},
            "state": ruling.state,
            "by": ruling.by.username,
            "release": str(ruling.release) if ruling.release else "",
            "base": ruling.base.version if ruling.base else "",
        }
        for ruling in StoredRuling.objects.select_related("by", "release__server", "base")
    }


def _told_rulings(state: State) -> dict[int, dict[str, Any]]:
    return {
        number: {
            **{name: proposal.body[name] for name in _RULED},
            "state": proposal.state,
            "by": proposal.by,
            "release": proposal.body.get("release", ""),
            "base": proposal.body.get("base", ""),
        }
        for number, proposal in state.rulings.items()
    }


def _proposals() -> dict[int, dict[str, Any]]:
    return {
        known.pk: {
            "server": known.server.slug,
            "fingerprints": known.fingerprints,
            "state": known.state,
            "by": known.by.username,
        }
        for known in StoredKnown.objects.select_related("server", "by")
    }


def _told_proposals(state: State) -> dict[int, dict[str, Any]]:
    return {
        number: {
            "server": proposal.body["server"],
            "fingerprints": proposal.body["fingerprints"],
            "state": proposal.state,
            "by": proposal.by,
        }
        for number, proposal in state.proposed_known.items()
    }


def _known(state: State) -> Iterator[Difference]:
    there: dict[str, set[str]] = {}
    for slug, fingerprint in KnownFinding.objects.values_list("server__slug", "fingerprint"):
        there.setdefault(slug, set()).add(fingerprint)
    for slug in sorted(there.keys() | state.known.keys()):
        if there.get(slug, set()) != state.known.get(slug, frozenset()):
            words = f"the known findings of {slug} are not those that the ledger names"
            yield Difference("known findings", words)
