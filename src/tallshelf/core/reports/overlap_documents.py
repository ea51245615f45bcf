"""Overlaps and mix-ups as JSON documents."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from tallshelf.core.overlap import MixUp, Overlap, Side, Signal


def overlap_document(overlap: Overlap) -> dict[str, Any]:
    """Return one overlap as a JSON object."""
    return {
        "a": _side(overlap.a),
        "b": _side(overlap.b),
        "class": overlap.cls,
        "score": overlap.score,
        "signals": {signal.name: signal.value for signal in overlap.signals},
        "reasons": list(overlap.reasons),
        "differences": list(overlap.differences),
        "stands_in": overlap.stands_in,
        "ruled": overlap.ruled,
        "preferred": overlap.preferred,
        "newcomer": overlap.newcomer,
    }


def _side(side: Side) -> dict[str, Any]:
    where = "file" if side.source.endswith(".json") or "/" in side.source else "server"
    found = {where: side.source, "item": side.item, "digest": side.digest, "basis": side.basis}
    return {**found, "since": side.since} if side.since else found


def mix_up_document(mix_up: MixUp) -> dict[str, Any]:
    """Return one pair that may be mixed up as a JSON object."""
    return {
        "a": _side(mix_up.a),
        "b": _side(mix_up.b),
        "risk": mix_up.risk,
        "only_a": list(mix_up.only_a),
        "only_b": list(mix_up.only_b),
    }


def overlaps_document(overlaps: Iterable[Overlap], mix_ups: Iterable[MixUp] = ()) -> dict[str, Any]:
    """Return overlaps, and what may be mixed up, as a ``tallshelf.overlaps/1`` document."""
    return {
        "format": "tallshelf.overlaps/1",
        "overlaps": [overlap_document(overlap) for overlap in overlaps],
        "mix_ups": [mix_up_document(mix_up) for mix_up in mix_ups],
    }


def overlaps_from(document: Mapping[str, Any]) -> tuple[list[Overlap], list[MixUp]]:
    """Return the overlaps and mix-ups that `overlaps_document` wrote."""
    overlaps = [
        Overlap(
            _side_from(overlap["a"]),
            _side_from(overlap["b"]),
            overlap["class"],
            overlap["score"],
            tuple(Signal(name, value) for name, value in overlap["signals"].items()),
            tuple(overlap["reasons"]),
            tuple(overlap["differences"]),
            overlap["stands_in"],
            overlap["ruled"],
            overlap["preferred"],
        )
        for overlap in document["overlaps"]
    ]
    mix_ups = [
        MixUp(
            _side_from(mix_up["a"]),
            _side_from(mix_up["b"]),
            mix_up["risk"],
            tuple(mix_up["only_a"]),
            tuple(mix_up["only_b"]),
        )
        for mix_up in document["mix_ups"]
    ]
    return overlaps, mix_ups


def _side_from(document: Mapping[str, Any]) -> Side:
    source = document.get("server") or document.get("file") or ""
    return Side(source, document["item"], document["digest"], document["basis"], document.get("since", ""))
