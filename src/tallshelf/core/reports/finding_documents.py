"""Findings, rules and the effect of a style as JSON documents."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from tallshelf.core.style import Finding, Rule, StyleEffect


def finding_document(finding: Finding) -> dict[str, Any]:
    """Return one finding as a JSON object."""
    return {
        "rule": finding.rule,
        "family": finding.family,
        "covers": list(finding.covers),
        "level": finding.level,
        "item": finding.item,
        "pointer": finding.pointer,
        "span": list(finding.span) if finding.span else None,
        "message": finding.message,
        "suggestion": list(finding.suggestion) if finding.suggestion else None,
        "fingerprint": finding.fingerprint,
        "waived": finding.waived,
        "known": finding.known,
    }


def finding_from(document: Mapping[str, Any]) -> Finding:
    """Return the finding that `finding_document` wrote."""
    span, suggestion = document["span"], document["suggestion"]
    return Finding(
        **{
            **document,
            "covers": tuple(document["covers"]),
            "span": (span[0], span[1]) if span else None,
            "suggestion": tuple(suggestion) if suggestion else None,
        }
    )


def rule_document(rule: Rule) -> dict[str, Any]:
    """Return one rule of the house style as a JSON object."""
    return {
        "rule": rule.id,
        "family": rule.family,
        "covers": list(rule.covers),
        "level": rule.level,
        "reason": rule.reason,
        "settings": [
            {
                "name": setting.name,
                "type": type(setting.default).__name__.replace("tuple", "list"),
                "default": list(setting.default) if isinstance(setting.default, tuple) else setting.default,
                "means": setting.means,
            }
            for setting in rule.settings
        ],
        "bad": rule.bad,
        "good": rule.good,
    }


def lint_document(findings: Iterable[Finding]) -> dict[str, Any]:
    """Return findings as a ``tallshelf.findings/1`` document."""
    return {"format": "tallshelf.findings/1", "findings": [finding_document(finding) for finding in findings]}


def effect_document(effect: StyleEffect, loosened: Iterable[str]) -> dict[str, Any]:
    """Return what a house style would do as a ``tallshelf.style-effect/1`` document."""
    return {
        "format": "tallshelf.style-effect/1",
        "servers": effect.servers,
        "rules": [
            {
                "rule": rule_effect.rule,
                "family": rule_effect.family,
                "before": rule_effect.before,
                "after": rule_effect.after,
            }
            for rule_effect in effect.rules
        ],
        "newly_failing": [
            {"server": server, "rules": list(rules)} for server, rules in sorted(effect.newly_failing.items())
        ],
        "no_longer_failing": sorted(effect.no_longer_failing),
        "loosened": list(loosened),
    }
