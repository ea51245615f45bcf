"""Seven months of the scenario, played through the same actions that users call, each at its time."""

from __future__ import annotations

from collections.abc import Callable

from django.db import transaction

from tallshelf.run.scenario import kits, overlaps, routing, style, telling, week
from tallshelf.run.scenario.people import ACCOUNTS, DESKS, PASSWORD, TEAMS
from tallshelf.run.scenario.player import Player, actor
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.people import actions as people
from tallshelf.service.people import desks
from tallshelf.service.review import actions as review

FIRST_DAY = 214
"""How many days before the present the history begins."""


def add_people() -> None:
    """Add teams, desks and accounts."""
    for slug, title in TEAMS.items():
        people.add_team(people.SETUP, slug, title)
    for slug, title in DESKS.items():
        desks.add_desk(people.SETUP, slug, title, owner_team_excluded=slug != "curators")
    for account in ACCOUNTS:
        password = None if account.role == "ci" else PASSWORD
        people.add_person(people.SETUP, account.username, account.name, account.role, password, account.teams)
        for desk in account.desks:
            desks.seat_at_desk(people.SETUP, desk, account.username)


def play(
    urls: dict[str, str], run: Callable[[str, str], None], say: Callable[[str], None], receiver: str
) -> None:
    """Play the whole history up to the present, in one transaction; ``receiver`` takes webhooks."""
    player = Player(clock.now(), urls, run)
    with transaction.atomic():
        with clock.at(player.moment(FIRST_DAY)):
            add_people()
        for chapter in (_first_months, _summer, _autumn, _these_days):
            chapter(player)
            say(str(chapter.__doc__))
        kits.waiting(player)
        telling.notes(player)
        telling.reach(player, receiver)
        telling.found_running(player)


def _first_months(player: Player) -> None:
    """took in three servers that ran already; first releases of fifteen more"""
    player.adopt(213, "bookings", "3.0.0")
    player.adopt(213, "harbour-radio", "1.0.0")
    player.adopt(213, "cold-store", "0.9.0")
    style.first_style(player)
    player.publish(208, "berth-planner", "1.4.1")
    player.publish(205, "tide-tables", "1.0.0", "Heights above chart datum.")
    player.publish(201, "crew-roster", "2.0.0", by="oskar")
    player.publish(197, "fare-desk", "1.0.0")
    player.publish(194, "engine-log", "1.0.0", "Replaces the reading sheets.", by="oskar")
    player.publish(190, "fuel-ledger", "2.0.0")
    player.publish(187, "freight-manifest", "1.0.0")
    player.publish(183, "rest-hours", "1.0.0", by="oskar")
    player.publish(180, "spare-parts", "1.0.0")
    player.publish(176, "passenger-notices", "1.0.0")
    player.publish(173, "pilotage", "1.0.0", by="oskar")
    player.publish(170, "dry-dock", "1.0.0")
    player.publish(166, "incident-log", "1.0.0", "For the bridge and the terminals.")
    player.publish(163, "crew-travel", "1.0.0")
    player.publish(159, "customs-notes", "1.0.0", by="oskar")
    player.publish(155, "vehicle-deck", "1.0.0")
    kits.first(player)


def _summer(player: Player) -> None:
    """second releases, the first deprecation and the first withdrawal"""
    player.publish(152, "tide-tables", "1.1.0", by="oskar")
    player.publish(148, "lost-property", "1.0.0")
    player.publish(145, "engine-log", "1.1.0", "Running hours, for the overhaul plan.")
    player.publish(141, "muster-drills", "0.1.0", by="oskar")
    player.publish(138, "berth-planner", "1.4.2", "Depth is returned as well.")
    player.retire(
        137,
        "berth-planner@1.4.1",
        "deprecate",
        "1.4.2 returns the depth as well",
        until=-30,
        instead="berth-planner@1.4.2",
    )
    player.publish(134, "crew-roster", "2.1.0", "Watches can be swapped.")
    player.retire(133, "crew-roster@2.0.0", "withdraw", "its watches ignored rest hours")
    player.publish(130, "hull-survey", "1.0.0")
    player.publish(126, "yard-slots", "1.0.0", "Our yard computer speaks nothing newer.", by="oskar")
    player.publish(122, "rest-hours", "1.0.1")
    player.publish(119, "fuel-ledger", "2.1.0", by="oskar")
    style.second_style(player)
    player.publish(115, "bookings", "3.1.0", "Agents can book; loads and groups can be listed.")
    kits.later(player)
    player.publish(111, "pilotage", "1.1.0")
    player.publish(108, "spare-parts", "2.0.0", "The part number has one name everywhere now.")
    player.retire(
        107, "spare-parts@1.0.0", "deprecate", "the part number was named twice", instead="spare-parts"
    )


