"""The chapters that are kept: everyday acts, in an order in which they come up.

`tests.service.recorded` tells each, with who else might have done it.
"""

from __future__ import annotations

from typing import Any

from tallshelf.core.routing import DEFAULT_RULES, routing_text
from tests.service.conftest import KIT, agree_to, altered, submission
from tests.service.recorded import Chapter

PLANNER = "servers/berth-planner"
CHAPTERS: dict[str, Any] = {}


def chapter(function: Any) -> Any:
    CHAPTERS[function.__name__] = function
    return function


def agreement(tale: Chapter, number: int, **more: Any) -> Any:
    """Return what makes the body of an agreement to a request as it is then."""
    return lambda: agree_to(tale.quietly(f"requests/{number}")) | more


def sign(tale: Chapter, number: int, *people: str, others: bool = False) -> None:
    for who in people:
        tale.does(who, "POST", f"requests/{number}/sign-offs", agreement(tale, number), others=others)


def published(tale: Chapter, version: str = "1.4.2", number: int = 1, **more: Any) -> None:
    """Publish a release of the berth planner; who might have done it is told by another chapter."""
    body = submission(version, **more)
    tale.does("tomas", "POST", f"{PLANNER}/releases", body, others=False)
    for who in ("ines", "runa"):
        if tale.quietly(f"requests/{number}")["state"] == "open":
            tale.does(who, "POST", f"requests/{number}/sign-offs", agreement(tale, number), others=False)
    tale.does("tomas", "POST", f"requests/{number}/publication", others=False)
    tale.waits(minutes=1)


LEDGER = ("ledger?limit=60", "ledger/verification")
REQUESTS = ("requests", "requests?state=open&q=berth", "inbox", "follow-ups", "events", "notices")


@chapter
def accounts(tale: Chapter) -> None:
    new = {"username": "nils", "name": "Nils Aas", "role": "submitter", "teams": ["crew"]}
    tale.does("pell", "POST", "people", new)
    tale.does("pell", "POST", "people", new, others=False)
    tale.does("pell", "POST", "people", new | {"username": "N s"}, others=False)
    tale.does("pell", "POST", "people", new | {"username": "odd", "teams": ["nowhere"]}, others=False)
    tale.does("pell", "POST", "people/nils/invitation")
    tale.does("pell", "PATCH", "people/nils", {"teams": ["berths", "crew"], "name": "Nils Å."})
    tale.does("pell", "PATCH", "people/nils", {"teams": ["berths", "crew"]}, others=False)
    tale.does("pell", "PATCH", "people/runa", {"role": "curator"})
    tale.does("pell", "PATCH", "people/pell", {"role": "curator"}, others=False)
    tale.does("pell", "PATCH", "people/mira", {"active": False})
    tale.does("pell", "PATCH", "people/nobody", {"active": False}, others=False)
    tale.does("mira", "GET", "tokens", others=False)
    tale.does(
        "pell",
        "POST",
        "people/ci-berths/tokens",
        {"name": "builds", "scopes": ["read", "submit"], "days": 30},
    )
    tale.does("pell", "POST", "people/tomas/tokens", {"name": "x", "scopes": ["read"]}, others=False)
    tale.does("ines", "POST", "tokens", {"name": "mine", "scopes": ["read", "sign"], "days": 9})
    tale.does("ines", "POST", "tokens", {"name": "more", "scopes": ["administer"]}, others=False)
    mine = tale.quietly("tokens", "ines")["results"]
    tale.does("ines", "DELETE", f"tokens/{max(one['id'] for one in mine)}")
    tale.does("kari", "POST", "deputies", {"deputy": "edda", "until": tale.moment(days=10)})
    tale.does("kari", "POST", "deputies", {"deputy": "edda", "until": tale.moment(days=10)}, others=False)
    tale.does("kari", "POST", "deputies", {"deputy": "kari", "until": tale.moment(days=10)}, others=False)
    tale.does(
        "kari", "POST", "deputies", {"deputy": "ci-berths", "until": tale.moment(days=10)}, others=False
    )
    tale.does("kari", "POST", "deputies", {"deputy": "runa", "until": tale.moment(days=100)}, others=False)
    later = {"deputy": "runa", "since": tale.moment(days=1), "until": tale.moment(days=5)}
    tale.does("kari", "POST", "deputies", later, others=False)
    for who in ("kari", "ines", "edda"):
        tale.reads(who, "deputies", "tokens", "sessions", "people", "teams", "desks")
    tale.reads("ines", "ledger?limit=9", "ledger/verification")
    tale.does("kari", "DELETE", "deputies/2")
    tale.does("pell", "DELETE", "people/nils/sessions")
    tale.does("pell", "POST", "password", {"old": "x", "new": "skerry-dark-2211"}, others=False)
    tale.reads("pell", "people", "deputies", "session")


