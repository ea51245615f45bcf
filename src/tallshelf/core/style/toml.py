"""House style written in TOML: read with errors that name the line and the key."""

from __future__ import annotations

import dataclasses
import re
import tomllib
from collections.abc import Mapping
from typing import Any, NoReturn

from tallshelf.core.errors import BadDocument
from tallshelf.core.style.expressions import compiled
from tallshelf.core.style.finding import LEVELS
from tallshelf.core.style.house import HostProfile, HousePattern, HouseStyle, WordList
from tallshelf.core.style.rules import RULES

_OFF = "off"
_READS = ("names", "parameters", "texts")
_TABLES = ("name", "levels", "settings", "words", "profiles", "patterns", "servers")
_BY_ID = {rule.id: rule for rule in RULES}

DEFAULT_TEXT = """\
# The house style of this catalog. What is not said here stays as `tallshelf lint --rules` lists it.
name = "default"

[levels]      # RULE = "error", "warning", "note" or "off"

[words]       # verbs, units and abbreviations that are known here; banned = { term = "instead" }
"""
"""What a service shows before a style of its own was applied."""


def parse_style(text: str, version: int | None = None) -> HouseStyle:
    """Read a house style, which a service may keep under a version.

    The tables are ``[levels]`` (rule = level or off), ``[settings.RULE]``, ``[words]``,
    ``[[profiles]]``, ``[[patterns]]`` and ``[servers.SLUG]`` (levels for one server). What is not said stays as it
    is by default. Raises `BadDocument` with the line and key where something is not known or of
    another type.
    """
    try:
        found = tomllib.loads(text)
    except tomllib.TOMLDecodeError as fault:
        raise BadDocument(f"the style is no TOML: {fault}") from None
    reader = _Reader(text)
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


class _Reader:
    def __init__(self, text: str) -> None:
        self._lines = text.splitlines()

    def known(self, table: str, found: Mapping[str, Any], names: tuple[str, ...]) -> None:
        for name in found:
            if name not in names:
                self._refuse(f"{table}.{name}".lstrip("."), f"is not known; there are {', '.join(names)}")

    def typed(self, key: str, value: Any, kind: type) -> Any:
        if not isinstance(value, kind) or (kind is int and isinstance(value, bool)):
            self._refuse(key, f"must be {_CALLED[kind]}, not {value!r}")
        return value

    def levels(self, key: str, found: Any) -> dict[str, str]:
        for rule, level in self.typed(key, found, dict).items():
            self._rule(f"{key}.{rule}", rule)
            if level not in (*LEVELS, _OFF):
                self._refuse(f"{key}.{rule}", f"must be one of {', '.join((*LEVELS, _OFF))}, not {level!r}")
        return dict(found)

    def settings(self, found: Any) -> dict[str, dict[str, Any]]:
        settings: dict[str, dict[str, Any]] = {}
        for rule, values in self.typed("settings", found, dict).items():
            self._rule(f"settings.{rule}", rule)
            defaults = {one.name: one.default for one in _BY_ID[rule].settings}
            for name, value in self.typed(f"settings.{rule}", values, dict).items():
                key = f"settings.{rule}.{name}"
                if name not in defaults:
                    self._refuse(key, f"is not known; there are {', '.join(defaults) or 'none'}")
                settings.setdefault(rule, {})[name] = self._like(key, value, defaults[name])
        return settings

    def words(self, found: Any) -> WordList:
        names = tuple(field.name for field in dataclasses.fields(WordList))
        self.known("words", self.typed("words", found, dict), names)
        values: dict[str, Any] = {}
        for name, value in found.items():
            if name == "banned":
                for term, instead in self.typed("words.banned", value, dict).items():
                    self.typed(f"words.banned.{term}", instead, str)
                values[name] = dict(value)
            else:
                values[name] = self._words(f"words.{name}", value)
        return WordList(**values)

    def profiles(self, found: Any) -> tuple[HostProfile, ...]:
        if found is None:
            return HouseStyle().profiles
        fields = {field.name: field.default for field in dataclasses.fields(HostProfile)}
        made = []
        for profile in self.typed("profiles", found, list):
            self.known("profiles", self.typed("profiles", profile, dict), tuple(fields))
            if not isinstance(profile.get("name"), str):
                self._refuse("profiles", "needs a name")
            values = {
                name: self._like(f"profiles.{name}", value, 0 if fields[name] is None else fields[name])
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
                self._refuse("patterns", "needs a text to say")
            if bool(pattern.get("forbid")) == bool(pattern.get("require")):
                self._refuse("patterns", "needs either forbid or require")
            if pattern.get("reads", "texts") not in _READS:
                self._refuse("patterns.reads", f"must be one of {', '.join(_READS)}")
            key = "forbid" if pattern.get("forbid") else "require"
            try:
                compiled(pattern[key])
            except ValueError as fault:
                self._refuse(f"patterns.{key}", f"is no RE2 expression: {fault}")
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
            self._refuse(key, "names no rule; `tallshelf lint --rules` lists them")

    def _refuse(self, key: str, why: str) -> NoReturn:
        last = key.rpartition(".")[2]
        pattern = re.compile(rf"^\s*(?:\[+.*\b)?[\"']?{re.escape(last)}[\"']?\s*(?:=|\])")
        line = next((number for number, text in enumerate(self._lines, 1) if pattern.search(text)), 0)
        where = f"line {line}, " if line else ""
        raise BadDocument(f"{where}key {key}: it {why}", remedy="Mend the style, or leave the key out.")


_CALLED = {str: "a text", int: "a whole number", bool: "true or false", dict: "a table", list: "a list"}
