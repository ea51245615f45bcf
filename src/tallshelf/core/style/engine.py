"""Running the rules over a snapshot."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from datetime import datetime
from typing import Any

from msgspec.structs import replace

from tallshelf.core.pointer import value_at
from tallshelf.core.snapshot import LaunchRecord, Snapshot, digest
from tallshelf.core.style.finding import LEVELS, Finding, Level, Waiver
from tallshelf.core.style.house import DEFAULT_STYLE, HouseStyle
from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules import OF_ENGLISH, RULES


def lint(
    snapshot: Snapshot,
    *,
    style: HouseStyle = DEFAULT_STYLE,
    version: str | None = None,
    waivers: Iterable[Waiver] = (),
    known: Collection[str] = (),
    now: datetime | None = None,
    launches: tuple[LaunchRecord, ...] | None = None,
    data_class: str | None = None,
    server: str = "",
    before: Snapshot | None = None,
    rules: Iterable[Rule] = RULES,
) -> tuple[Finding, ...]:
    """Return the findings of a snapshot, worst first, with waived and known ones marked.

    ``version`` is the one it is submitted as; ``known`` holds fingerprints that were accepted
    for the server; ``now`` decides which waivers have expired; ``server`` is the slug
    by which the style may override levels. ``before`` is the published snapshot that it follows. Rules on
    ``launches``, ``before`` and the server's ``data_class`` find nothing where these are not given.
    """
    subject = Subject(snapshot, style, version, launches, data_class, before)
    return mark([finding for rule in rules for finding in _run(rule, subject, server)], waivers, known, now)


def mark(
    findings: Iterable[Finding], waivers: Iterable[Waiver], known: Collection[str], now: datetime | None
) -> tuple[Finding, ...]:
    """Return findings marked by the waivers and known ones of today, worst first."""
    waivers = tuple(waivers)
    return tuple(sorted((_mark(finding, waivers, known, now) for finding in findings), key=_rank))


def _run(rule: Rule, subject: Subject, server: str) -> Iterator[Finding]:
    level = subject.style.level_of(rule.id, rule.level, server)
    if level not in LEVELS:
        return
    # Worked out once for a place, however much is found there.
    prints: dict[tuple[str, str], str] = {}
    try:
        for hit in rule.check(subject):
            if rule.id not in OF_ENGLISH or hit.item not in subject.view.in_other_languages:
                place = hit.item, hit.pointer
                if place not in prints:
                    prints[place] = _fingerprint(rule, hit, subject)
                yield _finding(rule, level, hit, prints[place])
    except (TypeError, ValueError, AttributeError, KeyError, IndexError) as fault:
        # A rule that trips over an odd declaration must not hide what the others found.
        message = f"the rule {rule.id} failed here and checked nothing: {fault}"
        hit = RuleHit("server", "", message)
        yield _finding(rule, "warning", hit, _fingerprint(rule, hit, subject))


def _fingerprint(rule: Rule, hit: RuleHit, subject: Subject) -> str:
    return digest([rule.id, hit.item, hit.pointer, _there(subject, hit)])[7:39]


def _finding(rule: Rule, level: Level, hit: RuleHit, fingerprint: str) -> Finding:
    return Finding(
        rule=rule.id,
        family=rule.family,
        covers=rule.covers,
        level=level,
        item=hit.item,
        pointer=hit.pointer,
        span=hit.span,
        message=hit.message,
        suggestion=hit.suggestion,
        fingerprint=fingerprint,
    )


def former_fingerprint(finding: Finding) -> str:
    """Return the fingerprint that a finding had before it was bound to its text: by the words of its rule."""
    return digest([finding.rule, finding.item, finding.pointer, finding.message])[7:23]


def _there(subject: Subject, hit: RuleHit) -> list[Any]:
    """Return what stands at a hit: of a whole item its digest; of several items of one name each."""
    if hit.item == "server":
        return [value_at(dict(subject.snapshot.server), hit.pointer)]
    items = subject.by_identity.get(hit.item, ())
    return [value_at(item.body, hit.pointer) if hit.pointer else item.digest for item in items]


def _mark(
    finding: Finding, waivers: tuple[Waiver, ...], known: Collection[str], now: datetime | None
) -> Finding:
    waiver = next((one.id for one in waivers if one.covers(finding, now)), None)
    # Safety findings are never known: each is mended, or waived by a second person.
    accepted = finding.fingerprint in known and finding.family != "safety"
    return replace(finding, waived=waiver, known=accepted)


def _rank(finding: Finding) -> tuple[object, ...]:
    return (
        not finding.counts,
        LEVELS.index(finding.level),
        finding.item,
        finding.pointer,
        finding.rule,
        finding.span or (0, 0),
    )
