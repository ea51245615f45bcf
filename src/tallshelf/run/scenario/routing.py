"""How the routing rules of Pellam Sound Ferries grew: a hint that is in force, and a proposal that waits."""

from __future__ import annotations

from tallshelf.core.routing import DEFAULT_RULES, routing_text
from tallshelf.run.scenario.player import Player, actor
from tallshelf.service import clock
from tallshelf.service.review import actions as review

_SHIPPED = routing_text(DEFAULT_RULES)
HINTED = _SHIPPED.replace(
    'reason = "safety findings"',
    'reason = "safety findings"\nhint = "Read each text as a model would, hidden parts too."',
).replace(
    'reason = "a tool newly writes"',
    'reason = "a tool newly writes"\nhint = "Look at the tools that newly write."',
)
SLOWER = HINTED.replace("due_hours = 48", "due_hours = 96")


def hints(player: Player) -> None:
    """Tell the security desk what to look at."""
    with clock.at(player.moment(98)):
        review.apply_rules(actor("ines"), HINTED, "Reviewers asked what to look at first.")


def proposal(player: Player) -> None:
    """Ask for more time, which takes a second curator."""
    with clock.at(player.moment(3)):
        review.apply_rules(actor("oskar"), SLOWER, "Two days are short over a weekend.")
