"""From what a kit picks to exact releases and items, and what is wrong with it as a whole."""

from __future__ import annotations

import difflib
from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import TYPE_CHECKING, Literal, Protocol

from msgspec import Struct, field

from tallshelf.core.kits.lock import Lock, Locked
from tallshelf.core.kits.risk import Risk, risk_of
from tallshelf.core.routing import DATA_CLASSES
from tallshelf.core.snapshot import Item, item_tokens

if TYPE_CHECKING:
    from tallshelf.core.kits.model import Kit, Pick

Fault = Literal[
    "no-server", "no-release", "no-item", "nothing-read", "data-class", "over-budget", "name-collision",
    "suspended", "deprecated", "drifted", "seems-to-write", "too-many", "not-checked",
]  # fmt: skip
REFUSED: frozenset[Fault] = frozenset(
    {"no-server", "no-release", "no-item", "nothing-read", "data-class", "too-many"}
)
"""What a kit is refused for whole, whoever puts it."""
MOST_HELD = 1000
"""How many items a kit may come to."""
MOST_MIXED = 400
"""Of how many items at most it is looked at which a model may mix up: each is held against each."""
_NEAREST, _MOST_NEAREST = 3, 10


class OfferedRelease(Struct, frozen=True):
    """A release that may be picked: published, or deprecated (until ``sunset_at``, where that is told)."""

    version: str
    digest: str
    deprecated: bool = False
    sunset_at: datetime | None = None
    replacement: str = ""


class OfferedServer(Struct, frozen=True):
    """A server as kits see it; ``suspended`` has reasons by item, ``""`` for the whole server.

    ``drifted`` has the version against which it was found to run otherwise than approved, by environment; ``ending``
    says in words until when and why items are deprecated.
    """

    slug: str
    data_class: str
    current: str | None
    releases: tuple[OfferedRelease, ...]
    suspended: Mapping[str, str] = field(default_factory=dict)
    drifted: Mapping[str, str] = field(default_factory=dict)
    ending: Mapping[str, str] = field(default_factory=dict)


class Offers(Protocol):
    """What kits resolve against."""

    def server(self, slug: str) -> OfferedServer | None:
        """Return a server, or None."""

    def items(self, slug: str, version: str) -> Iterable[Item]:
        """Return the items of a release of it."""

    def slugs(self) -> Iterable[str]:
        """Return every server's slug, to name the nearest by."""


class Problem(Struct, frozen=True):
    """Something wrong with a kit: where in it (a key such as ``picks[0].version``), of which item, in words."""

    kind: Fault
    key: str
    message: str
    server: str = ""
    item: str = ""

    def document(self) -> dict[str, str]:
        return {
            "kind": self.kind,
            "key": self.key,
            "message": self.message,
            "server": self.server,
            "item": self.item,
        }


class Resolution(Struct, frozen=True):
    """What a kit comes to: its lock, the items of it, and its problems in the order of its picks."""

    lock: Lock
    items: Mapping[tuple[str, str], Item]
    problems: tuple[Problem, ...]

    @property
    def refused(self) -> tuple[Problem, ...]:
        """The problems for which it is refused whole."""
        return tuple(problem for problem in self.problems if problem.kind in REFUSED)


def resolve(kit: Kit, offers: Offers, at: Mapping[str, str] | None = None) -> Resolution:
    """Resolve every pick of a kit; ``at`` names, by server, versions to be held instead of what a pick takes.

    A pick takes the release of highest precedence in its range that is published, else of those deprecated.
    """
    problems: list[Problem] = []
    near = _Nearest()
    held: dict[tuple[str, str], tuple[Locked, Item]] = {}
    for number, pick in enumerate(kit.picks):
        if len(held) > MOST_HELD:  # told by the whole; no more is read for it
            break
        key = f"picks[{number}]"
        server = offers.server(pick.server)
        if server is None:
            message = f"there is no server {pick.server!r}{near.of(pick.server, offers.slugs())}"
            problems.append(Problem("no-server", f"{key}.server", message, pick.server))
            continue
        release = release_for(pick, server, (at or {}).get(pick.server))
        if release is None:
            problems.append(Problem("no-release", f"{key}.version", _none_fits(pick, server), pick.server))
            continue
        items = {offer.identity: offer for offer in offers.items(pick.server, release.version)}
        taken, missing = _taken(pick, items)
        problems += (
            Problem(
                "no-item",
                f"{key}.items",
                _no_item(pick, one, release) + near.of(one, items),
                pick.server,
                one,
            )
            for one in missing
        )
        if not taken and pick.items is None:
            message = f"{pick.server}@{release.version} has nothing that only reads"
            problems.append(Problem("nothing-read", f"{key}.items", message, pick.server))
        problems += _of_pick(key, kit, server, release, taken)
        for item, risk in taken:
            locked = Locked(
                pick.server,
                release.version,
                release.digest,
                item.identity,
                item.digest,
                item_tokens(item),
                risk.effect,
                risk.outside,
                server.data_class,
            )
            held[locked.key] = (locked, item)
    lock = Lock(tuple(held[key][0] for key in sorted(held)))
    problems += _of_whole(kit, lock)
    return Resolution(lock, {key: item for key, (_, item) in held.items()}, tuple(problems))


