"""How the company's people are told: mail, what they follow, webhooks; and what was found running."""

from __future__ import annotations

from tallshelf.core.snapshot import snapshot_from
from tallshelf.run.scenario.declarations import declared
from tallshelf.run.scenario.player import Player, actor
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.people.models import Person
from tallshelf.service.telling import due, following, webhooks
from tallshelf.service.telling.models import MailAddress

_MAIL = {"ines": "mail", "jonas": "mail", "tomas": "digest"}


def reach(player: Player, receiver: str) -> None:
    """Let people be reached: by mail, and by webhooks of three teams, one of which nobody takes.

    ``receiver`` is the address of the stand-in that takes them.
    """
    with clock.at(player.moment(0.3)):
        for who, how in _MAIL.items():
            following.set_mail(actor(who), f"{who}@pellam.example")
            address = MailAddress.objects.get(person=Person.objects.get(username=who))
            following.confirm_mail(actor(who), following.code_of(address))
            following.choose_how(actor(who), how)
        following.follow(actor("edda"), "team:berths", "inbox")
        following.follow(actor("ines"), "server:tide-tables", "mail")
        webhooks.make_webhook(actor("ines"), "crew", f"{receiver}/hooks")
        webhooks.make_webhook(actor("tomas"), "berths", f"{receiver}/hooks", "catalog")
        webhooks.make_webhook(actor("jonas"), "ticketing", f"{receiver}/broken")


def notes(player: Player) -> None:
    """Let people say how what they use works for them; one is answered."""
    with clock.at(player.moment(5)):
        said = catalog.leave_note(
            actor("signe"), "tide-tables", "current", "Works for the docks; the first call of a day is slow."
        )
    with clock.at(player.moment(4.5)):
        catalog.answer_note(
            actor("tomas"), said.pk, "It loads the day's tables then; 1.2.0 will do so at six."
        )
    with clock.at(player.moment(2.5)):
        catalog.leave_note(
            actor("edda"), "berth-planner", "current", "Good for barges, if one gives the length overall."
        )


def found_running(player: Player) -> None:
    """Have what is due told, and report what was found running: the tide tables are not as approved."""
    with clock.at(player.moment(0, -3)):
        due.remind_of_what_is_due()
    with clock.at(player.moment(0, -2)):
        running = snapshot_from(declared("tide-tables", "1.1.0+running"))
        catalog.report_look(actor("tomas"), "tide-tables", "production", "reached", running)
        same = snapshot_from(declared("fare-desk", "1.0.0"))
        catalog.report_look(actor("jonas"), "fare-desk", "production", "reached", same)


def secrets() -> list[str]:
    """Return the secrets that sign for the webhooks there are: for the stand-in, which the demo starts itself."""
    return webhooks.secrets_of_all()
