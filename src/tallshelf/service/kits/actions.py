"""Acts on kits: putting, moving and dropping them, and what takes a second curator."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from django.db import transaction

from tallshelf.core.entitlement import raises_class
from tallshelf.core.errors import BadArgument, BadDocument, Conflict, Denied, NotFound, Outdated, Place
from tallshelf.core.kits import Kit, Lock, Problem, Resolution, moves_between, parse_kit, resolve
from tallshelf.core.ledger.events import Event
from tallshelf.core.pointer import step_of
from tallshelf.core.snapshot import parse_reference
from tallshelf.core.toml import TomlReader
from tallshelf.service import clock
from tallshelf.service.consent import answered_so, need_reason
from tallshelf.service.kits import queries, using
from tallshelf.service.kits.models import HeldItem, StoredKit, StoredRaise
from tallshelf.service.kits.offers import CatalogOffers
from tallshelf.service.kits.storing import store_lock, told
from tallshelf.service.ledger.actions import record
from tallshelf.service.people.actor import CLOCK, Actor
from tallshelf.service.people.permissions import refusal, require
from tallshelf.service.people.queries import team as team_by_slug

_MEND = "Mend the kit and put it again; nothing was stored."


@dataclass(frozen=True)
class Put:
    """What became of a kit that was put: stored (``made`` new, or ``changed``), as it was, or a proposal that waits."""

    kit: StoredKit | None
    made: bool = False
    changed: bool = False
    proposed: StoredRaise | None = None


@transaction.atomic
def put_kit(actor: Actor, text: str, *, seen: str = "", reason: str = "") -> Put:
    """Put a kit on the shelf, or put it anew; the same again answers with what stands.

    It is resolved whole, and refused whole: `BadDocument` names line and key of everything that resolves to
    nothing, is of too high a data class, or goes over the budget. ``seen`` is the digest of the kit that was looked
    at: `Outdated` when it was put by someone else since. A kit that would see higher data than before (a new one:
    than ``internal``) is proposed, with a ``reason``, and waits for a second curator; so is one that picks of servers
    whose use asks their owners, more than these agreed to: each of them is asked by a request.
    """
    kit = parse_kit(text)
    found = StoredKit.objects.filter(name=kit.name).select_related("team", "lock").first()
    live = found if found is not None and found.dropped_at is None else None
    _need_keeper(actor, kit, live)
    if seen and (live is None or live.digest != seen):
        raise Outdated(f"the kit {kit.name} has been put by someone else since", remedy="Look at it again.")
    if live is not None and live.text == text:
        return Put(live)
    resolved = _resolved(kit, text, queries.lock_of(live))
    asks = using.unagreed_of(kit)
    raised = raises_class(live.data_class if live else None, kit.data_class)
    if raised or asks:
        return Put(live, proposed=_propose(actor, kit, text, reason, asks, raised=raised))
    stored = _put(actor, kit, text, found, resolved)
    using.take_back(actor, kit.name)
    return Put(stored, made=live is None, changed=True)


def _need_keeper(actor: Actor, kit: Kit, live: StoredKit | None) -> None:
    if live is not None:
        why = refusal(actor, "keep-kit", live.team.slug)
        if why is not None:
            raise Denied(
                f"the kit {kit.name} is of the team {live.team.slug}: {why}",
                remedy="Ask its owners, or a curator; or give yours another name.",
            )
    team_by_slug(kit.team)
    require(actor, "keep-kit", kit.team)


def _resolved(kit: Kit, text: str, held: Lock) -> Resolution:
    """Resolve a kit as it is put: what it holds and still picks stays where it is; refuse what cannot be."""
    offers = CatalogOffers(pick.server for pick in kit.picks)
    resolved = resolve(kit, offers, at=_staying(kit, held, offers))
    wrong = [
        problem
        for problem in resolved.problems
        if problem in resolved.refused or problem.kind == "over-budget"
    ]
    if wrong:
        raise refused(text, wrong)
    return resolved


def _staying(kit: Kit, held: Lock, offers: CatalogOffers) -> dict[str, str]:
    """Return the versions that are held, offered, and still in the range of their pick."""
    staying = {}
    for pick in kit.picks:
        version, server = held.versions.get(pick.server), offers.server(pick.server)
        if (
            version is None
            or server is None
            or version not in {release.version for release in server.releases}
        ):
            continue
        if pick.version.form == "current" or pick.version.takes(version):
            staying[pick.server] = version
    return staying


def refused(text: str, problems: list[Problem]) -> BadDocument:
    """Return the error that names line and key of everything for which a kit is refused."""
    reader = TomlReader(text, _MEND)
    lines = [reader.line_of(problem.key) for problem in problems]
    said = [
        f"line {line}, key {problem.key}: {problem.message}"
        if line
        else f"key {problem.key}: {problem.message}"
        for line, problem in zip(lines, problems, strict=True)
    ]
    places = [Place(_pointer(problem.key), problem.message) for problem in problems]
    return BadDocument("; ".join(said[:5]), remedy=_MEND, places=places[:20])


def _pointer(key: str) -> str:
    steps = key.replace("[", ".").replace("]", "").split(".")
    return "".join(f"/{step_of(step)}" for step in steps)


def _propose(
    actor: Actor, kit: Kit, text: str, reason: str, asks: list[using.Pick], *, raised: bool
) -> StoredRaise:
    waiting = queries.waiting_raise(kit.name)
    if waiting is not None and waiting.digest == kit.digest:
        return waiting
    if not reason.strip():
        servers = ", ".join(ask["server"] for ask in asks)
        why = (
            f"{kit.name} would see {kit.data_class} data, which takes a reason and a second curator"
            if raised
            else f"the use of {servers} asks its owners, who are told the reason"
        )
        raise BadArgument(why, remedy="Put it with a reason: tallshelf kit put FILE --reason WHY.")
    if waiting is not None:
        StoredRaise.objects.filter(pk=waiting.pk).update(state="declined", answered_at=clock.now())
    made = StoredRaise.objects.create(
        name=kit.name,
        team=team_by_slug(kit.team),
        text=text,
        digest=kit.digest,
        data_class=kit.data_class,
        state="proposed",
        uses=using.ask(actor, kit, asks, reason.strip()),
        reason=reason.strip(),
        by_id=actor.id,
        at=clock.now(),
    )
    about = {"kit": kit.name, "team": kit.team, "data_class": kit.data_class, "kit_digest": kit.digest}
    event = Event.KIT_RAISE_PROPOSED if raised else Event.KIT_PUT_ASKED
    record(actor, event, {**about, "reason": made.reason})
    using.take_back(actor, kit.name, keep=[use["request"] for use in made.uses])
    return made


def _put(
    actor: Actor, kit: Kit, text: str, found: StoredKit | None, resolved: Resolution, by: int = 0
) -> StoredKit:
    held = queries.lock_of(found) if found is not None and found.dropped_at is None else Lock()
    fields = {
        "title": kit.title,
        "team": team_by_slug(kit.team),
        "text": text,
        "document": kit.document(),
        "digest": kit.digest,
        "environment": kit.environment,
        "budget": kit.budget,
        "data_class": kit.data_class,
        "moves": kit.moves,
        "put_by_id": by or actor.id,
        "put_at": clock.now(),
        "dropped_at": None,
    }
    stored, _ = StoredKit.objects.update_or_create(name=kit.name, defaults=fields)
    # What was proposed about the kit as it was is answered by this; whoever agrees to it says so afterwards.
    StoredRaise.objects.filter(name=kit.name, state="proposed").update(
        state="declined", answered_at=clock.now(), answer_note="it was put otherwise since"
    )
    if held.digest != resolved.lock.digest or stored.lock is None:
        store_lock(actor, stored, held, resolved.lock, "put")
    elif held.items and not stored.held.exists():
        raise Conflict(f"what {kit.name} holds is not as its lock says")
    about = {"kit": kit.name, "team": kit.team, "data_class": kit.data_class, "kit_digest": kit.digest}
    picks = [pick.document() for pick in kit.picks]
    record(actor, Event.KIT_PUT, {**about, "picks": picks, **told(resolved.lock)})
    return stored


@transaction.atomic
def answer_raise(actor: Actor, name: str, answer: str, note: str = "") -> StoredRaise:
    """Agree to that a kit sees higher data, which puts it, or decline; a curator who did not propose it."""
    proposal = StoredRaise.objects.filter(name=name).select_related("team", "by").order_by("-pk").first()
    if proposal is None:
        raise NotFound(f"nothing is proposed about the kit {name}")
    if answered_so(f"the proposal about {name}", proposal.state, answer):
        return proposal
    if answer == "decline":
        if proposal.by_id != actor.id:
            require(actor, "curate")
        record(actor, Event.KIT_RAISE_DECLINED, {"kit": name, "note": need_reason(note)})
        using.take_back(actor, name)
    else:
        require(actor, "curate")
        if proposal.by_id == actor.id:
            raise Denied(
                "a higher data class takes a second curator, and you proposed this one",
                remedy="Ask another curator to agree to it.",
            )
        kit = parse_kit(proposal.text)
        _need_no_word(proposal, kit)
        stored = StoredKit.objects.filter(name=name).select_related("team", "lock").first()
        _put(actor, kit, proposal.text, stored, _resolved(kit, proposal.text, queries.lock_of(stored)))
    proposal.state = "in force" if answer == "agree" else "declined"
    proposal.answered_by_id, proposal.answered_at, proposal.answer_note = actor.id, clock.now(), note
    proposal.save(update_fields=["state", "answered_by", "answered_at", "answer_note"])
    return proposal


def _need_no_word(proposal: StoredRaise, kit: Kit) -> None:
    asks = {one["server"] for one in using.unagreed_of(kit)}
    waits = [f"{use['server']} (request {use['request']})" for use in proposal.uses if use["server"] in asks]
    if waits:
        raise Conflict(
            f"the owners of {', '.join(waits)} have not agreed yet that {kit.name} uses it",
            remedy="Once they have, agree.",
        )


@transaction.atomic
def put_asked(name: str) -> bool:
    """Put a kit that waited for owners alone, once all of them agreed; return whether it was put."""
    proposal = queries.waiting_raise(name)
    if proposal is None:
        return False
    kit = parse_kit(proposal.text)
    stored = StoredKit.objects.filter(name=name).select_related("team", "lock").first()
    live = stored if stored is not None and stored.dropped_at is None else None
    if raises_class(live.data_class if live else None, kit.data_class) or using.unagreed_of(kit):
        return False
    _put(
        CLOCK,
        kit,
        proposal.text,
        stored,
        _resolved(kit, proposal.text, queries.lock_of(live)),
        by=proposal.by_id,
    )
    StoredRaise.objects.filter(pk=proposal.pk).update(
        state="in force", answered_at=clock.now(), answer_note="the owners of what it uses agreed"
    )
    return True


@transaction.atomic
def move_kit(actor: Actor, name: str, to: str = "") -> tuple[StoredKit, bool]:
    """Move the lock of a kit to what its picks take now, or one server to a version that its pick takes.

    Whoever keeps the kit may move it across anything, also over its budget: they have seen the comparison. Returns
    the kit, and whether anything moved. Raises `Conflict` for a version that the pick does not take.
    """
    kit = queries.kit(name)
    require(actor, "keep-kit", kit.team.slug)
    state = queries.state_of(kit)
    targets = {behind.server: behind.takes for behind in state.behind}
    if to:
        targets = _target(state, to)
    return kit, _move(actor, kit, state.kit, state.lock, targets, "moved by hand")


def _target(state: queries.State, to: str) -> dict[str, str]:
    place = parse_reference(to)
    pick = next((one for one in state.kit.picks if one.server == place.server), None)
    if pick is None or place.file:
        raise NotFound(f"{state.kit.name} picks nothing of {place.server or to}")
    if not place.version:
        best = queries.best_of(pick, CatalogOffers([pick.server]))
        if best is None:
            raise Conflict(f"no release of {pick.server} is in {pick.version.text}")
        return {pick.server: best}
    if pick.version.form != "current" and not pick.version.takes(place.version):
        raise Conflict(
            f"{state.kit.name} picks {pick.server} at {pick.version.text}, which does not take {place.version}",
            remedy="Put the kit with another range first.",
        )
    return {pick.server: place.version}


def _move(
    actor: Actor, found: StoredKit, kit: Kit, lock: Lock, targets: Mapping[str, str], because: str
) -> bool:
    offers = CatalogOffers(one.server for one in kit.picks)
    items = [locked for locked in lock.items if locked.server not in targets]
    for pick in kit.picks:
        if pick.server not in targets:
            continue
        moved = queries.moved_pick(kit, pick, offers, targets[pick.server])
        if moved.refused:
            raise Conflict(
                f"{found.name} cannot move: {moved.refused[0].message}", remedy="Change the pick, then move."
            )
        items += moved.lock.items
    new = Lock(tuple(sorted(items, key=lambda locked: locked.key)))
    if new.digest == lock.digest:
        return False
    store_lock(actor, found, lock, new, because)
    said = ", ".join(
        f"{move.server} {move.before or 'new'} to {move.after or 'none'}" for move in moves_between(lock, new)
    )
    about = {"kit": found.name, "before": lock.digest, "because": f"{because}: {said}"}
    record(actor, Event.KIT_MOVED, {**about, **told(new)})
    return True


@transaction.atomic
def follow(actor: Actor, name: str, server: str) -> bool:
    """Move one server of a kit by itself, where that fits the kit; return whether it moved."""
    kit = queries.kit(name)
    state = queries.state_of(kit)
    due = {
        behind.server: behind.takes for behind in state.behind if behind.server == server and not behind.why
    }
    return bool(due) and _move(actor, kit, state.kit, state.lock, due, "moved by itself")


@transaction.atomic
def drop_kit(actor: Actor, name: str, reason: str) -> StoredKit:
    """Take a kit off the shelf; its locks stay, and it may be put again. Dropped already answers with it."""
    kit = StoredKit.objects.filter(name=name).select_related("team", "lock").first()
    if kit is None:
        raise NotFound(f"there is no kit {name!r}", remedy="List them: tallshelf kit list.")
    require(actor, "keep-kit", kit.team.slug)
    if kit.dropped_at is not None:
        return kit
    kit.dropped_at = clock.now()
    kit.save(update_fields=["dropped_at"])
    HeldItem.objects.filter(kit=kit).delete()
    StoredRaise.objects.filter(name=name, state="proposed").update(state="declined", answered_at=clock.now())
    record(actor, Event.KIT_DROPPED, {"kit": name, "reason": need_reason(reason)})
    using.take_back(actor, name)
    return kit