def _autumn(player: Player) -> None:
    """renamed parameters under honest versions; one request declined, one taken back"""
    player.publish(104, "incident-log", "1.1.0", by="oskar")
    player.publish(100, "dry-dock", "1.1.0")
    routing.hints(player)
    player.retire(
        92,
        "harbour-radio@1.0.0",
        "deprecate",
        "its moorings are out of date; the berth planner knows them",
        until=-21,
        instead="berth-planner",
    )
    player.publish(88, "crew-travel", "2.0.0", "Staff numbers are named as in the roster.")
    declined = player.submit(84, "customs-notes", "1.1.0", "Values with their currency.")
    player.answer(
        83, declined, "oskar", "decline", "The value became text under the same name. Add a currency field."
    )
    player.publish(80, "cold-store", "0.9.1", by="oskar")
    player.publish(76, "vehicle-deck", "1.1.0", waived=style.UNANNOTATED)
    player.publish(72, "muster-drills", "0.2.0")
    player.publish(68, "engine-log", "2.0.0", "A vessel is a vessel.", by="oskar")
    player.publish(64, "lost-property", "1.1.0")
    player.publish(60, "rest-hours", "1.1.0", by="oskar")
    player.publish(55, "passenger-notices", "1.0.1")
    player.publish(50, "yard-slots", "1.1.0")
    kits.latest(player)
    taken = player.submit(45, "spare-parts", "2.1.0", "Prices in euro and in kroner.")
    with clock.at(player.moment(44)):
        review.take_back(actor("signe"), taken.pk)


def _these_days(player: Player) -> None:
    """two suspensions; a busy week at the desks, with requests in every state"""
    with clock.at(player.moment(40)):
        catalog.edit_server(actor("oskar"), "crew-roster", {"data_class": "confidential"})
    with clock.at(player.moment(30)):
        catalog.edit_server(actor("tomas"), "tide-tables", {"contact": "tides@pellam.example"})
    overlaps.rulings(player)
    with clock.at(player.moment(20)):
        catalog.suspend(
            actor("ines"), "freight-manifest", "adds consignments to closed sailings, see incident 4411"
        )
    with clock.at(player.moment(15)):
        catalog.suspend(
            actor("oskar"),
            "crew-travel",
            "cancels journeys of others, see incident 4419",
            "tool:cancel_travel",
        )
    style.exceptions(player)
    week.earlier_acts(player)
    sent = player.submit(12, "freight-manifest", "1.0.1", "Weights in tonnes now.")
    player.answer(
        11,
        sent,
        "oskar",
        "send-back",
        "Kilograms became tonnes without a new field: old callers would load a thousand times too much.",
    )
    player.submit(6, "fuel-ledger", "2.2.0", "Tonnes, as the bunker notes say.")
    draughts = player.submit(4, "pilotage", "2.0.0", "Draughts in decimetres, as pilots give them.")
    player.answer(3.5, draughts, "ines", "agree", "Breaking, and told so by its version.")
    player.mend(3.2, draughts, "order_pilot", "A draught of 8.5 m is 85.")
    week.lift_asked_for(player)
    vans = player.submit(3, "fare-desk", "1.1.0", "Vans can be quoted.")
    week.agreed_under_a_condition(player, vans)
    routing.proposal(player)
    hidden = player.submit(2, "crew-certificates", "0.3.0", "First release.")
    kits.asked(player)
    basins = player.submit(1, "berth-planner", "1.5.0", "Ready for the new basins.")
    week.talk_and_absence(player, hidden, basins)
    week.by_the_clock(player)
    kits.read(player)