@chapter
def publishing(tale: Chapter) -> None:
    tale.does("tomas", "POST", f"{PLANNER}/check", submission("1.4.1"))
    tale.does("tomas", "POST", f"{PLANNER}/releases", submission("1.4.1", note="First."))
    tale.does("tomas", "POST", f"{PLANNER}/releases", submission("1.4.1"), others=False)
    tale.does("tomas", "POST", f"{PLANNER}/releases", submission("one"), others=False)
    for who in ("ines", "tomas", "edda", "ci-berths", "jonas"):
        tale.reads(who, *REQUESTS, "requests/1", f"{PLANNER}/timeline")
    question = {"text": "What does it write?", "kind": "question", "item": "tool:release_berth"}
    tale.does("ines", "POST", "requests/1/comments", question)
    tale.does("tomas", "POST", "requests/1/comments/1/answers", {"text": "It gives a berth back."})
    tale.does("edda", "POST", "requests/1/comments", {"text": "Nice."})
    tale.does("oskar", "POST", "requests/1/taking", {})
    tale.does("oskar", "POST", "requests/1/taking", {"hand_on": True})
    tale.reads("oskar", "requests/1", "inbox")
    back = agreement(tale, 1, answer="send-back", note="Say who may.", despite=[])
    tale.does("ines", "POST", "requests/1/sign-offs", back)
    tale.reads("tomas", "requests/1", "inbox", "requests")
    tale.does(
        "tomas", "POST", f"{PLANNER}/releases", altered(submission("1.4.1"), "Lists berths.") | {"request": 1}
    )
    tale.does("tomas", "POST", "requests/1/assessment")
    condition = {"text": "Say it in the docs.", "owner": "tomas", "due": "2026-06-20"}
    tale.does(
        "ines", "POST", "requests/1/sign-offs", agreement(tale, 1, note="Well.", conditions=[condition])
    )
    tale.does("ines", "POST", "requests/1/sign-offs", agreement(tale, 1), others=False)
    tale.does("runa", "POST", "requests/1/sign-offs", agreement(tale, 1))
    tale.reads("tomas", "requests/1", "inbox")
    tale.does("tomas", "POST", "requests/1/publication")
    tale.does("tomas", "POST", "requests/1/publication", others=False)
    tale.waits(minutes=5)
    for who in ("ines", "tomas", "edda"):
        tale.reads(who, *REQUESTS, "servers", "shelf", PLANNER, f"{PLANNER}/releases/current")
    tale.waits(days=17)
    tale.reads("tomas", "inbox", "notices")
    tale.does("tomas", "POST", "follow-ups/1/closing", {"note": "It is there."})
    tale.reads("ines", "follow-ups", *LEDGER)


