"""Which releases a pick takes: one exactly, those that promise to fit (``^1.4``), or the current one."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Literal

import semver
from msgspec import Struct

from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import is_version, names_version, sort_key

_NUMBER = "(0|[1-9][0-9]{0,8})"
_CARET = re.compile(rf"\^{_NUMBER}(?:\.{_NUMBER}(?:\.{_NUMBER}(-[0-9A-Za-z.-]+)?)?)?")


class Range(Struct, frozen=True):
    """A set of versions; ``text`` is as it was written.

    ``exact`` takes the version of that text alone, ``fitting`` from ``least`` up to the next number by which
    something may break: the next major one, before 1.0.0 the next minor one (as SemVer 2.0.0 and this catalog's
    rule for 0.y.z say). ``current`` takes whatever is current.
    """

    text: str
    form: Literal["exact", "fitting", "current"]
    least: semver.Version | None = None

    def takes(self, version: str) -> bool:
        """Whether it takes a version, of whatever scheme; ``current`` takes none by itself.

        A pre-release is taken where it is named exactly, or where the least one is a pre-release of the same
        numbers that does not come after it.
        """
        if self.form == "exact":
            return version == self.text
        if self.least is None or not is_version(version):
            return False
        found = semver.Version.parse(version)
        if found.prerelease and not (self.least.prerelease and _numbers(found) == _numbers(self.least)):
            return False
        return self.least <= found.replace(build=None) and _series(found) == _series(self.least)

    def best(self, versions: Iterable[str]) -> str | None:
        """Return the version of highest precedence that it takes, or None."""
        return max(filter(self.takes, versions), key=lambda one: (sort_key(one), one), default=None)


def parse_range(text: str) -> Range:
    """Read ``1.4.2``, ``2026.11.3``, ``^1.4`` or ``current``; raise `BadArgument` for anything else."""
    if text == "current":
        return Range(text, "current")
    if names_version(text):
        return Range(text, "exact")
    match = _CARET.fullmatch(text)
    if match is None:
        raise BadArgument(
            f"{text[:60]!r} takes no releases",
            remedy="Write one version (1.4.2), those that promise to fit (^1.4), or current.",
        )
    major, minor, patch, pre = match.groups()
    if major == "0" and minor is None:
        raise BadArgument(
            f"{text!r} promises nothing: before 1.0.0 each minor version may break",
            remedy="Name the minor version, such as ^0.4.",
        )
    least = f"{major}.{minor or 0}.{patch or 0}{pre or ''}"
    if not is_version(least):
        raise BadArgument(f"{text!r} names no version", remedy="Write ^MAJOR.MINOR, such as ^1.4.")
    return Range(text, "fitting", semver.Version.parse(least))


def _numbers(version: semver.Version) -> tuple[int, int, int]:
    return (version.major, version.minor, version.patch)


def _series(version: semver.Version) -> tuple[int, ...]:
    return (version.major,) if version.major else (0, version.minor)
