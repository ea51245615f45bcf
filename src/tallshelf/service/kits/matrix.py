"""Servers against kits: who holds what, as one picture and one table."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db.models import Count, F

from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.models import Server
from tallshelf.service.kits.models import HeldItem, StoredKit
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import require


def matrix(actor: Actor, *, team: str = "") -> dict[str, Any]:
    """Return the kits (perhaps of one team), the servers that they hold something of, and a cell for each such pair.

    Kits and servers are in the order of their teams. The ``mark`` of a cell is ``suspended``, the state of a release
    that is not published any more, or nothing.
    """
    require(actor, "see")
    kits = StoredKit.objects.filter(dropped_at=None)
    if team:
        kits = kits.filter(team__slug=team)
    rows = HeldItem.objects.filter(kit__in=kits).values(
        "kit__name", slug=F("server__slug"), version=F("release__version"), state=F("release__state")
    )
    cells = list(rows.annotate(count=Count("pk")).order_by("kit__name", "slug"))
    stopped = set(catalog.standing_suspensions().values_list("server__slug", "item"))
    touched = {
        (kit, slug)
        for kit, slug, item in HeldItem.objects.filter(kit__in=kits, server__suspensions__lifted_at=None)
        .exclude(server__suspensions=None)
        .values_list("kit__name", "server__slug", "item")
        if {(slug, ""), (slug, item)} & stopped
    }
    servers = {cell["slug"] for cell in cells}
    return {
        "kits": list(kits.order_by("team__slug", "name").values("name", "title", team_slug=F("team__slug"))),
        "servers": [{"slug": slug, "team_slug": team_slug} for slug, team_slug in _teams_of(servers)],
        "cells": [
            {
                "kit": cell["kit__name"],
                "server": cell["slug"],
                "version": cell["version"],
                "held_items": cell["count"],
                "mark": _mark(cell, touched),
            }
            for cell in cells
        ],
    }


def _teams_of(slugs: set[str]) -> list[tuple[str, str]]:
    servers = Server.objects.filter(slug__in=slugs).order_by("team__slug", "slug")
    return list(servers.values_list("slug", "team__slug"))


def _mark(cell: Mapping[str, Any], touched: set[tuple[str, str]]) -> str:
    if (cell["kit__name"], cell["slug"]) in touched:
        return "suspended"
    return "" if cell["state"] == "published" else str(cell["state"])
