"""What the ferry company's agents work with: eight kits, how they were put, moved, and came to where they are."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from tallshelf.core.kits import Kit, Pick, kit_text, parse_range
from tallshelf.core.snapshot import item_identity
from tallshelf.run.scenario.player import Player, actor
from tallshelf.service import clock
from tallshelf.service.kits import actions
from tallshelf.service.telling.models import Notice

READING = None
_Picks = tuple[tuple[str, str, tuple[str, ...] | None], ...]


@dataclass(frozen=True)
class _Planned:
    """One kit, and who puts it."""

    who: str
    name: str
    title: str
    team: str
    purpose: str
    picks: _Picks
    budget: int | None = None
    more: tuple[tuple[str, Any], ...] = ()

    def text(self, **changes: Any) -> str:
        picks = changes.pop("picks", self.picks)
        fields: dict[str, Any] = {"budget": self.budget, **dict(self.more), **changes}
        return kit_text(
            Kit(
                name=self.name,
                title=self.title,
                team=self.team,
                contacts=(f"{self.team}@pellam.example",),
                purpose=self.purpose,
                picks=tuple(_pick(*pick) for pick in picks),
                **fields,
            )
        )


def _pick(server: str, version: str, items: tuple[str, ...] | None) -> Pick:
    named = None if items is None else tuple(map(item_identity, items))
    return Pick(server, parse_range(version), named)


BERTHS = _Planned(
    "tomas",
    "berth-assistant",
    "Berth assistant",
    "berths",
    "Finds a berth for a ship that calls, orders the pilot, and tells the agent of both.",
    (
        ("berth-planner", "^1.4", ("find_free_berth", "get_berth_plan", "book_berth")),
        ("tide-tables", "^1.0", READING),
        ("pilotage", "^1.0", ("order_pilot", "cancel_pilot_order")),
    ),
    2000,
)
BOOKINGS = _Planned(
    "jonas",
    "booking-agent",
    "Booking agent",
    "ticketing",
    "Answers passengers on the telephone: what sails, what it costs, what they have booked.",
    (("bookings", "^3.0", READING), ("fare-desk", "^1.0", ("list_crossings", "quote_fare"))),
    800,
    (("data_class", "confidential"),),
)
FREIGHT = _Planned(
    "jonas",
    "freight-desk",
    "Freight desk",
    "shore-freight",
    "Takes consignments, finds trailers, and keeps an eye on the cold chambers.",
    (
        ("freight-manifest", "^1.0", ("add_consignment", "get_manifest")),
        ("cold-store", "^0.9", ("get_temperature_log", "list_chambers")),
        ("yard-slots", "^1.0", READING),
    ),
    1500,
)
CREW = _Planned(
    "mira",
    "crew-planner",
    "Crew planner",
    "crew",
    "Swaps watches and books the journeys that follow from it.",
    (
        ("crew-roster", "^2.0", ("find_crew_member", "list_watches", "swap_watch")),
        ("crew-travel", "^2.0", ("find_connections", "book_travel", "cancel_travel")),
    ),
    1200,
    (("data_class", "confidential"),),
)
ENGINES = _Planned(
    "signe",
    "engine-watch",
    "Engine watch",
    "fleet-upkeep",
    "Reads the engines and the fuel each morning, and says which part runs short.",
    (
        ("engine-log", "^2.0", READING),
        ("fuel-ledger", "^2.0", ("estimate_fuel", "get_fuel_stock", "list_consumption")),
        ("spare-parts", "^2.0", ("search_parts", "list_low_stock")),
    ),
    1500,
)
DRILLS = _Planned(
    "mira",
    "safety-officer",
    "Safety officer",
    "crew",
    "Plans the drills, and reminds the masters of them.",
    (("muster-drills", "^0.2", ("get_muster_list", "list_drills", "plan_drill")),),
)
NOTICES = _Planned(
    "jonas",
    "notice-board",
    "Notice board",
    "ticketing",
    "Shows on the quays what sails late, and why.",
    (
        ("passenger-notices", "current", ("list_notices",)),
        ("fare-desk", "current", ("list_crossings",)),
        ("harbour-radio", "1.0.0", ("get_working_channel",)),
    ),
    600,
)
DOCKS = _Planned(
    "signe",
    "dock-planner",
    "Dock planner",
    "fleet-upkeep",
    "Plans the dockings of the coming year around tides and surveys.",
    (
        ("dry-dock", "^1.0", ("list_dockings", "plan_docking", "get_dock_cost")),
        ("tide-tables", "^1.0", ("get_tide_times",)),
        ("hull-survey", "^1.0", READING),
    ),
    1000,
    (("moves", "never"),),
)


def put(
    player: Player, days: float, planned: _Planned, agreed: str = "", why: str = "", **changes: Any
) -> None:
    """Put a kit; where it is to see higher data, let a second curator agree the same day."""
    with clock.at(player.moment(days)):
        actions.put_kit(actor(planned.who), planned.text(**changes), reason=why)
    if agreed:
        with clock.at(player.moment(days, 3)):
            actions.answer_raise(actor(agreed), planned.name, "agree")


def first(player: Player) -> None:
    """The first three: two of them follow what is published since."""
    put(player, 154, BERTHS)
    put(player, 153.5, BOOKINGS, "ines", "It says to whom a booking belongs.")
    put(player, 153, NOTICES)


def later(player: Player) -> None:
    """The docks are planned by hand; the agent for bookings is moved over its budget."""
    put(player, 114, DOCKS)
    with clock.at(player.moment(113)):
        actions.move_kit(actor("jonas"), "booking-agent", "bookings@3.1.0")


def latest(player: Player) -> None:
    """Three more, each of which holds what has trouble since, and one that asks to see more."""
    put(player, 49, FREIGHT)
    put(player, 48, CREW, "oskar", "Journeys say who travels.")
    put(player, 47, ENGINES)
    put(player, 46, DRILLS)


def asked(player: Player) -> None:
    """The safety officer wants to read the incidents as well: that waits for a second curator."""
    more = (*DRILLS.picks, ("incident-log", "^1.0", ("search_incidents", "get_incident")))
    why = "Drills follow from what went wrong."
    put(player, 1.5, DRILLS, why=why, picks=more, data_class="confidential")


def waiting(player: Player) -> None:
    """The dock planner wants to order pilots: that waits for the word of the pilotage's owners."""
    more = (*DOCKS.picks, ("pilotage", "^1.0", ("order_pilot",)))
    put(player, 0.4, DOCKS, why="A ship for the dock needs its pilot at the tide.", picks=more)


def read(player: Player) -> None:
    """What people were told they have read, but for what is of the last days."""
    days = player.moment(9).isoformat()
    Notice.objects.filter(at__lt=days).update(read_at=player.moment(8))
