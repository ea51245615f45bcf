"""Plays the scenario's acts through the same actions that users call, each at its moment."""

from __future__ import annotations

import copy
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from tallshelf.core.snapshot import parse_launches, snapshot_from
from tallshelf.run.scenario.declarations import declared
from tallshelf.run.scenario.servers import SERVERS, launch_records
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog.actions import Adoption, adopt
from tallshelf.service.jobs.actions import run_due
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person
from tallshelf.service.people.queries import actor_for
from tallshelf.service.review import actions as review

_HOUR = timedelta(hours=1)


def actor(username: str) -> Actor:
    """Return one of the scenario's people as the actor of an act."""
    return actor_for(Person.objects.get(username=username), via="demo")


@dataclass(frozen=True)
class Player:
    """Plays acts at moments that lie some days back.

    ``urls`` holds the addresses of the servers that run over HTTP; ``run`` starts a version of one.
    """

    present: datetime
    urls: dict[str, str]
    run: Callable[[str, str], None]

    def moment(self, days: float, hours: int = 0) -> datetime:
        """Return the working hour that lies so many days back."""
        return self.present - timedelta(days=days) + hours * _HOUR

    def adopt(self, days: float, slug: str, version: str) -> None:
        owned = SERVERS[slug]
        with clock.at(self.moment(days)):
            adopt(
                actor("pell"),
                Adoption(
                    slug=slug,
                    title=owned.title,
                    team=owned.team,
                    contact=f"{owned.team}@pellam.example",
                    version=version,
                    snapshot=snapshot_from(declared(slug, version)),
                    launches=parse_launches(launch_records(slug, version, self.urls)),
                    source_link=f"https://code.pellam.example/{owned.team}/{slug}",
                    data_class=owned.data_class,
                    tags=owned.tags,
                    use=owned.use,
                ),
            )

    def publish(
        self,
        days: float,
        slug: str,
        version: str,
        note: str = "",
        by: str = "ines",
        waived: tuple[str, str, str, float] | None = None,
    ) -> None:
        """Submit, agree at every desk, and publish within one working day.

        ``waived`` is a rule, an item, why it should not count there, and how many days ago that ended.
        """
        request = self.submit(days, slug, version, note)
        if waived is not None:
            self.waive(days, slug, *waived)
        agree(request, (by, "runa", "kari"), lambda step: self.moment(days, 2 * step))
        if slug in self.urls:
            self.run(slug, version)
        with clock.at(self.moment(days, 7)):
            review.publish(actor(SERVERS[slug].who), request.pk)
            run_due()

    def submit(self, days: float, slug: str, version: str, note: str = "") -> Any:
        owned = SERVERS[slug]
        one = actor(owned.who)
        with clock.at(self.moment(days)):
            catalog.enrol_server(
                one,
                slug,
                title=owned.title,
                team=owned.team,
                contact=f"{owned.team}@pellam.example",
                source_link=f"https://code.pellam.example/{owned.team}/{slug}",
                data_class=owned.data_class,
                tags=owned.tags,
                use=owned.use,
            )
            launches = launch_records(slug, version, self.urls)
            submission = review.read_submission(one, declared(slug, version), version, launches, note)
            return review.submit(one, slug, submission)[0]

    def mend(self, days: float, request: Any, tool: str, words: str) -> None:
        """Hand in another snapshot for a request: one tool's description goes on with some words."""
        slug, version = request.release.server.slug, request.release.version
        snapshot = copy.deepcopy(declared(slug, version))
        mended = next(one for one in snapshot["tools"] if one["name"] == tool)
        mended["description"] += f" {words}"
        launches = launch_records(slug, version, self.urls)
        one = actor(SERVERS[slug].who)
        with clock.at(self.moment(days)):
            submission = review.read_submission(one, snapshot, version, launches, request.note)
            review.submit(one, slug, submission, request=request.pk)

    def answer(self, days: float, request: Any, who: str, answer: str, note: str) -> None:
        with clock.at(self.moment(days)):
            sign(who, request, answer, note)

    def retire(
        self,
        days: float,
        reference: str,
        act: str,
        reason: str,
        *,
        until: float | None = None,
        instead: str = "",
    ) -> None:
        """Ask that a release ends, and let the desks agree the same day."""
        slug, _, version = reference.partition("@")
        request = self.ask(
            days,
            "oskar",
            review.RequestDraft(
                act,
                slug,
                reason,
                version,
                sunset_at=None if until is None else self.moment(until),
                replacement=instead,
            ),
        )
        agree(request, ("ines", "runa", "kari"), lambda step: self.moment(days, 2 * step))
        self.work(days)

    def waive(self, days: float, slug: str, rule: str, item: str, why: str, until: float) -> None:
        """Ask for a waiver, let a curator grant it an hour later, and have assessed anew what it is about."""
        with clock.at(self.moment(days)):
            asked, _ = review.ask_waiver(actor(SERVERS[slug].who), slug, rule, item, why, self.moment(until))
        with clock.at(self.moment(days, 1)):
            review.answer_waiver(actor("ines"), asked.pk, "grant")
            run_due()

    def work(self, days: float) -> None:
        """Let the workers do what is due on that day."""
        with clock.at(self.moment(days, 8)):
            run_due()

    def ask(self, days: float, who: str, draft: review.RequestDraft) -> Any:
        with clock.at(self.moment(days)):
            return review.ask(actor(who), draft)[0]


def sign(who: str, request: Any, answer: str, note: str = "", **more: Any) -> Any:
    """Let a person answer a request as it is now; who agrees despite a gate that fails says why."""
    return review.sign_off(
        actor(who),
        request.pk,
        answer,
        release_digest=request.release_digest,
        assessment_digest=request.assessment_id,
        note=note,
        despite=despite(request) if answer == "agree" else {},
        **more,
    )


def despite(request: Any) -> dict[str, str]:
    """Return a reason for each gate that fails in what a request was assessed to be."""
    return {gate["gate"]: _REASONS[gate["gate"]] for gate in request.assessment.document["gates"]}


_REASONS = {
    "error-findings": "Its callers are our own; the next release mends it.",
    "version-too-low": "Nobody calls it yet but its authors.",
    "unruled-overlap": "The teams know of each other; a ruling follows.",
    "undecided": "Looked at by hand.",
    "no-launch-record": "It is looked at only.",
    "safety-findings": "This is not agreed to.",
}


def agree(
    request: Any,
    reviewers: tuple[str, ...] = ("ines", "runa"),
    at: Callable[[int], datetime] | None = None,
) -> Any:
    """Let reviewers agree in turn, until the request is agreed to; each at its moment."""
    for step, reviewer in enumerate(reviewers, 1):
        request.refresh_from_db()
        if request.state == "open":
            with clock.at(at(step) if at else clock.now()):
                sign(reviewer, request, "agree")
    request.refresh_from_db()
    return request