def release_for(pick: Pick, server: OfferedServer, wanted: str | None = None) -> OfferedRelease | None:
    """Return the release that a pick takes of a server, or the one ``wanted`` if it is offered; else None."""
    by_version = {release.version: release for release in server.releases}
    if wanted is not None:
        return by_version.get(wanted)
    if pick.version.form == "current":
        return by_version.get(server.current or "")
    fresh = pick.version.best(release.version for release in server.releases if not release.deprecated)
    best = fresh or pick.version.best(by_version)
    return by_version[best] if best is not None else None


def _none_fits(pick: Pick, server: OfferedServer) -> str:
    there = ", ".join(release.version for release in server.releases[:6])
    if not there:
        return f"{pick.server} has no published release"
    return f"no release of {pick.server} is in {pick.version.text}; there are {there}"


def _taken(pick: Pick, items: Mapping[str, Item]) -> tuple[list[tuple[Item, Risk]], list[str]]:
    if pick.items is None:
        risks = [(item, risk_of(item)) for item in items.values()]
        return [(item, risk) for item, risk in risks if risk.effect == "reads"], []
    missing = [item for item in pick.items if item not in items]
    return [(items[item], risk_of(items[item])) for item in pick.items if item in items], missing


def _no_item(pick: Pick, item: str, release: OfferedRelease) -> str:
    return f"{pick.server}@{release.version} has no {item}"


class _Nearest:
    """Names what is nearest to what is not there; for the first few alone, since each is held against all there is."""

    def __init__(self) -> None:
        self._left = _MOST_NEAREST

    def of(self, text: str, names: Iterable[str]) -> str:
        self._left -= 1
        if self._left < 0:
            return ""
        near = difflib.get_close_matches(text[:200], list(names)[:20_000], _NEAREST, 0.6)
        return f"; nearest: {', '.join(near)}" if near else ""


def _of_pick(
    key: str, kit: Kit, server: OfferedServer, release: OfferedRelease, taken: list[tuple[Item, Risk]]
) -> Iterable[Problem]:
    slug = server.slug
    if DATA_CLASSES.index(server.data_class) > DATA_CLASSES.index(kit.data_class):
        message = f"{slug} is {server.data_class}, and this kit may see {kit.data_class} at most"
        yield Problem("data-class", f"{key}.server", message, slug)
    if release.deprecated:
        until = f", not to be used after {release.sunset_at:%Y-%m-%d}" if release.sunset_at else ""
        instead = f"; use {release.replacement} instead" if release.replacement else ""
        message = f"{slug}@{release.version} is deprecated{until}{instead}"
        yield Problem("deprecated", f"{key}.version", message, slug)
    if "" in server.suspended:
        yield Problem("suspended", f"{key}.server", f"{slug} is suspended: {server.suspended['']}", slug)
    for environment, version in server.drifted.items():
        if version == release.version:
            message = f"{slug}@{version} was found to run otherwise than approved, in {environment}"
            yield Problem("drifted", f"{key}.server", message, slug)
    for item, risk in taken:
        name = item.identity
        if name in server.suspended:
            message = f"{slug}#{name} is suspended: {server.suspended[name]}"
            yield Problem("suspended", f"{key}.items", message, slug, name)
        if name in server.ending:
            message = f"{slug}#{name} is deprecated{server.ending[name]}"
            yield Problem("deprecated", f"{key}.items", message, slug, name)
        if risk.doubt:
            message = f"{slug}#{name} says that it only reads, but {risk.doubt}"
            yield Problem("seems-to-write", f"{key}.items", message, slug, name)


def _of_whole(kit: Kit, lock: Lock) -> Iterable[Problem]:
    if kit.budget is not None and lock.tokens > kit.budget:
        message = (
            f"it takes about {lock.tokens:,} tokens of a model's context, and the budget is {kit.budget:,}"
        )
        yield Problem("over-budget", "budget", message)
    if len(lock.items) > MOST_HELD:
        yield Problem(
            "too-many", "picks", f"it comes to {len(lock.items):,} items; {MOST_HELD:,} are the most"
        )
    elif len(lock.items) > MOST_MIXED:
        message = f"which of its items a model may mix up was not looked at: they are more than {MOST_MIXED}"
        yield Problem("not-checked", "picks", message)
    by_name: dict[str, list[Locked]] = {}
    for locked in lock.items:
        by_name.setdefault(locked.item, []).append(locked)
    for name, those in by_name.items():
        if len(those) > 1 and name.startswith(("tool:", "prompt:")):
            servers = " and ".join(locked.server for locked in those)
            yield Problem("name-collision", "picks", f"{servers} each have {name}", those[0].server, name)
