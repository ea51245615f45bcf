"""What the running servers of the scenario answer when a tool is called."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Arguments = dict[str, Any]


def _free_berths(arguments: Arguments) -> dict[str, Any]:
    berths = [
        {"berth_id": "N-04", "length": 96.5, "depth": 7.2},
        {"berth_id": "E-01", "length": 140, "depth": 9.0},
    ]
    return {"berths": [berth for berth in berths if berth["length"] >= arguments.get("vessel_length", 0)]}


ANSWERS: dict[str, Callable[[Arguments], dict[str, Any]]] = {
    "find_free_berth": _free_berths,
    "get_berth_plan": lambda _: {"stays": [{"berth_id": "N-04", "vessel": "Skerry Light"}]},
    "book_berth": lambda _: {"booking": "B-1182"},
    "release_berth": lambda _: {"released": True},
    "get_tide_times": lambda arguments: {
        "tides": [
            {"at": f"{arguments.get('day', '2026-06-01')}T04:12:00Z", "height": 0.6},
            {"at": f"{arguments.get('day', '2026-06-01')}T10:31:00Z", "height": 3.4},
        ]
    },
    "get_clearance": lambda _: {"clearance": 21.4},
    "find_crew_member": lambda arguments: {
        "staff_number": arguments.get("staff_number", ""),
        "name": "Aud Lindqvist",
        "rank": "second mate",
        "home_port": "Pellam",
    },
    "list_watches": lambda _: {"watches": [{"starts": "2026-06-01T04:00:00Z", "staff_number": "C-0412"}]},
    "swap_watch": lambda _: {"allowed": True},
    # The amount is text where the schema promises a number: `try` says so.
    "quote_fare": lambda _: {"amount": "18.50"},
    "list_crossings": lambda _: {"crossings": [{"crossing": "pellam-skerry", "terminals": "Pellam, Skerry"}]},
}
