"""The house style in force: levels, settings of rules, the word list, and the hosts in use."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Any, Literal

from msgspec import Struct, field
from msgspec.structs import asdict

from tallshelf.core.snapshot import digest
from tallshelf.core.style.finding import Level
from tallshelf.core.words.terms import NO_TERMS, HouseTerms


def _words(text: str) -> tuple[str, ...]:
    return tuple(text.split())


class WordList(Struct, frozen=True):
    """The curator's words.

    ``banned`` gives, by a term that is not to be used, the one to use instead. ``verbs`` are those
    that tools may begin with; ``units`` and ``abbreviations`` are known without being explained,
    beside those that are known everywhere; ``spelled`` gives what abbreviations stand for, where
    that is said.
    """

    verbs: tuple[str, ...] = ()
    vague: tuple[str, ...] = _words(
        "run do execute process handle manage perform action data info information item items thing things"
        " it this that something everything stuff misc util utils helper tool query call task operation"
        " request object details"
    )
    placeholders: tuple[str, ...] = (
        "todo",
        "tbd",
        "fixme",
        "lorem ipsum",
        "description here",
        "goes here",
        "xxx",
        "to be written",
        "insert description",
        "placeholder",
        "asdf",
        "n/a",
    )
    banned: Mapping[str, str] = field(default_factory=dict)
    units: tuple[str, ...] = ()
    abbreviations: tuple[str, ...] = ()
    spelled: Mapping[str, str] = field(default_factory=dict)


class HostProfile(Struct, frozen=True):
    """The limits of one host; what it does not limit is None or empty."""

    name: str
    name_length: int | None = 64
    tools: int | None = None
    transports: tuple[str, ...] = ()
    revisions: tuple[str, ...] = ()
    resources: bool = True
    prompts: bool = True
    keywords_not_taken: tuple[str, ...] = ()


class HousePattern(Struct, frozen=True):
    """An expression (RE2) that names or texts must not match, or must; ``say`` tells what to write instead."""

    say: str
    forbid: str = ""
    require: str = ""
    reads: Literal["names", "parameters", "texts"] = "texts"


class HouseStyle(Struct, frozen=True, dict=True):
    """Levels by rule id (``off`` silences a rule), settings by rule id, words and host profiles.

    ``servers`` overrides levels for a server, by its slug. ``version`` is the one under which a
    service keeps the style; it decides nothing. ``agreed`` are the pairs of terms that may be read
    as the same, None for all that the words give: who agreed to a style decides that, not the style.
    """

    name: str = "default"
    levels: Mapping[str, Level | str] = field(default_factory=dict)
    settings: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    words: WordList = field(default_factory=WordList)
    profiles: tuple[HostProfile, ...] = (HostProfile("any host"),)
    patterns: tuple[HousePattern, ...] = ()
    servers: Mapping[str, Mapping[str, Level | str]] = field(default_factory=dict)
    version: int | None = None
    agreed: frozenset[tuple[str, str]] | None = None

    def setting(self, rule: str, name: str, default: Any) -> Any:
        """Return a setting of a rule, or its default."""
        return self.settings.get(rule, {}).get(name, default)

    def level_of(self, rule: str, default: Level, server: str = "") -> Level | str:
        """Return the level of a rule for a server."""
        return self.servers.get(server, {}).get(rule, self.levels.get(rule, default))

    @property
    def title(self) -> str:
        """The name, and the version where there is one."""
        return self.name if self.version is None else f"{self.name}, version {self.version}"

    @cached_property
    def terms(self) -> HouseTerms:
        """The terms that are read as the same when texts are compared and looked for."""
        if not self.words.banned and not self.words.spelled:
            return NO_TERMS
        # Here, since reading words takes long to load and most houses have no terms of their own.
        from tallshelf.core.words.read_as import terms_of

        found = terms_of(self.words.banned, self.words.spelled)
        return found if self.agreed is None else found.only(self.agreed)

    def __hash__(self) -> int:
        return hash(self.digest)

    @cached_property
    def digest(self) -> str:
        """The digest of everything that the style decides."""
        return digest(
            {
                "levels": dict(self.levels),
                "settings": {rule: _plain(found) for rule, found in self.settings.items()},
                "words": {
                    key: value
                    for key, value in _plain(asdict(self.words)).items()
                    if value or key != "spelled"
                },
                "profiles": [_plain(asdict(profile)) for profile in self.profiles],
                "patterns": [_plain(asdict(pattern)) for pattern in self.patterns],
                "servers": {slug: dict(levels) for slug, levels in self.servers.items()},
            }
        )


def _plain(values: Mapping[str, Any]) -> dict[str, Any]:
    return {
        name: list(value)
        if isinstance(value, tuple)
        else dict(value)
        if isinstance(value, Mapping)
        else value
        for name, value in values.items()
    }


DEFAULT_STYLE = HouseStyle()
