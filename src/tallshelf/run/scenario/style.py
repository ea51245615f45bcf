"""The house style of Pellam Sound Ferries: how it grew, and the exceptions that were asked for."""

from __future__ import annotations

from tallshelf.run.scenario.player import Player, actor
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.review import actions as review

FIRST = """\
# The house style of Pellam Sound Ferries.
name = "pellam"

[levels]
unknown-tool-named = "error"

[words]
banned = { ship = "vessel", boat = "vessel", quay = "berth" }

[[patterns]]
reads = "parameters"
forbid = "(?i)^(ship|boat)_"
say = "the house says vessel; name the parameter by it"
"""
SECOND = FIRST.replace(
    "[words]\n", '[words]\nverbs = ["moor", "unmoor", "bunker"]\nabbreviations = ["eta", "ets"]\n'
)
THIRD = SECOND.replace(
    "[[patterns]]", "[settings.big-enum]   # the boards of a terminal\nmost_values = 80\n\n[[patterns]]"
)
UNANNOTATED = ("unannotated-write", "tool:clear_lane", "Annotated in 1.2.0.", 20.0)
"""A safety finding that a second person waived for a while, before the release it is in was agreed to."""


def first_style(player: Player) -> None:
    """Propose the first style of the house, whose terms are read as the same, which a second curator agrees to."""
    with clock.at(player.moment(212)):
        proposed = catalog.apply_style(actor("ines"), FIRST, "One word for one thing; nothing unencrypted.")
    with clock.at(player.moment(211)):
        catalog.answer_style(actor("oskar"), proposed.version, "agree")


def second_style(player: Player) -> None:
    """Propose a style that allows more, which a second curator agrees to."""
    with clock.at(player.moment(118)):
        proposed = catalog.apply_style(actor("oskar"), SECOND, "Words of the trade that every mate knows.")
    with clock.at(player.moment(117)):
        catalog.answer_style(actor("ines"), proposed.version, "agree")


def exceptions(player: Player) -> None:
    """Waivers in every state, and a proposal that waits for a second curator."""
    player.waive(49, "yard-slots", "old-transport", "server", "The yard computer speaks nothing newer.", -120)
    with clock.at(player.moment(9)):
        refused, _ = review.ask_waiver(
            actor("jonas"),
            "cold-store",
            "local-path",
            "resource:file:///srv/cold/readings.csv",
            "There is but one machine.",
            player.moment(-90),
        )
    with clock.at(player.moment(8)):
        review.answer_waiver(
            actor("oskar"), refused.pk, "refuse", "A scheme of the server's own costs one line; see alarms."
        )
    with clock.at(player.moment(5)):
        catalog.apply_style(actor("oskar"), THIRD, "The terminal at Pellam has 72 boards.")
    with clock.at(player.moment(2)):
        review.ask_waiver(
            actor("jonas"),
            "passenger-notices",
            "big-enum",
            "tool:publish_notice",
            "There are 72 boards, and each is asked for by name.",
            player.moment(-180),
        )
