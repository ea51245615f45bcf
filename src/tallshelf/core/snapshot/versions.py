"""Versions: SemVer 2.0.0, and calendar versions of three or four numbers."""

from __future__ import annotations

import re
from functools import total_ordering
from typing import TYPE_CHECKING, Literal

from tallshelf.core.errors import BadArgument

if TYPE_CHECKING:  # it takes long to load, and most commands read no version
    from semver import Version

Scheme = Literal["semver", "calendar"]
SCHEMES: tuple[Scheme, ...] = ("semver", "calendar")
"""How a server numbers its releases. A calendar version promises nothing about what changed."""

_CALENDAR = re.compile(r"[0-9]{1,9}(?:\.[0-9]{1,9}){2,3}", re.ASCII)


@total_ordering
class Precedence:
    """Where a version stands among others of its server, of whatever scheme: by its numbers, then as SemVer says."""

    def __init__(self, version: Version, fourth: int = 0) -> None:
        self.version = version
        self.fourth = fourth

    @property
    def major(self) -> int:
        return self.version.major

    @property
    def is_stable(self) -> bool:
        return not self.version.prerelease

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Precedence) and not self < other and not other < self

    def __hash__(self) -> int:
        return hash((self.version.replace(build=None), self.fourth))

    def __lt__(self, other: Precedence) -> bool:
        found = self.version.compare(other.version)
        return (found, self.fourth) < (0, other.fourth)


def parse_version(text: str) -> Version:
    """Read a SemVer version; raise `BadArgument` when it is not one."""
    from semver import Version

    try:
        return Version.parse(text)
    except (ValueError, TypeError):
        raise BadArgument(
            f"{text!r} is not a SemVer version",
            remedy="Write MAJOR.MINOR.PATCH, such as 1.4.0 or 2.0.0-rc.1.",
        ) from None


def is_version(text: str) -> bool:
    """Whether a text is a SemVer version."""
    from semver import Version

    return Version.is_valid(text)


def names_version(text: str) -> bool:
    """Whether a text is a version of any scheme."""
    return is_version(text) or _CALENDAR.fullmatch(text) is not None


def is_of_scheme(text: str, scheme: str) -> bool:
    """Whether a text is a version as a scheme writes them."""
    return is_version(text) if scheme == "semver" else _CALENDAR.fullmatch(text) is not None


def need_version(text: str, scheme: str | None = None) -> None:
    """Raise `BadArgument` when a text is no version of a scheme, or of none at all where it is not told."""
    if scheme == "semver":
        parse_version(text)
    elif scheme == "calendar" and not is_of_scheme(text, scheme):
        raise BadArgument(
            f"{text!r} is not a calendar version",
            remedy="Write three or four numbers, such as 2026.11.3 or 2026.11.3.1.",
        )
    elif not names_version(text):
        raise BadArgument(
            f"{text!r} is not a SemVer version, nor a calendar version",
            remedy="Write MAJOR.MINOR.PATCH, such as 1.4.0, or three or four numbers for a calendar version.",
        )


def sort_key(text: str) -> Precedence:
    """A key that orders versions: SemVer by its precedence, calendar versions number by number."""
    if is_version(text):
        return Precedence(parse_version(text))
    need_version(text)
    from semver import Version

    numbers = [int(one) for one in text.split(".")]
    return Precedence(Version(*numbers[:3]), *numbers[3:])


def same_precedence(left: str, right: str) -> bool:
    """Whether two versions stand at the same place: they differ by build metadata, or by zeros, alone."""
    return left != right and sort_key(left) == sort_key(right)
