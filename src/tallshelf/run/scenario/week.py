"""A busy week at the desks: what is asked beside publishing, what reviewers say, and what the clock does."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from tallshelf.run.scenario.player import Player, actor, agree, sign
from tallshelf.service import clock
from tallshelf.service.people import actions as people
from tallshelf.service.review import actions as review


def earlier_acts(player: Player) -> None:
    """Have a data class lowered, and a release withdrawn, by request."""
    lower = player.ask(
        14,
        "mira",
        review.RequestDraft(
            "data-class", "muster-drills", "The drill plans hang in every mess room.", data_class="public"
        ),
    )
    agree(lower, ("ines", "runa", "kari"), lambda step: player.moment(13.5, 2 * step))
    player.retire(10, "dry-dock@1.0.0", "withdraw", "its dock lengths were in feet")


def lift_asked_for(player: Player) -> None:
    """Ask that a suspension is lifted; a curator asks back, and the desk's lead has it by now."""
    lift = player.ask(
        5,
        "mira",
        review.RequestDraft(
            "lift",
            "crew-travel",
            "Travel clerks are checked by the roster since Monday; see incident 4419.",
            item="tool:cancel_travel",
        ),
    )
    with clock.at(player.moment(4.5)):
        review.take(actor("oskar"), lift.pk)
        asked = review.comment(
            actor("oskar"),
            lift.pk,
            "Who is refused when the roster does not answer?",
            kind="question",
            item="tool:cancel_travel",
            pointer="/description",
        )
    with clock.at(player.moment(4)):
        review.answer_comment(actor("mira"), lift.pk, asked.pk, "Everybody. It fails closed, and says so.")


def agreed_under_a_condition(player: Player, request: Any) -> None:
    """Let a curator agree to a request under a condition, and security after."""
    request.refresh_from_db()
    due = (player.present + timedelta(days=10)).date()
    with clock.at(player.moment(3, 2)):
        sign(
            "ines",
            request,
            "agree",
            "Good. The class of a van can wait.",
            conditions=[
                {"text": "Say in quote_fare which lengths count as a van", "owner": "jonas", "due": due}
            ],
        )
    request.refresh_from_db()
    if request.state == "open":
        with clock.at(player.moment(3, 4)):
            sign("runa", request, "agree")


def talk_and_absence(player: Player, hidden: Any, basins: Any) -> None:
    """A remark on the place that matters, a question that blocks, and a deputy for the holidays."""
    with clock.at(player.moment(1.4)):
        review.comment(
            actor("oskar"),
            hidden.pk,
            "There is more in this text than one sees. Look at the escapes.",
            item="tool:list_expiring_certificates",
            pointer="/description",
        )
    with clock.at(player.moment(0.6)):
        review.comment(
            actor("oskar"),
            basins.pk,
            "Basin became required. Do the pilots' agents send it already?",
            kind="question",
        )
    with clock.at(player.moment(0.5)):
        people.name_deputy(actor("kari"), "edda", player.present + timedelta(days=12))


def by_the_clock(player: Player) -> None:
    """Let the clock run over the last week, as a worker would have."""
    for hours in range(7 * 24, -1, -4):
        with clock.at(player.present - timedelta(hours=hours)):
            review.remind_and_escalate()
