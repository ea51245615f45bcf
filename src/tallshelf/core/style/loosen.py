"""What a change of the house style loosens, so that one person alone cannot talk a gate away."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.style.finding import LEVELS
from tallshelf.core.style.house import HostProfile, HouseStyle
from tallshelf.core.style.rules import RULES

_ORDER = (*LEVELS, "off")


def loosened(old: HouseStyle, new: HouseStyle) -> tuple[str, ...]:
    """Return in words what a new style lets pass that the old one did not, or might.

    Levels are compared rule by rule, for every server that either style names. Of settings, words
    and host profiles, what is known to be stricter is left out: more terms that are vague, banned
    or placeholders, and profiles added. Any other edit of them may loosen, and is named. So is each pair of terms that
    is newly read as the same, since a change from one to the other is no longer told as a moved meaning.
    """
    return (
        *_levels(old, new),
        *_settings(old, new),
        *_words(old, new),
        *(read_as_the_same(pair) for pair in new.terms.pairs if pair not in old.terms.pairs),
        *_profiles(old, new),
        *_patterns(old, new),
    )


def read_as_the_same(pair: tuple[str, str]) -> str:
    """Return how a pair of terms is named among what a style loosens."""
    return f"read as the same: {pair[0]} and {pair[1]}"


def _levels(old: HouseStyle, new: HouseStyle) -> Iterator[str]:
    for server in ("", *sorted({*old.servers, *new.servers})):
        for rule in RULES:
            before = old.level_of(rule.id, rule.level, server)
            after = new.level_of(rule.id, rule.level, server)
            everywhere = server and (before, after) == (
                old.level_of(rule.id, rule.level),
                new.level_of(rule.id, rule.level),
            )
            if _ORDER.index(after) > _ORDER.index(before) and not everywhere:
                yield f"{rule.id}{f' for {server}' if server else ''}: {before} becomes {after}"


def _settings(old: HouseStyle, new: HouseStyle) -> Iterator[str]:
    for rule in RULES:
        for setting in rule.settings:
            before, after = (style.setting(rule.id, setting.name, setting.default) for style in (old, new))
            if before != after:
                yield f"{rule.id}: {setting.name} is set otherwise"


def _words(old: HouseStyle, new: HouseStyle) -> Iterator[str]:
    for name in ("verbs", "units", "abbreviations"):
        if added := set(getattr(new.words, name)) - set(getattr(old.words, name)):
            yield f"{name} allowed: {', '.join(sorted(added))}"
    for name in ("vague", "placeholders", "banned"):
        if gone := set(getattr(old.words, name)) - set(getattr(new.words, name)):
            yield f"no longer {_CALLED[name]}: {', '.join(sorted(gone))}"


def _profiles(old: HouseStyle, new: HouseStyle) -> Iterator[str]:
    kept: dict[str, HostProfile] = {host_profile.name: host_profile for host_profile in new.profiles}
    for host_profile in old.profiles:
        if kept.get(host_profile.name) != host_profile:
            yield f"the host {host_profile.name} is {'set otherwise' if host_profile.name in kept else 'taken out'}"


def _patterns(old: HouseStyle, new: HouseStyle) -> Iterator[str]:
    for house_pattern in old.patterns:
        if house_pattern not in new.patterns:
            yield f"a pattern is set otherwise or taken out: {house_pattern.say}"


_CALLED = {"vague": "vague", "placeholders": "a placeholder", "banned": "banned"}