@chapter
def declining(tale: Chapter) -> None:
    published(tale, "1.4.1")
    tale.does("ci-berths", "POST", f"{PLANNER}/releases", submission("1.4.2"))
    tale.does("tomas", "POST", "requests/2/take-back")
    tale.does("tomas", "POST", "requests/2/take-back", others=False)
    tale.does("tomas", "POST", f"{PLANNER}/releases", submission("1.4.2") | {"launch": []}, others=False)
    tale.reads("runa", "requests/3", "inbox")
    tale.waits(days=3)
    tale.reads("ines", "inbox", "requests/3", "notices")
    no = agreement(tale, 3, answer="decline", note="Not this way.", despite=[])
    tale.does("runa", "POST", "requests/3/sign-offs", no)
    tale.does("ines", "POST", "requests/3/sign-offs", agreement(tale, 3), others=False)
    tale.does("tomas", "POST", f"{PLANNER}/releases", submission("1.5.0"), others=False)
    objection = {"text": "It hides a cost.", "kind": "objection"}
    tale.does("kari", "POST", "requests/4/comments", objection)
    tale.does("ines", "POST", "requests/4/sign-offs", agreement(tale, 4), others=False)
    sign(tale, 4, "kari")
    tale.does("ines", "POST", "requests/4/comments/1/answers", {"text": "It does not."}, others=False)
    tale.does("tomas", "POST", "requests/4/comments/1/answers", {"text": "It does not."}, others=False)
    tale.reads("kari", "requests/4")
    tale.does("tomas", "POST", "requests/4/publication", others=False)
    tale.waits(minutes=5)
    for who in ("ines", "tomas", "edda"):
        tale.reads(
            who,
            "requests",
            f"{PLANNER}/timeline",
            "notices",
            "servers",
            f"{PLANNER}/life?item=find_free_berth",
        )
    tale.reads("ines", *LEDGER)


@chapter
def what_is_asked(tale: Chapter) -> None:
    published(tale, "1.4.1")
    published(tale, "1.4.2", 2)
    ask = {"server": "berth-planner", "reason": "r"}
    ends = {"version": "1.4.1", "sunset_at": tale.moment(days=40), "replacement": "berth-planner@1.4.2"}
    asked = tale.does("tomas", "POST", "requests", ask | {"kind": "deprecate"} | ends)["number"]
    tale.does("tomas", "POST", "requests", ask | {"kind": "deprecate"} | ends, others=False)
    tale.does("tomas", "POST", "requests", ask | {"kind": "withdraw", "version": "9.9.9"}, others=False)
    tale.reads("ines", f"requests/{asked}", "inbox")
    sign(tale, asked, "ines", "runa", "kari", others=True)
    tale.waits(minutes=5)
    tale.reads("edda", f"{PLANNER}/timeline", "notices", f"requests/{asked}")
    tale.does("tomas", "POST", "requests", ask | {"kind": "data-class", "data_class": "odd"}, others=False)
    asked = tale.does(
        "tomas", "POST", "requests", ask | {"kind": "data-class", "data_class": "confidential"}
    )["number"]
    sign(tale, asked, "ines", "runa")
    asked = tale.does("ines", "POST", "requests", ask | {"kind": "version-scheme", "scheme": "calendar"})[
        "number"
    ]
    sign(tale, asked, "oskar", "runa")
    tale.waits(minutes=5)
    tale.reads("ines", f"requests/{asked}", PLANNER)
    tale.does(
        "tomas",
        "POST",
        "suspensions",
        {"server": "berth-planner", "item": "tool:book_berth", "reason": "It fails."},
    )
    tale.does("ines", "POST", "suspensions", {"server": "berth-planner", "reason": "All of it."})
    for who in ("ines", "tomas", "edda"):
        tale.reads(
            who, "suspensions", "find?q=berth", f"{PLANNER}/releases/current/connection", "inbox", "notices"
        )
    asked = tale.does("tomas", "POST", "requests", ask | {"kind": "lift", "item": "tool:book_berth"})[
        "number"
    ]
    sign(tale, asked, "ines", "runa")
    withdrawal = ask | {"kind": "withdraw", "version": "1.4.2"}
    asked = tale.does("tomas", "POST", "requests", withdrawal, others=False)["number"]
    sign(tale, asked, "ines", "runa", "kari")
    tale.waits(minutes=5)
    for who in ("ines", "edda"):
        tale.reads(who, "requests", f"{PLANNER}/timeline", "suspensions", "servers", "request-kinds")
    tale.waits(days=41)
    tale.reads("edda", f"{PLANNER}/timeline", "notices")
    tale.reads("ines", *LEDGER)


