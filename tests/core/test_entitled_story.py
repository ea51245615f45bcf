"""The judge, act by act through a story: of everybody in the company, exactly these may do it, and only as it fits.

Each step names who may, is tried by everybody else, and with what does not fit; then it is done and the story goes on.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import pytest

from tests.core.company import NOW, Company, publication, signing
from tests.core.facts import FACTS

EVERYBODY = ("oskar", "ines", "jon", "mara", "rosa", "tomas", "signe", "ci-berths", "gone", "clock", "setup")
OWNERS = "oskar ines jon mara tomas"
VIA = {"clock": "clock", "setup": "local"}


@dataclass(frozen=True)
class Step:
    """An act, who may do it, as which kind it is refused with a changed body, and by whom it is done, if at all."""

    event: str
    body: dict[str, Any]
    may: str
    unfit: list[tuple[dict[str, Any], str]] = field(default_factory=list)
    by: str = ""


HELD = {"server": "quay", "version": "1.0.0", "item": "tool:x", "release_digest": "r1"}
KIT = {
    "kit": "quay-helper",
    "team": "berths",
    "data_class": "internal",
    "kit_digest": "k1",
    "picks": [{"server": "quay", "version": "^1.0", "items": ["tool:x"]}],
    "lock_digest": "l1",
    "lock": [HELD],
}
RAISED = {**KIT, "data_class": "restricted", "kit_digest": "k2"}
PROPOSED = {name: RAISED[name] for name in ("kit", "team", "data_class", "kit_digest")}
MOVED = {"kit": "quay-helper", "before": "l1", "lock_digest": "l2", "lock": [HELD]}
HOOK = {"webhook": 1, "team": "berths", "address": "https://x.example", "about": "server:quay", "types": []}
NOTE = {"server": "quay", "version": "1.0.0", "user_note": 1}
RUNS = {"server": "quay", "version": "1.0.0", "environment": "production"}
PIER = {"server": "pier", "version": "1.0.0", "item": "tool:y", "release_digest": "p1"}
PICKS_PIER = {"server": "pier", "version": "1.0.0", "items": ["tool:y"]}
WITH_PIER = {
    **KIT,
    "kit_digest": "k3",
    "picks": [*KIT["picks"], PICKS_PIER],
    "lock_digest": "l3",
    "lock": [HELD, PIER],
}
ASKED = {name: WITH_PIER[name] for name in ("kit", "team", "data_class", "kit_digest")}
USE = {"kit": "quay-helper", "team": "berths", "range": "1.0.0", "items": ["tool:y"]}
ALLOWED = {"server": "pier", "request": 3, **USE}
AT_TIDES = signing(3, "team:tides", server="pier")

STORY = {
    "a webhook is made, given another secret, and ended": [
        Step("webhook-made", HOOK, OWNERS, [({"team": "nowhere"}, "conflict")], "tomas"),
        Step("webhook-made", HOOK, ""),
        Step(
            "webhook-rotated",
            {"webhook": 1, "team": "berths", "round": 2},
            OWNERS,
            [({"round": 3}, "conflict"), ({"team": "tides"}, "conflict"), ({"webhook": 9}, "conflict")],
            "mara",
        ),
        Step("webhook-rotated", {"webhook": 1, "team": "berths", "round": 2}, ""),
        Step(
            "webhook-ended",
            {"webhook": 1, "team": "berths", "reason": "r"},
            f"{OWNERS} clock",
            [({"webhook": 9}, "conflict"), ({"team": "tides"}, "conflict")],
            "clock",
        ),
        Step("webhook-rotated", {"webhook": 1, "team": "berths", "round": 3}, ""),
        Step("webhook-ended", {"webhook": 1, "team": "berths", "reason": "r"}, ""),
    ],
    "a note is left, answered and removed": [
        Step("note-left", NOTE, "oskar ines jon mara rosa tomas signe", [({"version": "9.0.0"}, "conflict")], "rosa"),
        Step(
            "note-answered",
            NOTE,
            OWNERS,
            [({"user_note": 9}, "conflict"), ({"server": "pier"}, "conflict")],
            "tomas",
        ),
        Step("note-removed", NOTE, "oskar ines jon mara rosa", [({"user_note": 9}, "conflict")], "rosa"),
        Step("note-removed", NOTE, ""),
        Step("note-answered", NOTE, ""),
    ],
    "how it runs is reported, and what is due is said by the clock": [
        Step(
            "drift-seen",
            RUNS,
            f"{OWNERS} ci-berths",
            [({"version": "9.0.0"}, "conflict"), ({"server": "nowhere"}, "conflict")],
            "ci-berths",
        ),
        Step("drift-over", RUNS, f"{OWNERS} ci-berths", [({"version": "9.0.0"}, "conflict")], "tomas"),
        Step("waiver-due", {"server": "quay", "waiver": 1}, "clock"),
        Step("follow-up-due", {"server": "quay", "request": 1}, "clock"),
        Step("last-day-nears", {"server": "quay", "version": "1.0.0"}, "clock"),
        Step("desk-reminded", {"server": "quay", "request": 1}, "clock"),
        Step("request-risen", {"server": "quay", "request": 1}, "clock"),
    ],
    "a kit is put, moves, sees more and is dropped": [
        Step("kit-moved", MOVED, ""),
        Step("kit-dropped", {"kit": "quay-helper", "reason": "r"}, ""),
        Step(
            "kit-put",
            KIT,
            OWNERS,
            [
                ({"team": "tides"}, "denied"),
                ({"data_class": "confidential"}, "denied"),
                ({"data_class": "public"}, "denied"),
                ({"lock": [{**HELD, "version": "1.1.0"}]}, "moved"),
                ({"lock": [{**HELD, "release_digest": "other"}]}, "moved"),
                ({"lock": [{**HELD, "item": "tool:z"}]}, "conflict"),
                ({"picks": [{**KIT["picks"][0], "version": "^2.0"}]}, "conflict"),
                ({"picks": []}, "conflict"),
            ],
            "tomas",
        ),
        Step("kit-put", {**KIT, "team": "tides"}, "oskar ines jon mara"),
        Step(
            "kit-moved",
            MOVED,
            f"{OWNERS} clock",
            [({"before": "l0"}, "conflict"), ({"kit": "other"}, "conflict"), ({"lock": [PIER]}, "conflict")],
            "clock",
        ),
        Step("kit-moved", MOVED, ""),
        Step("kit-put", RAISED, ""),
        Step("kit-raise-proposed", PROPOSED, OWNERS, [({"team": "tides"}, "denied")], "tomas"),
        Step(
            "kit-put",
            RAISED,
            "oskar ines jon mara",
            [({"kit_digest": "k9"}, "denied"), ({"data_class": "confidential"}, "denied")],
        ),
        Step("kit-raise-declined", {"kit": "quay-helper", "note": "n"}, OWNERS, [({"kit": "x"}, "conflict")], "jon"),
        Step("kit-raise-declined", {"kit": "quay-helper", "note": "n"}, ""),
        Step("kit-put", RAISED, ""),
        Step("kit-raise-proposed", PROPOSED, OWNERS, [], "ines"),
        Step("kit-put", RAISED, "oskar jon mara", [], "jon"),
        Step("kit-put", {**KIT, "kit_digest": "k5"}, OWNERS),
        Step("kit-dropped", {"kit": "quay-helper", "reason": "r"}, OWNERS, [({"kit": "x"}, "conflict")], "tomas"),
        Step("kit-dropped", {"kit": "quay-helper", "reason": "r"}, ""),
        Step("kit-put", RAISED, ""),
    ],
    "a kit picks of another team's server, which asks": [
        Step("kit-put", WITH_PIER, ""),
        Step("use-changed", {"server": "pier", "use": "open", "reason": "r"}, "clock"),
        Step("kit-put-asked", ASKED, OWNERS, [({"team": "tides"}, "denied")], "tomas"),
        Step("kit-put", WITH_PIER, ""),
        Step("use-allowed", {**ALLOWED, "request": 9}, ""),
        Step(
            "request-opened",
            {
                "server": "pier", "version": "", "request": 3, "kind": "use", "item": "", "terms": USE,
                "release_digest": "r3", "assessment_digest": "a3", "opened_at": NOW,
                "assessed": {"pier": {**FACTS.document(), "kind": "use", "team": "tides"}},
            },
            OWNERS,
            [],
            "tomas",
        ),
        Step("use-allowed", ALLOWED, ""),
        Step("signed-off", AT_TIDES, "signe", [({"desk": "curators"}, "denied")], "signe"),
        Step("use-allowed", ALLOWED, ""),
        Step("signed-off", signing(3, server="pier"), "ines jon", [], "ines"),
        Step(
            "use-allowed",
            ALLOWED,
            " ".join(EVERYBODY),
            [
                ({"kit": "other"}, "conflict"), ({"team": "tides"}, "conflict"),
                ({"range": "current"}, "conflict"), ({"items": ["tool:x", "tool:y"]}, "conflict"),
                ({"request": 1}, "conflict"), ({"item": "tool:x"}, "conflict"),
            ],
            "clock",
        ),
        Step("use-allowed", ALLOWED, ""),
        Step(
            "kit-put",
            WITH_PIER,
            f"{OWNERS} clock",
            [
                ({"picks": [*KIT["picks"], {**PICKS_PIER, "version": "^1.0"}]}, "denied"),
                ({"picks": [*KIT["picks"], {**PICKS_PIER, "items": ["tool:x", "tool:y"]}]}, "denied"),
            ],
            "clock",
        ),
        Step("kit-put", {**WITH_PIER, "kit_digest": "k4"}, OWNERS),
    ],
}  # fmt: skip


def _begun() -> Company:
    """A company in which quay 1.0.0 is in use, and pier 1.0.0 of another team, whose use asks."""
    company = Company()
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("release-published", "tomas", **publication())
    company.machine("server-enrolled", server="pier", team="tides", data_class="internal", use="ask")
    adopted = {
        "server": "pier",
        "version": "1.0.0",
        "release_digest": "p1",
        "snapshot_digest": "ps",
        "fingerprints": [],
    }
    company.machine("release-adopted", **adopted)
    return company


def _body(company: Company, step: Step) -> dict[str, Any]:
    body = dict(step.body)
    if "assessed" in body:
        ((server, facts),) = body["assessed"].items()
        body["assessed"] = company.assessed_of(server, "ps", facts=facts)
    return body


@pytest.mark.parametrize("name", STORY)
def test_exactly_these_may_do_what_fits(name):
    company = _begun()
    for at, step in enumerate(STORY[name]):
        body = _body(company, step)
        allowed = {
            who for who in EVERYBODY if company.why(step.event, who, VIA.get(who, "session"), **body) is None
        }
        assert allowed == set(step.may.split()), (at, step.event)
        doer = step.by or min(allowed, default="")
        for change, kind in step.unfit:
            why = company.why(step.event, doer, VIA.get(doer, "session"), **(body | change))
            assert why == kind, (at, step.event, change)
        if step.by:
            company.do(step.event, step.by, VIA.get(step.by, "session"), **body)
