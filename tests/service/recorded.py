"""Acts over HTTP, told step by step: who may not do each, or how everything reads then.

A chapter is kept in ``data/recorded``, so that each change of what is answered is seen. It is played once and told
twice: of every act how each account would be answered, which is undone before it is done; and what is answered
and how pages read. What depends on the day or on chance (times, digests, secrets) is replaced by names, in the order
in which they come up.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from django.db import transaction

from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.people.actor import SCOPES
from tallshelf.service.web import rate_limit
from tests.service.conftest import Api, work

DATA = Path(__file__).with_name("data") / "recorded"
BEGUN = datetime(2026, 6, 1, 9, tzinfo=UTC)
ACCOUNTS = ("pell", "ines", "oskar", "tomas", "mira", "jonas", "runa", "kari", "edda", "ci-berths")
_MOMENT = re.compile(r"\b20\d\d-\d\d-\d\d[T ]\d\d:\d\d(:\d\d(\.\d+)?)?(Z|\+00:00)?")
_DIGEST = re.compile(r"\b(?:sha256:)?[0-9a-f]{12,64}\b|(?<=\()[0-9a-f]{8}(?=\))")
_BY_CHANCE = frozenset({"secret", "code", "checkpoint", "head", "next", "hash", "mac"})
_LONG = 250


class Telling:
    """One of the two ways in which a chapter is told, with its own names for what depends on the day or on chance."""

    def __init__(self) -> None:
        self.lines: list[str] = []
        self.pages: dict[str, str] = {}
        self._names: dict[str, str] = {}
        self._told: dict[str, int] = {}

    def act(self, who: str, method: str, path: str, asked: Any) -> None:
        self.lines.append(f"{who}: {method} {path}{'' if asked is None else f' {self._words(asked)}'}")

    def short(self, status: int, answer: Any) -> str:
        return self.answer(status, answer) if status >= 400 else str(status)

    def answer(self, status: int, answer: Any) -> str:
        if status >= 400:
            told = " / ".join(answer[one] for one in ("detail", "remedy") if answer.get(one))
            return self._plain(f"{status} {answer['type'].rpartition(':')[2]}: {told}")
        return f"{status} {self._words(answer)}"

    def _words(self, value: Any) -> str:
        return json.dumps(
            self._folded(_without(json.loads(self._plain(json.dumps(value))))), ensure_ascii=False
        )

    def _folded(self, value: Any) -> Any:
        """Return a value in which a long part that was told before is the number of the line where it was."""
        if not isinstance(value, dict | list) or len(text := json.dumps(value)) < _LONG:
            return value
        line = self._told.setdefault(text, len(self.lines))
        if line < len(self.lines):
            return f"as in line {line + 1}"
        if isinstance(value, list):
            return [self._folded(one) for one in value]
        return {name: self._folded(one) for name, one in value.items()}

    def _plain(self, text: str) -> str:
        text = _MOMENT.sub(self._moment, text)
        return _DIGEST.sub(lambda found: self._name(found[0]), text)

    def _moment(self, found: re.Match[str]) -> str:
        """Name a moment by its distance from the beginning, in hours."""
        at = datetime.fromisoformat(found[0].replace("Z", "+00:00"))
        return f"t{(at.replace(tzinfo=at.tzinfo or UTC) - BEGUN) / timedelta(hours=1):+.4g}"

    def _name(self, text: str) -> str:
        return self._names.setdefault(text.removeprefix("sha256:"), f"d{len(self._names) + 1}")


class Chapter:
    """A story that is told while it is done; each step an hour after the one before.

    ``who`` tells of every act how each account would be answered, which is undone before it is done; ``what`` tells
    what is answered and how pages read.
    """

    def __init__(self) -> None:
        self.who, self.what = Telling(), Telling()
        self.now = BEGUN
        with clock.at(BEGUN):
            self._apis = {name: _api(name) for name in ACCOUNTS}

    def does(self, who: str, method: str, path: str, body: Any = None, *, others: bool = True) -> Any:
        """Tell how everybody would be answered, let one do it, and return the answer's body.

        A body may be a function that returns it, called once that hour has come.
        """
        self.now += timedelta(hours=1)
        asked = body() if callable(body) else body
        for telling in (self.who, self.what):
            telling.act(who, method, path, asked)
        answers: dict[str, list[str]] = {}
        for name in ACCOUNTS if others else ():
            if name != who:
                answer = self.who.short(*self._tried(name, method, path, asked))
                answers.setdefault(answer, []).append(name)
        self.who.lines += [f"    {answer} <- {' '.join(names)}" for answer, names in answers.items()]
        status, answer = self._call(who, method, path, asked)
        if status >= 400:
            self.who.lines.append(f"  {self.who.answer(status, answer)}")
        self.what.lines.append(f"  {self.what.answer(status, answer)}")
        return answer

    def reads(self, who: str, *paths: str) -> None:
        """Tell how pages read to somebody; one that reads as it did before, or as to another, is not told again."""
        for path in paths:
            status, answer = self._call(who, "GET", path, None)
            told = self.what.answer(status, answer)
            if self.what.pages.get(path) != told:
                self.what.lines.append(f"  {who} reads {path}: {told}")
            self.what.pages[path] = told

    def quietly(self, path: str, who: str = "ines") -> Any:
        """Return what somebody reads, and tell nothing of it."""
        return self._call(who, "GET", path, None)[1]

    def waits(self, **how_long: int) -> None:
        """Let time pass, and workers do what is due."""
        self.now += timedelta(**how_long)
        with clock.at(self.now):
            work()

    def moment(self, **later: int) -> str:
        return (self.now + timedelta(**later)).isoformat()

    def _call(self, who: str, method: str, path: str, body: Any) -> tuple[int, Any]:
        rate_limit.forget_all()
        with clock.at(self.now):
            return self._apis[who].call(method, path, body)

    def _tried(self, who: str, method: str, path: str, body: Any) -> tuple[int, Any]:
        with transaction.atomic():
            answer = self._call(who, method, path, body)
            transaction.set_rollback(True)
        return answer


def _api(username: str) -> Api:
    """Return an API with all the scopes that a role can have, for as long as any chapter lasts."""
    role = history.actor(username).role
    if role == "ci":
        return Api(username, ("read", "check", "submit"), 300)
    return Api(
        username, SCOPES if role == "steward" else tuple(one for one in SCOPES if one != "administer"), 300
    )


def _without(value: Any) -> Any:
    """Return an answer without what is left to chance, or asked already."""
    if isinstance(value, list):
        return [_without(one) for one in value]
    if not isinstance(value, dict):
        return value
    return {
        name: "..." if name in _BY_CHANCE and isinstance(one, str) else _without(one)
        for name, one in value.items()
        if name != "snapshot"
    }


def check(name: str, told: Iterable[str], anew: bool) -> list[str]:
    """Return the lines that are not as they were kept; or keep them anew."""
    file, now = DATA / f"{name}.txt", list(told)
    if anew:
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text("\n".join(now) + "\n", "utf-8")
        return ["kept anew: read the difference before you commit it"]
    kept = file.read_text("utf-8").splitlines() if file.exists() else []
    return [f"{was!r}\n  is now {one!r}" for was, one in zip(kept, now, strict=False) if was != one][:5] or (
        [] if len(kept) == len(now) else [f"{len(kept)} lines are now {len(now)}"]
    )
