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
        one.version: {
            "digest": one.digest,
            "rules": digest(one.rules),
            "state": one.state,
            "replaces": one.replaces,
        }
        for one in StoredRuleSet.objects.all()
    }


def _told_rules(state: State) -> dict[int, dict[str, object]]:
    told: dict[int, dict[str, object]] = {}
    for number, one in state.rules.items():
        row: dict[str, object] = {"digest": one.body["digest"], "rules": one.body["digest"]}
        row["state"] = one.state
        if "replaces" in one.body:
            row["replaces"] = one.body["replaces"]
        told[number] = row
    return told


def _styles() -> dict[int, dict[str, object]]:
    return {
        one.version: {
            "text": digest(one.text),
            "digest": _style_digest(one.text),
            "named": one.digest,
            "state": one.state,
        }
        for one in StoredStyle.objects.all()
    }


def _style_digest(text: str) -> str:
    try:
        return parse_style(text).digest
    except Exception as fault:  # whatever keeps it from being read is what is told
        return f"unreadable ({fault})"


def _told_styles(state: State) -> dict[int, dict[str, object]]:
    told: dict[int, dict[str, object]] = {}
    for number, one in state.styles.items():
        row: dict[str, object] = {"named": one.body["digest"], "state": one.state}
        if "text_digest" in one.body:
            row["text"] = one.body["text_digest"]
        told[number] = row
    return told


def _waivers() -> dict[int, dict[str, Any]]:
    return {
        one.pk: {
            "server": one.server.slug,
            "rule": one.rule,
            "item": one.item,
            "pointer": one.pointer,
            "until": one.until,
            "state": one.state,
            "asked_by": one.asked_by.username,
            "fingerprints": sorted(one.fingerprints),
        }
        for one in StoredWaiver.objects.select_related("server", "asked_by")
    }


def _told_waivers(state: State) -> dict[int, dict[str, Any]]:
    return {
        one.number: {
            "server": one.server,
            "rule": one.rule,
            "item": one.item,
            "pointer": one.pointer,
            "until": one.until,
            "state": one.state,
            "asked_by": one.by,
            "fingerprints": sorted(one.fingerprints),
        }
        for one in state.waivers.values()
    }


def _rulings() -> dict[int, dict[str, Any]]:
    return {
        one.pk: {
            **{name: getattr(one, name) for name in _RULED},
            "state": one.state,
            "by": one.by.username,
            "release": str(one.release) if one.release else "",
            "base": one.base.version if one.base else "",
        }
        for one in StoredRuling.objects.select_related("by", "release__server", "base")
    }


def _told_rulings(state: State) -> dict[int, dict[str, Any]]:
    return {
        number: {
            **{name: one.body[name] for name in _RULED},
            "state": one.state,
            "by": one.by,
            "release": one.body.get("release", ""),
            "base": one.body.get("base", ""),
        }
        for number, one in state.rulings.items()
    }


def _proposals() -> dict[int, dict[str, Any]]:
    return {
        one.pk: {
            "server": one.server.slug,
            "fingerprints": one.fingerprints,
            "state": one.state,
            "by": one.by.username,
        }
        for one in StoredKnown.objects.select_related("server", "by")
    }


def _told_proposals(state: State) -> dict[int, dict[str, Any]]:
    return {
        number: {
            "server": one.body["server"],
            "fingerprints": one.body["fingerprints"],
            "state": one.state,
            "by": one.by,
        }
        for number, one in state.proposed_known.items()
    }


def _known(state: State) -> Iterator[Difference]:
    there: dict[str, set[str]] = {}
    for slug, fingerprint in KnownFinding.objects.values_list("server__slug", "fingerprint"):
        there.setdefault(slug, set()).add(fingerprint)
    for slug in sorted(there.keys() | state.known.keys()):
        if there.get(slug, set()) != state.known.get(slug, frozenset()):
            words = f"the known findings of {slug} are not those that the ledger names"
            yield Difference("known findings", words)
