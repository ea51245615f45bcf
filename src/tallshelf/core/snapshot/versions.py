"""Semantic versions (SemVer 2.0.0)."""

from __future__ import annotations

import semver

from tallshelf.core.errors import BadArgument


def parse_version(text: str) -> semver.Version:
    """Read a SemVer version; raise `BadArgument` when it is not one."""
    try:
        return semver.Version.parse(text)
    except (ValueError, TypeError):
        raise BadArgument(
            f"{text!r} is not a SemVer version",
            remedy="Write MAJOR.MINOR.PATCH, such as 1.4.0 or 2.0.0-rc.1.",
        ) from None


def is_version(text: str) -> bool:
    """Whether a text is a SemVer version."""
    return semver.Version.is_valid(text)


def sort_key(text: str) -> semver.Version:
    """A key that orders versions by SemVer precedence."""
    return parse_version(text)


def same_precedence(left: str, right: str) -> bool:
    """Whether two versions differ by build metadata only, which SemVer's precedence ignores."""
    return left != right and sort_key(left).compare(sort_key(right)) == 0
