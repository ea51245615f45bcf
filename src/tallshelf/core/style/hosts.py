"""What a host can use of a release or a kit: transports, protocol revisions, kinds of item, how many tools."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from msgspec import Struct

from tallshelf.core.style.house import HostProfile

_REMEDIES = {
    "http+sse": "ask its owner for Streamable HTTP, or put a bridge between",
    "streamable-http": "use a launch record over stdio, where it has one",
    "stdio": "use a launch record over HTTP, where it has one",
}


class Unusable(Struct, frozen=True):
    """Something that a host cannot use; ``whole`` where nothing can be used without it."""

    what: str
    remedy: str
    whole: bool = False


def unusable(
    profile: HostProfile, *, transport: str, revision: str, kinds: Iterable[str], what: str
) -> tuple[Unusable, ...]:
    """Return what a host cannot use of a release, the worst first.

    ``transport`` is that of the launch record it would be connected by, ``revision`` the protocol revision it was
    captured with ("" where that is not told), ``kinds`` the kinds of its items, ``what`` names it.
    """
    unusables = []
    if profile.transports and transport not in profile.transports:
        takes = ", ".join(profile.transports)
        remedy = _REMEDIES.get(transport, "ask its owner for another transport")
        unusables.append(
            Unusable(f"{what} is reached by {transport}, and {profile.name} takes {takes}", remedy, True)
        )
    if profile.revisions and revision and revision not in profile.revisions:
        speaks = ", ".join(profile.revisions)
        message = f"{what} was captured with revision {revision}, and {profile.name} speaks {speaks}"
        unusables.append(Unusable(message, "both may agree on an older one: try it"))
    held = set(kinds)
    if held & {"resource", "template"} and not profile.resources:
        unusables.append(
            Unusable(
                f"{profile.name} shows no resources of {what}", "ask its owner for a tool that reads them"
            )
        )
    if "prompt" in held and not profile.prompts:
        unusables.append(
            Unusable(f"{profile.name} shows no prompts of {what}", "write their text into the instructions")
        )
    return tuple(unusables)


def too_many_tools(profile: HostProfile, tools: int) -> Unusable | None:
    """Return that a host takes fewer tools than it would get at once, or None."""
    if profile.tools is None or tools <= profile.tools:
        return None
    return Unusable(
        f"that is {tools} tools, and {profile.name} takes {profile.tools} at once",
        "pick fewer, or split the kit",
    )


def profile_named(profiles: Sequence[HostProfile], name: str) -> HostProfile | None:
    """Return a profile by its name."""
    return next((host_profile for host_profile in profiles if host_profile.name == name), None)
