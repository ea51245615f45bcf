"""House style: the rules on names and descriptions, their engine, waivers and suggestions."""

from tallshelf.core.style.engine import lint
from tallshelf.core.style.finding import LEVELS, Finding, Level, Waiver
from tallshelf.core.style.house import DEFAULT_STYLE, HouseStyle
from tallshelf.core.style.rule import Rule, Subject
from tallshelf.core.style.rules import RULES

__all__ = [
    "DEFAULT_STYLE",
    "LEVELS",
    "RULES",
    "Finding",
    "HouseStyle",
    "Level",
    "Rule",
    "Subject",
    "Waiver",
    "lint",
]