@chapter
def rules(tale: Chapter) -> None:
    shipped = routing_text(DEFAULT_RULES)
    published(tale, "1.4.1")
    tale.does("tomas", "POST", f"{PLANNER}/releases", submission("1.4.2"), others=False)
    slower = shipped.replace("due_hours = 48", "due_hours = 96")
    hinted = shipped.replace(
        'reason = "safety findings"', 'reason = "safety findings"\nhint = "Read it all."'
    )
    tale.does("ines", "POST", "routing", {"text": "rules = 1", "note": "n"}, others=False)
    tale.does("ines", "POST", "routing/rehearsal", {"text": slower})
    tale.does("ines", "POST", "routing", {"text": hinted, "note": "A hint.", "seen": 1})
    tale.does("ines", "POST", "routing", {"text": hinted, "note": "A hint."}, others=False)
    tale.does("ines", "POST", "routing", {"text": hinted, "note": "A hint.", "seen": 0}, others=False)
    tale.does("oskar", "POST", "routing", {"text": slower, "note": "Slower."})
    tale.reads("ines", "routing", "routing/versions", "inbox", "requests/2")
    tale.does("ines", "POST", "routing/versions/3/answer", {"answer": "decline", "note": "No."})
    tale.does("oskar", "POST", "routing", {"text": slower + "\n", "note": "Slower."}, others=False)
    tale.does("ines", "POST", "routing/versions/4/answer", {"answer": "agree"})
    tale.waits(minutes=5)
    for who in ("ines", "edda"):
        tale.reads(who, "routing/versions", "requests/2", "desks")
    style = tale.quietly("style")["text"]
    stricter, looser = (
        style.replace("\n[words]", f'\ncut-off-text = "{level}"\n[words]', 1) for level in ("error", "off")
    )
    tale.does("ines", "POST", "style/effect", {"text": stricter}, others=False)
    tale.does("ines", "POST", "style", {"text": stricter, "note": "Errors."})
    tale.does("ines", "POST", "style", {"text": looser, "note": "Looser."}, others=False)
    tale.does("oskar", "POST", "styles/2/answer", {"answer": "agree"})
    tale.does("oskar", "POST", "styles/3/answer", {"answer": "agree"}, others=False)
    tale.waits(minutes=5)
    tale.reads("ines", "style", "styles", "requests/2", "findings", *LEDGER)


