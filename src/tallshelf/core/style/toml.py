"""House style written in TOML: read with errors that name the line and the key."""

from __future__ import annotations

from typing import Any

from msgspec.structs import fields

from tallshelf.core.style.expressions import compiled
from tallshelf.core.style.finding import LEVELS
from tallshelf.core.style.house import HostProfile, HousePattern, HouseStyle, WordList
from tallshelf.core.style.rules import RULES
from tallshelf.core.toml import TomlReader, read_toml

_OFF = "off"
_READS = ("names", "parameters", "texts")
_TABLES = ("name", "levels", "settings", "words", "profiles", "patterns", "servers")
_BY_ID = {rule.id: rule for rule in RULES}

DEFAULT_TEXT = """\
# The house style of this catalog. What is not said here stays as `tallshelf lint --rules` lists it.
name = "default"

[levels]      # RULE = "error", "warning", "note" or "off"

[words]       # verbs, units, abbreviations = { short = "spelled out" }; banned = { term = "instead" }
"""
"""What a service shows before a style of its own was applied."""


def parse_style(text: str, version: int | None = None) -> HouseStyle:
    """Read a house style, which a service may keep under a version.

    The tables are ``[levels]`` (rule = level or off), ``[settings.RULE]``, ``[words]``,
    ``[[profiles]]``, ``[[patterns]]`` and ``[servers.SLUG]`` (levels for one server). What is not said stays as it
    is by default. Raises `BadDocument` with the line and key where something is not known or of
    another type.
    """
    found = read_toml(text, "the style")
    reader = _Reader(text, "Mend the style, or leave the key out.")
    reader.known("", found, _TABLES)
    return HouseStyle(
        name=reader.typed("name", found.get("name", "house"), str),
        levels=reader.levels("levels", found.get("levels", {})),
        settings=reader.settings(found.get("settings", {})),
        words=reader.words(found.get("words", {})),
        profiles=reader.profiles(found.get("profiles")),
        patterns=reader.patterns(found.get("patterns", [])),
        servers={
            slug: reader.levels(f"servers.{slug}", levels)
            for slug, levels in reader.typed("servers", found.get("servers", {}), dict).items()
        },
        version=version,
    )


class _Reader(TomlReader):
    def levels(self, key: str, found: Any) -> dict[str, str]:
        for rule, level in self.typed(key, found, dict).items():
            self._rule(f"{key}.{rule}", rule)
            if level not in (*LEVELS, _OFF):
                self.refuse(f"{key}.{rule}", f"must be one of {', '.join((*LEVELS, _OFF))}, not {level!r}")
        return dict(found)

    def settings(self, found: Any) -> dict[str, dict[str, Any]]:
        settings: dict[str, dict[str, Any]] = {}
        for rule, values in self.typed("settings", found, dict).items():
            self._rule(f"settings.{rule}", rule)
            defaults = {setting.name: setting.default for setting in _BY_ID[rule].settings}
            for name, value in self.typed(f"settings.{rule}", values, dict).items():
                key = f"settings.{rule}.{name}"
                if name not in defaults:
                    self.refuse(key, f"is not known; there are {', '.join(defaults) or 'none'}")
                settings.setdefault(rule, {})[name] = self._like(key, value, defaults[name])
        return settings

    def words(self, found: Any) -> WordList:
        names = tuple(name for name in WordList.__struct_fields__ if name != "spelled")
        self.known("words", self.typed("words", found, dict), names)
        values: dict[str, Any] = {}
        for name, value in found.items():
            if name == "banned":
                for term, instead in self.typed("words.banned", value, dict).items():
                    self.typed(f"words.banned.{term}", instead, str)
                values[name] = dict(value)
            elif name == "abbreviations" and isinstance(value, dict):
                for short, spelled in value.items():
                    self.typed(f"words.abbreviations.{short}", spelled, str)
                values[name] = tuple(value)
                values["spelled"] = {short: spelled for short, spelled in value.items() if spelled}
            else:
                values[name] = self._words(f"words.{name}", value)
        return WordList(**values)

    def profiles(self, found: Any) -> tuple[HostProfile, ...]:
        if found is None:
            return HouseStyle().profiles
        known = {field.name: field.default for field in fields(HostProfile)}
        made = []
        for profile in self.typed("profiles", found, list):
            self.known("profiles", self.typed("profiles", profile, dict), tuple(known))
            if not isinstance(profile.get("name"), str):
                self.refuse("profiles", "needs a name")
            values = {
                name: self._like(f"profiles.{name}", value, 0 if known[name] is None else known[name])
                for name, value in profile.items()
                if name != "name"
            }
            made.append(HostProfile(profile["name"], **values))
        return tuple(made)

    def patterns(self, found: Any) -> tuple[HousePattern, ...]:
        made = []
        for pattern in self.typed("patterns", found, list):
            self.known(
                "patterns", self.typed("patterns", pattern, dict), ("say", "forbid", "require", "reads")
            )
            for name, value in pattern.items():
                self.typed(f"patterns.{name}", value, str)
            if not pattern.get("say"):
                self.refuse("patterns", "needs a text to say")
            if bool(pattern.get("forbid")) == bool(pattern.get("require")):
                self.refuse("patterns", "needs either forbid or require")
            if pattern.get("reads", "texts") not in _READS:
                self.refuse("patterns.reads", f"must be one of {', '.join(_READS)}")
            key = "forbid" if pattern.get("forbid") else "require"
            try:
                compiled(pattern[key])
            except ValueError as fault:
                self.refuse(f"patterns.{key}", f"is no RE2 expression: {fault}")
            made.append(HousePattern(**pattern))
        return tuple(made)

    def _like(self, key: str, value: Any, default: Any) -> Any:
        if isinstance(default, tuple):
            return self._words(key, value)
        return self.typed(key, value, bool if isinstance(default, bool) else int)

    def _words(self, key: str, value: Any) -> tuple[str, ...]:
        for word in self.typed(key, value, list):
            self.typed(key, word, str)
        return tuple(value)

    def _rule(self, key: str, rule: str) -> None:
        if rule not in _BY_ID:
            self.refuse(key, "names no rule; `tallshelf lint --rules` lists them")
