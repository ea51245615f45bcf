"""A feed of events as Atom (RFC 4287)."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from collections.abc import Iterable, Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.telling.events import subject_of, words_of

CONTENT_TYPE = "application/atom+xml"
_NAMESPACE = "http://www.w3.org/2005/Atom"
_ILLEGAL = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


class Feed(Struct, frozen=True):
    """What a feed is of: a title, its own address, the page for people, and the service's address."""

    title: str
    itself: str
    page: str
    source: str


def atom(feed: Feed, entries: Iterable[Mapping[str, Any]], now: str) -> bytes:
    """Return a feed of entries that are told (``number``, ``at``, ``event``, ``hash``, ``body``), newest first.

    ``now`` is told as the feed's moment where it has no entry. Texts are text, whatever they hold; characters that XML
    does not take are replaced.
    """
    rows = list(entries)
    root = ET.Element("feed", xmlns=_NAMESPACE)
    _text(root, "id", feed.itself)
    _text(root, "title", feed.title)
    _text(root, "updated", rows[0]["at"] if rows else now)
    ET.SubElement(root, "link", rel="self", type=CONTENT_TYPE, href=feed.itself)
    ET.SubElement(root, "link", rel="alternate", type="text/html", href=feed.page)
    _text(ET.SubElement(root, "author"), "name", "Tall Shelf")
    for row in rows:
        words = words_of(row["event"], row["body"])
        one = ET.SubElement(root, "entry")
        # The hash names the entry for good, whatever service tells it.
        _text(one, "id", f"urn:tallshelf:entry:{row['hash'].removeprefix('sha256:')}")
        _text(one, "title", words)
        _text(one, "updated", row["at"])
        ET.SubElement(one, "link", rel="alternate", type="text/html", href=feed.source + page_of(row["body"]))
        _text(one, "summary", f"{words[:1].upper()}{words[1:]}.")
    ET.indent(root)
    written: bytes = ET.tostring(root, encoding="utf-8")
    return b'<?xml version="1.0" encoding="utf-8"?>\n' + written


def page_of(body: Mapping[str, Any]) -> str:
    """Return the path of the page about what an entry is about."""
    if body.get("kit"):
        return f"/kits/{body['kit']}"
    if body.get("request") and not body.get("version"):
        return f"/requests/{body['request']}"
    server, _, rest = subject_of(body).partition("@")
    version = rest.partition("#")[0]
    return f"/servers/{server.partition('#')[0]}" + (f"/{version}" if version else "")


def _text(parent: ET.Element, name: str, text: str) -> None:
    ET.SubElement(parent, name).text = _ILLEGAL.sub("�", text)
