"""Reading what the house style says: the style in force, waivers, known findings, and what they make of releases."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from django.db.models import Q, QuerySet
from django.db.models.functions import Coalesce
from msgspec.structs import replace

from tallshelf.core.errors import LedgerBroken, NotFound
from tallshelf.core.snapshot import parse_launches
from tallshelf.core.style import (
    DEFAULT_STYLE,
    DEFAULT_TEXT,
    Finding,
    HouseStyle,
    StyleEffect,
    Waiver,
    lint,
    mark,
    parse_style,
    read_as_the_same,
)
from tallshelf.core.words.terms import HouseTerms
from tallshelf.service import clock
from tallshelf.service.catalog import storage
from tallshelf.service.catalog.models import Release, Server, StoredKnown, StoredStyle, StoredWaiver
from tallshelf.service.ledger import memory
from tallshelf.service.ledger.judging import refusal_to_waive
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import refusal, require


def stored_style_in_force() -> StoredStyle | None:
    """Return the style that was put in force last, or None while it is the default one."""
    rows = StoredStyle.objects.filter(state="in force").select_related("by", "agreed_by")
    return rows.order_by("-in_force_at", "-version").first()


def style_in_force() -> HouseStyle:
    """Return the house style that every assessment uses."""
    style = stored_style_in_force()
    return DEFAULT_STYLE if style is None else _with_agreed_terms(_parsed(style.text, style.version))


def style_of(version: int) -> HouseStyle:
    """Return a version of the house style (0: the default one)."""
    if not version:
        return DEFAULT_STYLE
    return _with_agreed_terms(_parsed(StoredStyle.objects.get(pk=version).text, version))


def terms_in_force() -> HouseTerms:
    """Return the terms of the house that count as the same wherever texts are compared."""
    return style_in_force().terms


def _with_agreed_terms(style: HouseStyle) -> HouseStyle:
    """Let those terms alone be read as the same of which the ledger tells that a second curator agreed to them.

    A style may be older than what is made of its words, and a row can be edited. Of a broken ledger none are.
    """
    if not style.terms:
        return style
    try:
        with memory.told() as state:
            agreed = [
                one.body.get("loosened", ()) for one in state.styles.values() if one.state == "in force"
            ]
    except LedgerBroken:
        agreed = []
    said = {line for loosened in agreed for line in loosened}
    return _limited(style, frozenset(pair for pair in style.terms.pairs if read_as_the_same(pair) in said))


@lru_cache(maxsize=16)
def _limited(style: HouseStyle, agreed: frozenset[tuple[str, str]]) -> HouseStyle:
    return replace(style, agreed=agreed)


@lru_cache(maxsize=16)
def _parsed(text: str, version: int) -> HouseStyle:
    return parse_style(text, version)


def style_document(actor: Actor, version: int | None = None) -> dict[str, Any]:
    """Return the style in force, or one by its version (0: the default one); raise `NotFound`."""
    require(actor, "see")
    style = stored_style_in_force() if version is None else StoredStyle.objects.filter(pk=version).first()
    if style is None and version:
        raise NotFound(f"there is no version {version} of the house style")
    if style is None:
        return {
            **_DEFAULT,
            "digest": DEFAULT_STYLE.digest,
            "text": DEFAULT_TEXT,
            "read_as_same": [],
            "may_change": _may(actor),
        }
    return {
        **style_row(actor, style),
        "text": style.text,
        "read_as_same": [list(pair) for pair in style_of(style.version).terms.pairs],
        "may_change": _may(actor),
    }


def styles(actor: Actor) -> list[dict[str, Any]]:
    """Return every version of the house style, newest first."""
    require(actor, "see")
    rows = StoredStyle.objects.select_related("by", "agreed_by").order_by("-version")
    return [style_row(actor, style) for style in rows]


def style_row(actor: Actor, style: StoredStyle) -> dict[str, Any]:
    """Return one version without its text."""
    standing = stored_style_in_force()
    return {
        "version": style.version,
        "digest": style.digest,
        "state": "in force" if standing == style else "was in force" if style.in_force_at else style.state,
        "note": style.note,
        "replaces": style.replaces,
        "loosened": style.loosened,
        "by": style.by.name,
        "at": style.at,
        "agreed_by": style.agreed_by.name if style.agreed_by else None,
        "may_answer": style.state == "proposed" and _may(actor) and style.by_id != actor.id,
    }


_DEFAULT: dict[str, Any] = {
    "version": 0,
    "state": "in force",
    "note": "The default style; none of the house's own was applied yet.",
    "replaces": 0,
    "loosened": [],
    "by": "",
    "at": None,
    "agreed_by": None,
    "may_answer": False,
}


def _may(actor: Actor) -> bool:
    return refusal(actor, "curate") is None


def waivers_in_force(server: Server) -> tuple[Waiver, ...]:
    """Return the granted waivers of a server that have not run out."""
    return _as_waivers(server.waivers.filter(state="granted", until__gt=clock.now()))


def _as_waivers(rows: QuerySet[StoredWaiver]) -> tuple[Waiver, ...]:
    return tuple(
        Waiver(
            str(waiver.pk),
            waiver.rule,
            waiver.item,
            waiver.reason,
            waiver.asked_by.username,
            waiver.until,
            waiver.pointer,
            frozenset(waiver.fingerprints),
        )
        for waiver in rows.select_related("asked_by").order_by("pk")
    )


def fingerprints_at(server: Server, rule: str, item: str, pointer: str | None) -> list[str]:
    """Return the fingerprints of a rule's findings at a place, in what is current, drafted or under review."""
    rows = server.releases.filter(Q(pk=server.current_id) | Q(state__in=("in-review", "draft")))
    return sorted(
        {
            finding.fingerprint
            for release in rows.select_related("snapshot", "server")
            for finding in raw_findings(release)
            if (finding.rule, finding.item) == (rule, item) and pointer in (None, finding.pointer)
        }
    )


