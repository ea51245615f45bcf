"""House style: the rules on names and descriptions, their engine, waivers and suggestions."""

from tallshelf.core.style.effect import RuleEffect, StyleEffect
from tallshelf.core.style.engine import former_fingerprint, lint, mark
from tallshelf.core.style.finding import LEVELS, Finding, Level, Waiver
from tallshelf.core.style.fix import fixed
from tallshelf.core.style.hosts import Unusable, profile_named, too_many_tools, unusable
from tallshelf.core.style.house import DEFAULT_STYLE, HostProfile, HousePattern, HouseStyle, WordList
from tallshelf.core.style.loosen import loosened, read_as_the_same
from tallshelf.core.style.rule import Rule, Setting, Subject
from tallshelf.core.style.rules import RULES
from tallshelf.core.style.toml import DEFAULT_TEXT, parse_style

__all__ = [
    "DEFAULT_STYLE",
    "DEFAULT_TEXT",
    "LEVELS",
    "RULES",
    "Finding",
    "HostProfile",
    "HousePattern",
    "HouseStyle",
    "Level",
    "Rule",
    "RuleEffect",
    "Setting",
    "StyleEffect",
    "Subject",
    "Unusable",
    "Waiver",
    "WordList",
    "fixed",
    "former_fingerprint",
    "lint",
    "loosened",
    "mark",
    "parse_style",
    "profile_named",
    "read_as_the_same",
    "too_many_tools",
    "unusable",
]
