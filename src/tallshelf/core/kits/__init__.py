"""Kits: what an agent or a team picks of the catalog, what that comes to, and whom a change hits."""

from tallshelf.core.kits.hits import STOPS, WORDS, Hit, HitItem, Holder, ended, hits, restricted, why_not_move
from tallshelf.core.kits.lock import LOCK_FORMAT, Lock, Locked, Move, lock_from, moves_between
from tallshelf.core.kits.model import (
    KIT_FORMAT,
    LOWEST_RAISED,
    MOVES,
    ONLY_READING,
    Kit,
    Pick,
    kit_from,
    kit_text,
    parse_kit,
)
from tallshelf.core.kits.ranges import Range, parse_range
from tallshelf.core.kits.resolve import (
    REFUSED,
    OfferedRelease,
    OfferedServer,
    Offers,
    Problem,
    Resolution,
    resolve,
)
from tallshelf.core.kits.risk import EFFECTS, Effect, Risk, risk_of

__all__ = [
    "EFFECTS",
    "KIT_FORMAT",
    "LOCK_FORMAT",
    "LOWEST_RAISED",
    "MOVES",
    "ONLY_READING",
    "REFUSED",
    "STOPS",
    "WORDS",
    "Effect",
    "Hit",
    "HitItem",
    "Holder",
    "Kit",
    "Lock",
    "Locked",
    "Move",
    "OfferedRelease",
    "OfferedServer",
    "Offers",
    "Pick",
    "Problem",
    "Range",
    "Resolution",
    "Risk",
    "ended",
    "hits",
    "kit_from",
    "kit_text",
    "lock_from",
    "moves_between",
    "parse_kit",
    "parse_range",
    "resolve",
    "restricted",
    "risk_of",
    "why_not_move",
]
