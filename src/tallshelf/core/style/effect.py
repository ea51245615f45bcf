"""What another house style would do to a whole catalog, before it is in force."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from msgspec import Struct, field

from tallshelf.core.style.finding import LEVELS, Finding, Level
from tallshelf.core.style.rules import RULES


class RuleEffect(Struct, frozen=True):
    """How many findings of one rule count now, and how many would, by level."""

    rule: str
    family: str
    before: dict[Level, int]
    after: dict[Level, int]


class StyleEffect(Struct):
    """Gathers the effect server by server.

    ``newly_failing`` gives, by server, the rules whose errors would make it fail that does not
    fail now; ``no_longer_failing`` the servers that would pass.
    """

    servers: int = 0
    newly_failing: dict[str, tuple[str, ...]] = field(default_factory=dict)
    no_longer_failing: list[str] = field(default_factory=list)
    _before: Counter[tuple[str, Level]] = field(default_factory=Counter)
    _after: Counter[tuple[str, Level]] = field(default_factory=Counter)

    def add(self, server: str, before: Sequence[Finding], after: Sequence[Finding]) -> None:
        """Take in one server's findings under the style in force, and under the other one."""
        self.servers += 1
        self._before.update(_counted(before))
        self._after.update(_counted(after))
        failed, fails = _errors(before), _errors(after)
        if fails and not failed:
            self.newly_failing[server] = fails
        if failed and not fails:
            self.no_longer_failing.append(server)

    @property
    def rules(self) -> tuple[RuleEffect, ...]:
        """The rules that find or would find something, in the order of the reference."""
        return tuple(
            RuleEffect(rule.id, rule.family, before, after)
            for rule in RULES
            for before, after in [(_levels(rule.id, self._before), _levels(rule.id, self._after))]
            if before or after
        )


def _counted(findings: Sequence[Finding]) -> Counter[tuple[str, Level]]:
    return Counter((finding.rule, finding.level) for finding in findings if finding.counts)


def _errors(findings: Sequence[Finding]) -> tuple[str, ...]:
    return tuple(
        sorted({finding.rule for finding in findings if finding.counts and finding.level == "error"})
    )


def _levels(rule: str, counts: Counter[tuple[str, Level]]) -> dict[Level, int]:
    return {level: counts[rule, level] for level in LEVELS if counts[rule, level]}
