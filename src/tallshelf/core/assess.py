"""One call that compares, lints, looks for overlaps and proposes a route."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime
from functools import cached_property
from typing import Any, Literal

from msgspec import Struct, field

from tallshelf.core.changes import (
    LOOSENED_CONSENT,
    SAME_MEANING,
    NextVersion,
    SnapshotComparison,
    compare_snapshots,
    next_version,
    with_rulings,
    worst,
)
from tallshelf.core.engine import engine_digest
from tallshelf.core.gates import FailedGate, Gate, failed_gates
from tallshelf.core.input_digests import known_digest, rulings_digest, server_digest, waivers_digest
from tallshelf.core.kits import STOPS, Hit, Holder, ended, hits
from tallshelf.core.overlap import Overlap, OverlapIndex, Ruling, entries_of, find_overlaps
from tallshelf.core.routing import DATA_CLASSES, ENDING, KINDS, Facts, Route, RuleSet
from tallshelf.core.snapshot import Item, LaunchRecord, Scheme, Snapshot, digest, is_of_scheme, outline
from tallshelf.core.style import DEFAULT_STYLE, Finding, HouseStyle, Waiver, lint

NOT_GIVEN = "not given"
_MOVING = frozenset({"days_since_release", "kits_hit", "teams_hit", "breaking_kits", "hit_teams"})


class Base(Struct, frozen=True):
    """The published release to compare with; ``version`` is None for a bare file."""

    reference: str
    version: str | None
    snapshot: Snapshot
    launches: tuple[LaunchRecord, ...] | None = None
    published: datetime | None = None


class ServerRecord(Struct, frozen=True):
    """What the catalog says about the server."""

    slug: str
    team: str
    data_class: str


class Context(Struct, frozen=True):
    """All that an assessment may draw on, each part of which may be absent (None).

    ``base`` is ``"first"`` when the server is known to have no published release. ``kind`` is what is
    asked for; ``data_class_before`` the data class that held when the base was assessed; ``scheme`` is how the
    server numbers its releases, ``breaking`` whether one of a calendar scheme is declared to break;
    ``since`` by basis since when its published releases have an item; ``holders`` are the kits that hold something of
    it; ``hit_teams`` their owner teams as they were when it was handed in, where it is assessed anew;
    ``item`` is what is asked about, where that is one item of a server.
    """

    now: datetime | None = None
    server: ServerRecord | None = None
    version: str | None = None
    launches: tuple[LaunchRecord, ...] | None = None
    origin: str = "handed in"
    base: Base | Literal["first"] | None = None
    index: OverlapIndex | None = None
    style: HouseStyle = DEFAULT_STYLE
    waivers: tuple[Waiver, ...] | None = None
    known: frozenset[str] = frozenset()
    rulings: tuple[Ruling, ...] | None = None
    rules: RuleSet | None = None
    kind: str = "publish"
    data_class_before: str | None = None
    scheme: Scheme = "semver"
    breaking: bool = False
    since: Mapping[str, str] | None = None
    holders: tuple[Holder, ...] | None = None
    hit_teams: tuple[str, ...] | None = None
    item: str = ""
    engine: str = field(default_factory=engine_digest)
    gate: Gate = field(default_factory=Gate)


class Assessment(Struct, frozen=True, dict=True):
    """What is known about one snapshot; ``not_checked`` names the parts that could not be.

    ``gates`` are those that fail, worst first; a check passes where there are none.

    ``style`` names the house style used and, where a service keeps it, its version.
    """

    snapshot: str
    declared_version: str | None
    base: str | None
    comparison: SnapshotComparison | None
    version: NextVersion
    findings: tuple[Finding, ...]
    overlaps: tuple[Overlap, ...] | None
    hits: tuple[Hit, ...] | None
    facts: Facts
    route: Route | None
    gates: tuple[FailedGate, ...]
    not_checked: tuple[str, ...]
    style: str
    inputs: dict[str, str]

    @property
    def passed(self) -> bool:
        return not self.gates

    @property
    def because(self) -> tuple[str, ...]:
        """In words, why it does not pass."""
        return tuple(failed_gate.message for failed_gate in self.gates)

    @cached_property
    def substance(self) -> dict[str, str]:
        """Digests of what was found, part by part, whatever it was found from.

        Where all are the same, whoever agreed to one assessment agreed to the other as well. How many days ago
        the base was published is left out, and which kits it hits: these move by themselves.
        """
        facts = {name: value for name, value in self.facts.document().items() if name not in _MOVING}
        changes = self.comparison.changes if self.comparison else ()
        return {
            "changes": digest(
                sorted(
                    [
                        change.item,
                        change.kind,
                        change.impact,
                        change.silent,
                        change.old_pointer or "",
                        change.new_pointer or "",
                    ]
                    for change in changes
                )
            ),
            "findings": digest(
                sorted(
                    [finding.fingerprint, finding.level, finding.waived is not None, finding.known]
                    for finding in self.findings
                )
            ),
            "overlaps": digest(
                sorted(
                    [
                        overlap.a.item,
                        overlap.b.source,
                        overlap.b.item,
                        overlap.cls,
                        bool(overlap.ruled),
                        overlap.newcomer or "",
                    ]
                    for overlap in self.overlaps or ()
                )
            ),
            "gates": digest([[failed_gate.gate, *failed_gate.items] for failed_gate in self.gates]),
            "facts": digest(facts),
            "route": digest(_asked(self.route)),
        }

    @cached_property
    def digest(self) -> str:
        """The digest of what was found, and of every input it was found from."""
        return digest(
            {
                "inputs": self.inputs,
                "findings": [
                    [finding.fingerprint, finding.level, finding.waived or "", finding.known]
                    for finding in self.findings
                ],
                "overlaps": [
                    [overlap.a.digest, overlap.b.digest, overlap.cls] for overlap in self.overlaps or ()
                ],
                "changes": [
                    [change.item, change.kind, change.impact, change.message]
                    for change in (self.comparison.changes if self.comparison else ())
                ],
                "facts": self.facts.document(),
                "route": self.route.document() if self.route else None,
                "because": list(self.because),
            }
        )


def assess(snapshot: Snapshot, context: Context) -> Assessment:
    """Assess a snapshot; the same inputs give the same result anywhere."""
    version = context.version or snapshot.declared_version
    base = context.base if isinstance(context.base, Base) else None
    comparison = _compared(base, snapshot, context) if base else None
    honest = next_version(
        base.version if base else None,
        version if version is not None and is_of_scheme(version, context.scheme) else None,
        comparison,
        scheme=context.scheme,
        breaking=context.breaking,
    )
    findings = lint(
        snapshot,
        style=context.style,
        version=context.version,
        waivers=context.waivers or (),
        known=context.known,
        now=context.now,
        launches=context.launches,
        data_class=context.server.data_class if context.server else None,
        server=context.server.slug if context.server else "",
        before=base.snapshot if base else None,
    )
    overlaps = _overlaps(snapshot, context)
    hit = _hits(context, comparison)
    facts = _facts(snapshot, context, comparison, honest, findings, overlaps, hit)
    # An act on what is published already fails none.
    judged = failed_gates(context.gate, findings, honest, comparison, overlaps, context.launches)
    gates = tuple(judged) if KINDS[context.kind].compared else ()
    return Assessment(
        snapshot=snapshot.digest,
        declared_version=version,
        base=base.reference if base else context.base if isinstance(context.base, str) else None,
        comparison=comparison,
        version=honest,
        findings=findings,
        overlaps=overlaps,
        hits=hit,
        facts=facts,
        route=context.rules.route(facts, [failed_gate.gate for failed_gate in gates])
        if context.rules
        else None,
        gates=gates,
        not_checked=tuple(_not_checked(context, comparison)),
        style=context.style.title,
        inputs=_inputs(snapshot, context, base),
    )


def _compared(base: Base, snapshot: Snapshot, context: Context) -> SnapshotComparison:
    found = compare_snapshots(
        base.snapshot, snapshot, base.launches, context.launches, terms=context.style.terms
    )
    same = [(ruling.bases, ruling.reason) for ruling in context.rulings or () if ruling.word == SAME_MEANING]
    return with_rulings(found, same)


def _overlaps(snapshot: Snapshot, context: Context) -> tuple[Overlap, ...] | None:
    if context.index is None:
        return None
    source = context.server.slug if context.server else snapshot.server_name or "this snapshot"
    name = source if context.server else snapshot.server_name
    own = entries_of(source, snapshot.items, name, context.since, context.style.terms)
    return find_overlaps(own, context.index, context.rulings or ())


def _hits(context: Context, comparison: SnapshotComparison | None) -> tuple[Hit, ...] | None:
    """Return the kits that what is asked for hits: by what changed, or since what they hold ends."""
    if context.holders is None:
        return None
    if context.kind in ENDING:
        return ended(context.holders, "" if context.item else context.version or "", context.item)
    return hits(comparison.changes, context.holders) if comparison and KINDS[context.kind].compared else ()


def _facts(
    snapshot: Snapshot,
    context: Context,
    comparison: SnapshotComparison | None,
    honest: NextVersion,
    findings: tuple[Finding, ...],
    overlaps: tuple[Overlap, ...] | None,
    hit: tuple[Hit, ...] | None,
) -> Facts:
    base = context.base if isinstance(context.base, Base) else None
    # An act on what is published changes none of its items: nothing in it is new.
    changes = comparison if KINDS[context.kind].compared else None
    counting = [finding for finding in findings if finding.counts]
    writing = {item.identity for item in snapshot.tools if _may_write(item)}
    before = {item.identity for item in base.snapshot.tools if _may_write(item)} if base else set()
    launches = context.launches or ()
    return Facts(
        first_release=context.base == "first",
        worst_impact=worst(change for change in changes.changes if not change.folded) if changes else None,
        undecided=changes.count("undecided") > 0 if changes else False,
        silent_changes=len(changes.silent) if changes else 0,
        version_honest=honest.is_honest,
        errors=sum(finding.level == "error" for finding in counting),
        warnings=sum(finding.level == "warning" for finding in counting),
        safety_findings=sum(finding.family == "safety" for finding in counting),
        same_job_overlaps=None if overlaps is None else sum(overlap.is_gated for overlap in overlaps),
        writing_tools=len(writing),
        newly_writing_tools=len(writing - before) if KINDS[context.kind].compared else 0,
        data_class=context.server.data_class if context.server else "",
        transports=tuple(sorted({record.transport for record in launches})),
        origin=context.origin,
        pinned=all(
            record.package is not None and record.package.integrity for record in launches if record.command
        ),
        tokens=outline(snapshot).tokens,
        team=context.server.team if context.server else "",
        open_world_tools=sum(_is_open_world(item) for item in snapshot.tools),
        token_growth=_growth(snapshot, base),
        days_since_release=(context.now - base.published).days
        if context.now and base and base.published
        else None,
        kind=context.kind,
        data_class_rises=_rises(context),
        loosened_consent=sum(change.kind in LOOSENED_CONSENT for change in changes.changes) if changes else 0,
        kits_hit=None if hit is None else len(hit),
        teams_hit=None if hit is None else len({one.team for one in hit}),
        breaking_kits=None if hit is None else sum(one.word in STOPS for one in hit),
        hit_teams=_hit_teams(context, hit),
    )


def _hit_teams(context: Context, hit: tuple[Hit, ...] | None) -> tuple[str, ...]:
    if context.hit_teams is not None:
        return context.hit_teams
    return tuple(sorted({one.team for one in hit or ()}))


def _rises(context: Context) -> bool:
    before, now = context.data_class_before, context.server.data_class if context.server else None
    if before not in DATA_CLASSES or now not in DATA_CLASSES:
        return False
    return DATA_CLASSES.index(now) > DATA_CLASSES.index(before)


def _growth(snapshot: Snapshot, base: Base | None) -> int | None:
    before = outline(base.snapshot).tokens if base else 0
    return round(100 * (outline(snapshot).tokens - before) / before) if before else None


def _is_open_world(item: Item) -> bool:
    annotations = item.body.get("annotations")
    return not (isinstance(annotations, dict) and annotations.get("openWorldHint") is False)


def _may_write(item: Item) -> bool:
    annotations = item.body.get("annotations")
    return not (isinstance(annotations, dict) and annotations.get("readOnlyHint") is True)


def _asked(route: Route | None) -> list[Any] | None:
    """Return whom a route asks, without the words of its reasons."""
    if route is None:
        return None
    steps = [[step.number, [[seat.desk, seat.sign_offs] for seat in step.seats]] for step in route.steps]
    return [bool(route.approved_by), *steps]


def _not_checked(context: Context, comparison: SnapshotComparison | None) -> Iterable[str]:
    if comparison is None and context.base != "first":
        yield "changes: no base was given"
    if comparison is not None:
        yield from (f"changes of {name}: one side did not ask for it" for name in comparison.not_checked)
    if context.index is None:
        yield "overlaps: no catalog was given"
    if context.launches is None:
        yield "launch records: none were given"
    if context.rules is None:
        yield "route: no routing rules were given"


def _inputs(snapshot: Snapshot, context: Context, base: Base | None) -> dict[str, str]:
    def of(value: Any) -> str:
        return NOT_GIVEN if value is None else digest(value)

    waivers, rulings, launches = context.waivers, context.rulings, context.launches
    return {
        "snapshot": snapshot.digest,
        "version": " ".join([context.version or NOT_GIVEN, *(["breaking"] if context.breaking else [])]),
        "server": _server_digest(context),
        "launch": of(None if launches is None else [record.document() for record in launches]),
        "base": _base_digest(base) if base else context.base if isinstance(context.base, str) else NOT_GIVEN,
        "catalog": context.index.version if context.index else NOT_GIVEN,
        "style": context.style.digest,
        "waivers": NOT_GIVEN
        if waivers is None
        else waivers_digest((waiver.id, waiver.until, waiver.fingerprints or ()) for waiver in waivers),
        "known": known_digest(context.known),
        "rulings": NOT_GIVEN if rulings is None else rulings_digest(rulings),
        "rules": context.rules.digest if context.rules else NOT_GIVEN,
        "engine": context.engine,
    }


def _server_digest(context: Context) -> str:
    server = context.server
    return server_digest(server.slug, server.team, server.data_class, context.scheme) if server else NOT_GIVEN


def _base_digest(base: Base) -> str:
    if base.launches is None:
        return base.snapshot.digest
    return digest([base.snapshot.digest, [record.document() for record in base.launches]])