@chapter
def excused(tale: Chapter) -> None:
    cut = altered(submission("1.4.1"), "Finds a free berth and tells you what you need to")
    tale.does("tomas", "POST", f"{PLANNER}/releases", cut, others=False)
    tale.reads("ines", "requests/1")
    found = tale.quietly("requests/1")["assessment"]["findings"]
    first = next((one for one in found if one["level"] != "note"), found[0])
    waiver = {
        "server": "berth-planner", "rule": first["rule"], "item": first["item"], "pointer": first.get("pointer", ""),
        "reason": "It is known.", "until": tale.moment(days=30),
    }  # fmt: skip
    tale.does("tomas", "POST", "waivers", waiver)
    tale.does("tomas", "POST", "waivers", waiver | {"until": tale.moment(days=500)}, others=False)
    tale.does("tomas", "POST", "waivers", waiver | {"rule": "no-such-rule"}, others=False)
    tale.reads("ines", "waivers", "inbox")
    tale.does("ines", "POST", "waivers/1/answer", {"answer": "grant", "note": "For now."})
    tale.does("ines", "POST", "waivers/1/answer", {"answer": "refuse"}, others=False)
    tale.waits(minutes=5)
    tale.reads("edda", "waivers", "requests/1")
    tale.does("tomas", "POST", "waivers/1/answer", {"answer": "end"})
    tale.does("ines", "POST", "waivers", waiver, others=False)
    tale.does("oskar", "POST", "waivers/2/answer", {"answer": "refuse", "note": "No."})
    sign(tale, 1, "ines", "runa")
    tale.does("tomas", "POST", "requests/1/publication", others=False)
    tale.waits(minutes=5)
    tale.does("ines", "POST", f"{PLANNER}/known-findings", {"reason": "They were there."})
    tale.reads(
        "oskar",
        "known-findings",
        "inbox",
        f"{PLANNER}/known-findings",
        f"{PLANNER}/releases/current/findings",
    )
    tale.does("oskar", "POST", "known-findings/1/answer", {"answer": "agree"})
    tale.waits(minutes=5)
    tale.reads(
        "ines",
        f"{PLANNER}/known-findings",
        "findings",
        "findings/places",
        "ledger?limit=60",
        "ledger/verification",
    )
    tale.waits(days=40)
    tale.reads("tomas", "waivers", "notices")


@chapter
def ruled(tale: Chapter) -> None:
    published(tale, "1.4.1")
    twin = {
        "slug": "quay-finder",
        "title": "Quay finder",
        "team": "crew",
        "contact": "crew@pellam.example",
        "tags": ["quay"],
    }
    tale.does("mira", "POST", "servers", twin)
    tale.does("mira", "POST", "servers", twin, others=False)
    tale.does("mira", "PATCH", "servers/quay-finder", {"title": "Quays", "tags": ["quay", "crew"]})
    tale.does("mira", "POST", "servers/quay-finder/releases", submission("1.4.1"), others=False)
    tale.reads("ines", "overlaps", "requests/2", "servers?q=quay&sort=title")
    sign(tale, 2, "ines", "runa")
    tale.does("mira", "POST", "requests/2/publication", others=False)
    tale.waits(minutes=5)
    overlaps = [one for group in tale.quietly("overlaps")["groups"] for one in group["overlaps"]]
    ruling = {"pairs": [one["pair"] for one in overlaps[:2]], "word": "distinct", "reason": "Two quays."}
    tale.does("ines", "POST", "rulings", ruling)
    tale.does("ines", "POST", "rulings", ruling, others=False)
    tale.does("oskar", "POST", "rulings", ruling | {"word": "keep-both"}, others=False)
    tale.does("oskar", "POST", "rulings/1/answer", {"answer": "agree"})
    tale.waits(minutes=5)
    tale.reads("ines", "rulings", "overlaps", "overlap-map", "requests/2", "inbox")
    silent = altered(submission("1.4.2"), "Find a free berth for a vessel. Lengths are in feet.")
    tale.does("tomas", "POST", f"{PLANNER}/releases", silent, others=False)
    changes = tale.quietly("requests/3")["assessment"]["changes"]
    basis = [one["basis"] for one in changes if one.get("basis")]
    same = {"pairs": basis, "word": "same-meaning", "reason": "As before.", "release": "berth-planner@1.4.2"}
    tale.does("ines", "POST", "rulings", same)
    tale.reads("oskar", "rulings", "inbox")
    tale.does("oskar", "POST", "rulings/2/answer", {"answer": "agree"})
    tale.waits(minutes=5)
    tale.reads("tomas", "requests/3", "rulings")
    tale.reads(
        "ines",
        "comparison?old=berth-planner@1.4.1&new=berth-planner@1.4.1",
        "ledger?limit=60",
        "ledger/verification",
    )


