"""What the curators of Pellam Sound Ferries ruled on overlaps, and what still waits."""

from __future__ import annotations

from typing import Any

from tallshelf.run.scenario.player import Player, actor
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog.overlap import compare_all, found_overlaps
from tallshelf.service.catalog.overlap.found import pair_of

ROSTER = "crew-roster#tool:find_crew_member"


def rulings(player: Player) -> None:
    """One preferred, one told apart, and one proposal that waits for a second curator."""
    compare_all()
    _ruled(
        player,
        28,
        "prefer",
        (ROSTER, "rest-hours#tool:lookup_crew_member"),
        "The crew office keeps the roster; the copy in rest hours is a day behind.",
        preferred=ROSTER,
    )
    _ruled(
        player,
        26,
        "distinct",
        ("berth-planner#tool:find_free_berth", "yard-slots#tool:list_free_slots"),
        "A berth is for a vessel, a slot for a trailer.",
    )
    with clock.at(player.moment(4)):
        pairs = _pairs("incident-log#tool:get_drill_rules", "muster-drills#resource:drills://rules")
        catalog.rule_on(actor("oskar"), pairs, "keep-both", "Read on board; the office ashore calls it.")


def _ruled(player: Player, days: float, word: str, items: tuple[str, str], why: str, **more: Any) -> None:
    with clock.at(player.moment(days)):
        made = catalog.rule_on(actor("oskar"), _pairs(*items), word, why, **more)
    with clock.at(player.moment(days - 1)):
        catalog.answer_ruling(actor("ines"), made.pk, "agree")


def _pairs(*items: str) -> list[str]:
    return [
        pair_of(overlap)
        for overlap in found_overlaps()
        if {f"{side.source}#{side.item}" for side in (overlap.a, overlap.b)} == set(items)
    ]
