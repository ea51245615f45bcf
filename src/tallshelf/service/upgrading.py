"""What an older data directory needs once: its chain keyed, exceptions bound to their texts, requests assessed anew."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import transaction

from tallshelf.core.ledger.events import Event
from tallshelf.core.routing import rule_document, rule_set_from
from tallshelf.core.snapshot import digest
from tallshelf.core.style import former_fingerprint
from tallshelf.service import clock
from tallshelf.service.catalog import findings, linting, overlap, steps
from tallshelf.service.catalog.actions.known import keep_known
from tallshelf.service.catalog.models import Release, Server, StoredWaiver
from tallshelf.service.ledger import checkpoints, keys, memory
from tallshelf.service.ledger.actions import record
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.actions import SETUP
from tallshelf.service.people.models import Deputy, Desk, Invite, Person, Token
from tallshelf.service.restoring import finish
from tallshelf.service.review.actions.reassessment import mark_of_other_engine
from tallshelf.service.review.models import Request, StoredRuleSet


def upgrade() -> None:
    """Bring what older versions left up to date; on a data directory that is so already nothing happens."""
    if Entry.objects.exists() and not keys.has_mac_key():
        key_chain()
    finish()
    overlap.keep_all_if_moved()
    overlap.regroup_if_missing()
    with transaction.atomic():
        mark_of_other_engine(settings.ENGINE)
        findings.ask_if_none()
        findings.ask_if_moved()
        steps.ask_if_moved()


@transaction.atomic
def key_chain() -> bool:
    """Fix a chain of before entries carried MACs by a signed checkpoint, and key it from here on.

    What its entries do not tell is taken from the tables, as they are at this moment. Returns whether anything was
    done: a chain is keyed once.
    """
    if Entry.objects.exclude(mac=None).exists():
        return False
    head = checkpoints.head()
    with memory.keying():
        record(SETUP, Event.CHAIN_KEYED, {"entries": head.number, "checkpoint": checkpoints.checkpoint()})
    record(SETUP, Event.TABLES_TAKEN, _tables())
    for waiver in StoredWaiver.objects.filter(state__in=StoredWaiver.LIVE).select_related("server"):
        _bind_waiver(waiver)
    for server in Server.objects.exclude(known_findings=None).select_related("current"):
        _bind_known(server)
    return True


def _tables() -> dict[str, Any]:
    now = clock.now()
    return {
        "people": [
            {"username": person.username, "password": digest(person.password), "subject": person.subject}
            for person in Person.objects.order_by("pk")
        ],
        "invitations": [
            {"code": invite.hash, "username": invite.person.username}
            for invite in Invite.objects.filter(used_at=None, expires_at__gt=now).select_related("person")
        ],
        "tokens": [
            {
                "token": token.pk,
                "username": token.person.username,
                "scopes": token.scopes,
                "expires_at": token.expires_at.isoformat(),
                "hash": token.hash,
                "ended": token.ended_at is not None,
            }
            for token in Token.objects.select_related("person").order_by("pk")
        ],
        "desks": [
            {"desk": desk.slug, "owner_team_excluded": desk.owner_team_excluded}
            for desk in Desk.objects.order_by("pk")
        ],
        "deputies": [
            {
                "number": deputy.pk,
                "username": deputy.person.username,
                "deputy": deputy.deputy.username,
                "since": deputy.since.isoformat(),
                "until": deputy.until.isoformat(),
                "ended": deputy.ended_at is not None,
            }
            for deputy in Deputy.objects.select_related("person", "deputy").order_by("pk")
        ],
        "rules": [
            {
                "version": rule_set.version,
                "digest": rule_set.digest,
                "replaces": rule_set.replaces,
                "rules": [rule_document(rule) for rule in rule_set_from(rule_set.rules).rules],
            }
            for rule_set in StoredRuleSet.objects.order_by("version")
        ],
        "requests": [
            {
                "request": request.pk,
                "item": request.suspension.item if request.suspension else "",
                "opened_at": request.opened_at.isoformat(),
            }
            for request in Request.objects.select_related("suspension").order_by("pk")
        ],
    }


def _bind_waiver(waiver: StoredWaiver) -> None:
    """Bind a waiver to the text it was asked for on: what was in use or handed in then. Else it ends."""
    granted = waiver.answered_at or waiver.asked_at
    rows = waiver.server.releases.filter(submitted_at__lte=granted).order_by("-submitted_at")
    on = {
        finding.fingerprint
        for release in rows.select_related("snapshot", "server")[:1]
        for finding in linting.raw_findings(release)
        if (finding.rule, finding.item) == (waiver.rule, waiver.item)
        and waiver.pointer in (None, finding.pointer)
    }
    about = {"server": waiver.server.slug, "waiver": waiver.pk}
    if on:
        waiver.fingerprints = sorted(on)
        waiver.save(update_fields=["fingerprints"])
        record(SETUP, Event.WAIVER_BOUND, {**about, "fingerprints": waiver.fingerprints})
        return
    note = "the text that it was granted on is not known, and a waiver is bound to it by now"
    StoredWaiver.objects.filter(pk=waiver.pk).update(state="ended", answered_at=clock.now(), answer_note=note)
    where = {"rule": waiver.rule, "item": waiver.item, "pointer": waiver.pointer}
    record(SETUP, Event.WAIVER_ENDED, {**about, **where, "note": note})


def _bind_known(server: Server) -> None:
    """Bind known findings to their texts: those that the current release has under the name of before."""
    before = linting.known_findings(server)
    release: Release | None = server.current
    findings = linting.raw_findings(release) if release is not None else ()
    bound = {
        finding.fingerprint
        for finding in findings
        if former_fingerprint(finding) in before and finding.family != "safety"
    }
    keep_known(server, bound)
    record(SETUP, Event.KNOWN_BOUND, {"server": server.slug, "fingerprints": sorted(bound)})
