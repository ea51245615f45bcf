"""Acts on desks: who sits there, and who leads."""

from __future__ import annotations

from django.db import transaction
from django.db.models import Q

from tallshelf.core.errors import Denied, NotFound
from tallshelf.service import clock
from tallshelf.service.people import queries
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.entries import write_entry
from tallshelf.service.people.models import Desk, DeskSeat, Person, Role
from tallshelf.service.people.permissions import require


@transaction.atomic
def add_desk(actor: Actor, slug: str, title: str, *, owner_team_excluded: bool = True) -> Desk:
    """Add a desk, or return the one of that slug."""
    require(actor, "curate")
    desk, made = Desk.objects.get_or_create(
        slug=slug, defaults={"title": title, "owner_team_excluded": owner_team_excluded}
    )
    if made:
        write_entry(
            actor, "desk-added", {"desk": slug, "title": title, "owner_team_excluded": owner_team_excluded}
        )
    return desk


@transaction.atomic
def seat_at_desk(actor: Actor, desk: str, username: str, *, lead: bool = False) -> None:
    """Seat a person at a desk from now on, perhaps as its lead. CI accounts, and those switched off, never do.

    It takes a steward: who sits where decides what can be agreed to. The first one there leads until
    somebody else is told to.
    """
    require(actor, "administer")
    where, who = _desk(desk), queries.person(username)
    if who.role == Role.CI or not who.is_active:
        raise Denied("this account never signs off, and so sits at no desk")
    if actor.username == username:
        raise Denied("nobody seats themselves", remedy="Ask another steward.")
    seat, made = DeskSeat.objects.get_or_create(desk=where, person=who, defaults={"since": clock.now()})
    if made:
        since = seat.since.isoformat()
        write_entry(actor, "desk-joined", {"desk": desk, "username": username, "since": since})
    if lead:
        _lead(actor, where, who)
    else:
        _keep_led(actor, where)


@transaction.atomic
def leave_desk(actor: Actor, desk: str, username: str) -> None:
    """Take somebody's seat away; if they led, who has sat there longest does."""
    require(actor, "administer")
    if actor.username == username:
        raise Denied("nobody leaves a desk by themselves", remedy="Ask another steward.")
    where, person = _desk(desk), queries.person(username)
    if not person.seats.filter(desk=where).delete()[0]:
        raise NotFound(f"{username} does not sit at the desk {desk!r}")
    write_entry(actor, "desk-left", {"desk": desk, "username": username})
    _keep_led(actor, where)


def keep_led(actor: Actor, person: Person) -> None:
    """Let somebody lead the desks of who was switched off or on, inside the transaction of that."""
    for where in Desk.objects.filter(Q(lead=person) | Q(seats__person=person)).distinct():
        _keep_led(actor, where)


def _keep_led(actor: Actor, where: Desk) -> None:
    """Let who has sat there longest lead, where the lead has no seat any more or is switched off."""
    seats = where.seats.filter(person__is_active=True).select_related("person").order_by("since", "pk")
    people = [seat.person for seat in seats]
    if where.lead not in people:
        _lead(actor, where, people[0] if people else None)


def _lead(actor: Actor, where: Desk, who: Person | None) -> None:
    if where.lead == who:
        return
    where.lead = who
    where.save(update_fields=["lead"])
    write_entry(actor, "desk-led", {"desk": where.slug, "username": who.username if who else ""})


def _desk(slug: str) -> Desk:
    desk = Desk.objects.filter(slug=slug).select_related("lead").first()
    if desk is None:
        raise NotFound(f"there is no desk {slug!r}")
    return desk
