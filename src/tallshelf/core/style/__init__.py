"""House style: the rules on names and descriptions, their engine, waivers and suggestions."""

from tallshelf.core.style.engine import lint
from tallshelf.core.style.finding import LEVELS, Finding, Level, Waiver
from tallshelf.core.style.fix import fixed
from tallshelf.core.style.house import DEFAULT_STYLE, HostProfile, HouseStyle, WordList
from tallshelf.core.style.rule import Rule, Setting, Subject
from tallshelf.core.style.rules import RULES
from tallshelf.core.style.toml import parse_style

__all__ = [
    "DEFAULT_STYLE",
    "LEVELS",
    "RULES",
    "Finding",
    "HostProfile",
    "HouseStyle",
    "Level",
    "Rule",
    "Setting",
    "Subject",
    "Waiver",
    "WordList",
    "fixed",
    "lint",
    "parse_style",
]