@chapter
def kits(tale: Chapter) -> None:
    published(tale, "1.4.1")
    tale.does("tomas", "POST", "kit-check", {"text": KIT})
    tale.does("tomas", "POST", "kits", {"text": KIT})
    tale.does("tomas", "POST", "kits", {"text": KIT.replace("find_free", "find_no")}, others=False)
    raised = KIT.replace('"internal"', '"restricted"')
    tale.does("tomas", "POST", "kits", {"text": raised, "reason": "For pilots."})
    tale.reads("ines", "kits", "kits/berth-helper", "kit-proposals", "inbox", "kit-matrix")
    tale.does("ines", "POST", "kits/berth-helper/answer", {"answer": "decline", "note": "Why?"})
    tale.does("tomas", "POST", "kits", {"text": raised, "reason": "For pilots."}, others=False)
    tale.does("ines", "POST", "kits/berth-helper/answer", {"answer": "agree"})
    tale.does("ines", "PATCH", PLANNER, {"title": "Berths", "tags": ["quay"]})
    crew = KIT.replace("berth-helper", "crew-helper").replace('"berths"', '"crew"')
    tale.does("mira", "POST", "kits", {"text": crew}, others=False)
    tale.does("mira", "POST", "kits", {"text": crew, "reason": "For the crew."})
    tale.reads("tomas", "requests/2", "inbox")
    sign(tale, 2, "tomas", "ines", others=True)
    tale.waits(minutes=5)
    for who in ("mira", "edda"):
        tale.reads(
            who, "kits?q=crew", "kits/crew-helper", f"{PLANNER}/kits", f"{PLANNER}/ending", "requests/2"
        )
    published(tale, "1.4.2", 3)
    tale.does("tomas", "POST", "kits/berth-helper/moves", {})
    tale.reads("mira", "kits/crew-helper", "kits", "notices")
    tale.does("mira", "POST", "kits/crew-helper/drop", {"reason": "Done."})
    tale.reads("ines", "kits", *LEDGER)


@chapter
def told(tale: Chapter) -> None:
    published(tale, "1.4.1")
    notes = f"{PLANNER}/releases/current/notes"
    tale.does("edda", "POST", notes, {"text": "It is slow.", "item": "tool:find_free_berth"})
    tale.does("edda", "POST", notes, {"text": "It is slow.", "item": "tool:none"}, others=False)
    tale.does("tomas", "POST", "user-notes/1/answer", {"text": "Mended."})
    tale.reads("kari", notes, f"{PLANNER}/looks", "following", "mail", "webhooks")
    tale.does("edda", "DELETE", "user-notes/1")
    tale.does("edda", "PUT", "following", {"about": "server:berth-planner", "how": "inbox"})
    tale.does("edda", "PUT", "following", {"about": "server:none", "how": "inbox"}, others=False)
    tale.does("edda", "PATCH", "mail", {"how": "inbox"}, others=False)
    look = {"environment": "production", "standing": "not reached"}
    tale.does("ci-berths", "POST", f"{PLANNER}/looks", look)
    tale.does("ci-berths", "POST", f"{PLANNER}/looks", look | {"standing": "odd"}, others=False)
    hook = {"team": "berths", "address": "http://127.0.0.1:9/hook"}
    tale.does("tomas", "POST", "webhooks", hook)
    tale.does("tomas", "POST", "webhooks", hook | {"address": "http://127.0.0.2/hook"}, others=False)
    tale.does("tomas", "POST", "webhooks/1/secret")
    for who in ("tomas", "jonas", "ines"):
        tale.reads(who, "webhooks", "webhooks/1", "webhooks/1/deliveries", f"{PLANNER}/looks", notes)
    tale.does("tomas", "POST", "webhooks/1/end", {"reason": "Done."})
    tale.does("edda", "POST", "notices/read", {"upto": 9})
    tale.reads("edda", "notices", "following", "mail")
    tale.reads("ines", *LEDGER)