def proposed_known(actor: Actor, server: str = "") -> list[dict[str, Any]]:
    """Return what waits to be accepted as known, of a server or of all, the oldest first."""
    require(actor, "see")
    rows = StoredKnown.objects.filter(state="proposed").select_related("server", "by").order_by("at")
    return [known_row(actor, known) for known in (rows.filter(server__slug=server) if server else rows)]


def known_row(actor: Actor, known: StoredKnown) -> dict[str, Any]:
    """Return one proposal about known findings as it is shown."""
    return {
        "number": known.pk,
        "id": known.pk,
        "server": known.server.slug,
        "findings": len(known.fingerprints),
        "reason": known.reason,
        "state": known.state,
        "by": known.by.name,
        "at": known.at,
        "may_answer": known.state == "proposed" and _may(actor) and known.by_id != actor.id,
    }


def known_findings(server: Server) -> frozenset[str]:
    """Return the fingerprints of findings that were accepted as known for a server."""
    return frozenset(server.known_findings.values_list("fingerprint", flat=True))


@lru_cache(maxsize=256)
def _found(release: int, digest: str, data_class: str, style: HouseStyle) -> tuple[Finding, ...]:
    """Lint a stored release; the arguments name exactly what is linted, so nothing can be stale."""
    found = Release.objects.select_related("snapshot", "server").get(pk=release, digest=digest)
    return lint(
        storage.load(found.snapshot, found.captured),
        style=style,
        version=found.version,
        launches=parse_launches(found.launch),
        data_class=data_class,
        server=found.server.slug,
    )


def forget() -> None:
    """Forget what this process linted."""
    _found.cache_clear()


def findings_of(release: Release, style: HouseStyle | None = None) -> tuple[Finding, ...]:
    """Return the findings of a release under the style in force or another, waived and known ones marked."""
    server = release.server
    raw = raw_findings(release, style)
    return mark(raw, waivers_in_force(server), known_findings(server), clock.now())


def raw_findings(release: Release, style: HouseStyle | None = None) -> tuple[Finding, ...]:
    """Return the findings of a release as its rules make them, whatever was waived or accepted."""
    return _found(release.pk, release.digest, release.server.data_class, style or style_in_force())


def _current_releases() -> QuerySet[Release]:
    rows = Release.objects.filter(pk__in=Server.objects.exclude(current=None).values("current"))
    return rows.select_related("server__team").order_by("server__slug")


def work_out_effect(style: HouseStyle, effect: StyleEffect) -> Iterator[tuple[int, int]]:
    """Work out the effect of a style on all current releases; yield how many are done, and of how many."""
    now, rows = style_in_force(), list(_current_releases())
    for done, release in enumerate(rows, 1):
        effect.add(release.server.slug, findings_of(release, now), findings_of(release, style))
        yield done, len(rows)


def waivers(actor: Actor, *, server: str = "", state: str = "", rule: str = "") -> QuerySet[StoredWaiver]:
    """Return waivers: ``state`` is asked, granted, refused, ended, or ``expired`` for those that ran out."""
    require(actor, "see")
    rows = StoredWaiver.objects.select_related("server__team", "asked_by", "answered_by")
    rows = rows.annotate(changed_at=Coalesce("answered_at", "asked_at"))
    if server:
        rows = rows.filter(server__slug=server)
    if rule:
        rows = rows.filter(rule=rule)
    if state == "expired":
        return rows.filter(state="granted", until__lte=clock.now())
    if state == "granted":
        return rows.filter(state="granted", until__gt=clock.now())
    return rows.filter(state=state) if state else rows


def waiver(actor: Actor, number: int) -> StoredWaiver:
    """Return a waiver by its number; raise `NotFound`."""
    found = waivers(actor).filter(pk=number).first()
    if found is None:
        raise NotFound(f"there is no waiver {number}")
    return found


def waiver_row(actor: Actor, waiver: StoredWaiver) -> dict[str, Any]:
    """Return one waiver as it is shown, with what the actor may do."""
    expired = waiver.state == "granted" and waiver.until <= clock.now()
    return {
        "number": waiver.pk,
        "id": waiver.pk,
        "server": waiver.server.slug,
        "team": waiver.server.team.slug,
        "rule": waiver.rule,
        "item": waiver.item,
        "pointer": waiver.pointer,
        "reason": waiver.reason,
        "until": waiver.until,
        "state": "expired" if expired else waiver.state,
        "asked_by": waiver.asked_by.name,
        "asked_at": waiver.asked_at,
        "answered_by": waiver.answered_by.name if waiver.answered_by else None,
        "answered_at": waiver.answered_at,
        "answer_note": waiver.answer_note,
        "may_answer": waiver.state == "asked" and refusal_to_waive(actor, waiver.pk) is None,
        "may_end": waiver.state in StoredWaiver.LIVE
        and not expired
        and refusal(actor, "edit", waiver.server.team.slug) is None,
    }
