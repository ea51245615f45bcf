"""What of a team's own files is in the catalog: servers by name, address or package; items by name."""

from __future__ import annotations

import difflib
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from django.db.models import F

from tallshelf.core.kits.reading import HostServer
from tallshelf.core.snapshot import item_identity
from tallshelf.service.catalog.models import Release, SearchEntry, StoredItem
from tallshelf.service.catalog.visible import PUBLIC_STATES
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require

_MOST_GONE, _MOST_DIGESTS = 20, 5
"""Of how many names, and by how many of their bytes, it is looked at who had them: each look reads all releases."""
_NEAREST = 3


def known_of(actor: Actor, hosts: Sequence[HostServer], names: Sequence[str]) -> dict[str, Any]:
    """Return, for each server of a host and each name in a text, what the catalog knows of it.

    ``servers`` says by what each was recognised (or that none was), ``items`` where an item of that name is
    offered now, or that a former release had it and which are its nearest now. Names that mean nothing here are left
    out, save where they name a server of the catalog with the item: that server never had it.
    """
    require(actor, "see")
    servers = [_server(server) for server in hosts]
    found = _items(names)
    return {"servers": servers, "items": found}


_BY = ("address", "package", "name", "command")
"""By what a server is recognised, the surest first: many are started by the same short command."""


def _server(host: HostServer) -> dict[str, Any]:
    found: list[tuple[int, bool, str, str]] = []
    for slug, version, launch in _launches():
        because = _same(host, launch)
        if slug == host.name and because not in ("address", "package"):
            because = "name"
        if because:
            found.append((_BY.index(because), slug != host.name, slug, version))
    rank, _, slug, version = min(found, default=(0, False, "", ""))
    return {"name": host.name, "server": slug, "version": version, "because": _BY[rank] if slug else ""}


def _launches() -> Iterable[tuple[str, str, list[dict[str, Any]]]]:
    rows = Release.objects.filter(pk=F("server__current")).order_by("server__slug")
    return rows.values_list("server__slug", "version", "launch")


def _same(host: HostServer, launches: list[dict[str, Any]]) -> str:
    """Return by what a launch record is that of a server of a host: its address, its package, or its command."""
    for launch in launches:
        if host.url and launch.get("url", "").rstrip("/") == host.url.rstrip("/"):
            return "address"
        package = (launch.get("package") or {}).get("name", "")
        if package and any(_names(package, arg) for arg in host.args):
            return "package"
        if host.command and (launch.get("command"), tuple(launch.get("args", ()))) == (
            host.command,
            host.args,
        ):
            return "command"
    return ""


def _names(package: str, argument: str) -> bool:
    """Whether an argument names a package, perhaps with a version behind it."""
    return argument == package or argument.startswith((f"{package}@", f"{package}=="))


def _items(names: Sequence[str]) -> list[dict[str, Any]]:
    identities = {name: item_identity(name.rpartition("#")[2]) for name in names}
    offered: dict[str, list[str]] = {}
    for identity, slug in SearchEntry.objects.exclude(identity="").values_list("identity", "server__slug"):
        offered.setdefault(identity, []).append(slug)
    found = []
    for name, identity in identities.items():
        servers, only = sorted(offered.get(identity, ())), _named_with(name)
        servers = [server for server in servers if not only or server == only]
        if servers:
            found.append({"name": name, "item": identity, "servers": servers, "gone_from": [], "nearest": []})
    there = {one["name"] for one in found}
    left = {name: identity for name, identity in identities.items() if name not in there}
    plain = [identity.partition(":")[2] for identity in left.values()]
    stored = StoredItem.objects.filter(name__in=plain).values_list("kind", "name").distinct()
    once = {f"{kind}:{name}" for kind, name in stored}
    for name, identity in [one for one in left.items() if one[1] in once][:_MOST_GONE]:
        gone = [one for one in _gone(identity) if _named_with(name) in ("", one)]
        if gone:
            near = difflib.get_close_matches(identity, list(offered), _NEAREST, 0.6)
            row = {"name": name, "item": identity, "servers": [], "gone_from": gone, "nearest": near}
            found.append(row)
            there.add(name)
    return [*found, *_never_had({name: identities[name] for name in left if name not in there}, offered)]


def _named_with(name: str) -> str:
    """Return the server that is named with an item: quay of quay@1.0.0#list_berths."""
    return name.partition("#")[0].partition("@")[0] if "#" in name else ""


def _never_had(left: Mapping[str, str], offered: Mapping[str, list[str]]) -> Iterable[dict[str, Any]]:
    """Return the names that a text gives to a server of the catalog which never had them."""
    slugs = {server for servers in offered.values() for server in servers}
    meant = [(name, _named_with(name)) for name in left if _named_with(name) in slugs]
    for name, server in meant[:_MOST_GONE]:
        own = [one for one, servers in offered.items() if server in servers]
        near = difflib.get_close_matches(left[name], own, _NEAREST, 0.6)
        yield {"name": name, "item": left[name], "servers": [], "gone_from": [], "nearest": near}


def _gone(identity: str) -> list[str]:
    """Return the servers of which a former release had an item that the current one has no more."""
    kind, _, name = identity.partition(":")
    servers: set[str] = set()
    for digest in StoredItem.objects.filter(kind=kind, name=name).values_list("digest", flat=True)[
        :_MOST_DIGESTS
    ]:
        rows = Release.objects.filter(state__in=PUBLIC_STATES, snapshot__lists__icontains=digest)
        servers.update(rows.values_list("server__slug", flat=True))
    return sorted(servers)
