"""What a host of the house style cannot use of what it would be connected to."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any

from tallshelf.cli.io import IO
from tallshelf.core.errors import NotFound

if TYPE_CHECKING:
    from tallshelf.client import Shelf
    from tallshelf.core.style import Unusable


def host_notes(name: str, handed_out: Sequence[Mapping[str, Any]], shelf: Shelf, io: IO) -> dict[str, Any]:
    """Say what a host cannot use of some connections, and return it: ``{"host": {"profile", "unusable", "notes"}}``.

    ``unusable`` is whether one of them cannot be used at all. Raises `NotFound` for a profile that the house style
    does not have.
    """
    from tallshelf.core.reports import wrap
    from tallshelf.core.snapshot import parse_reference
    from tallshelf.core.style import parse_style, profile_named, too_many_tools, unusable

    profiles = parse_style(shelf.style()["text"]).profiles
    profile = profile_named(profiles, name)
    if profile is None:
        there = ", ".join(host_profile.name for host_profile in profiles)
        raise NotFound(f"the house style has no host {name!r}", remedy=f"Its [[profiles]] are: {there}.")
    unusables: list[Unusable] = []
    tools = 0
    for one in handed_out:
        place = parse_reference(one["release"])
        release = shelf.release(place.server, place.version)
        kinds = [item["kind"] for item in shelf.items(place.server, place.version)["items"]]
        tools += kinds.count("tool")
        launch = next(each for each in release["launch"] if each["environment"] == one["environment"])
        unusables += unusable(
            profile,
            transport=launch["transport"],
            revision=release["captured"].get("protocolVersion", ""),
            kinds=kinds,
            what=one["release"],
        )
    many = too_many_tools(profile, tools)
    unusables += [many] if many else []
    for each in unusables:
        io.note(wrap(f"{each.what}; {each.remedy}", "    ", "  ✗ " if each.whole else "  ~ "))
    if not unusables:
        io.note(f"{name} can use all of it")
    notes = [{"what": each.what, "remedy": each.remedy, "whole": each.whole} for each in unusables]
    return {"host": {"profile": name, "unusable": any(each.whole for each in unusables), "notes": notes}}
