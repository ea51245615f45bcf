"""The honest next version, and the release to compare with."""

from __future__ import annotations

from collections.abc import Iterable

from tallshelf.core.changes.result import Change, NextVersion, SnapshotComparison
from tallshelf.core.snapshot import Scheme, is_version, parse_version, sort_key


def base_for(version: str, published: Iterable[str]) -> str | None:
    """Return the version to compare with.

    It is the stable published one of highest precedence that is not above the version, on the same major where
    there is one; where none below is stable, a pre-release; for a version below all that are published the
    lowest of them; None for a first release.
    """
    own = sort_key(version)
    others = sorted((one for one in published if one != version), key=sort_key)
    below = [one for one in others if sort_key(one) <= own]
    below = [one for one in below if sort_key(one).is_stable] or below
    same_major = [one for one in below if sort_key(one).major == own.major]
    candidates = same_major or below or others[:1]
    return candidates[-1] if candidates else None


def next_version(
    base: str | None,
    declared: str | None,
    comparison: SnapshotComparison | None,
    *,
    scheme: Scheme = "semver",
    breaking: bool = False,
) -> NextVersion:
    """Return the least honest version after a base.

    SemVer 2.0.0: breaking, undecided or a silent change asks for a major; new things for
    a minor; texts and cautions for operators for a patch, a lost safety hint for a minor.
    For 0.y.z, where SemVer promises nothing: breaking for a minor, the rest for a patch. After
    a pre-release any later version is honest. In a calendar scheme no number is: there what asks for a major
    is held against whether the release was declared ``breaking``.
    """
    if base is None or comparison is None:
        return NextVersion(declared, None, (), scheme, breaking)
    told = [change for change in comparison.changes if not change.folded]
    step, because = _step(told)
    if scheme == "calendar":
        return NextVersion(declared, None, because, scheme, breaking, breaks=step == "major")
    if not (is_version(base) and (declared is None or is_version(declared))):
        return NextVersion(declared, None, because)
    version = parse_version(base)
    if version.prerelease:
        return NextVersion(declared, str(version.bump_prerelease()), because)
    if version.major == 0 and step != "none":
        honest = version.bump_minor() if step == "major" else version.bump_patch()
    elif step == "none":
        honest = version
    else:
        honest = {
            "major": version.bump_major,
            "minor": version.bump_minor,
            "patch": version.bump_patch,
        }[step]()
    return NextVersion(declared, str(honest), because)


_MINOR = frozenset(
    [
        "item-added",
        "argument-accepted",
        "output-schema-added",
        "capability-added",
        "prompt-argument-added",
        "prompt-argument-optional",
        "result-narrowed",
        "result-added",
        "consent-loosened",
        "result-no-longer-declared",
    ]
)


def _step(changes: list[Change]) -> tuple[str, tuple[str, ...]]:
    major = [c for c in changes if c.impact in ("breaking", "undecided") or c.silent]
    minor = [c for c in changes if c.kind in _MINOR]
    for name, found in (("major", major), ("minor", minor), ("patch", changes)):
        if found:
            return name, tuple(f"{c.item}: {c.message}" for c in found[:5])
    return "none", ("nothing changed",)
