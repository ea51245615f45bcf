"""What holds for every page: accessible, narrow, by keyboard, empty, with 5,000 rows, without a service."""

from __future__ import annotations

import json
from pathlib import Path
from urllib.parse import parse_qs, urlsplit

import pytest

pytestmark = [pytest.mark.console, pytest.mark.xdist_group("demo")]

AXE = Path(__file__).parents[2] / "console/node_modules/axe-core/axe.min.js"
WCAG = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
PAGES = {
    "shelf": "/",
    "servers table": "/?view=table",
    "find": "/find?q=berth",
    "server": "/servers/berth-planner",
    "suspended server": "/servers/freight-manifest",
    "release": "/servers/crew-certificates/0.3.0",
    "deprecated release": "/servers/harbour-radio/1.0.0",
    "compare": "/compare?old=berth-planner@1.4.2&new=berth-planner@1.5.0",
    "choose": "/compare",
    "kits": "/kits",
    "kit": "/kits/dock-planner",
    "kit matrix": "/kit-matrix",
    "queue": "/requests",
    "request": "/requests/55",
    "use asked": "/requests/56",
    "follow-ups": "/follow-ups",
    "routing": "/routing",
    "rules": "/rules?level=error#hidden-characters",
    "overlaps": "/overlaps?state=all",
    "overlap map": "/overlap-map",
    "side by side": "/side-by-side?a=dry-dock%23tool%3Afetch_tide_times&b=tide-tables%23tool%3Aget_tide_times",
    "style": "/style",
    "proposed style": "/style?version=3",
    "findings": "/findings?rule=choices-not-enum&team=crew",
    "waivers": "/waivers",
    "ledger": "/ledger?event=server-edited",
    "webhooks": "/webhooks?of=2",
    "own page": "/me",
    "api": "/api-reference",
    "nowhere": "/no/such/page",
}


def open_page(page, path: str) -> None:
    page.goto(path)
    page.locator("h1").first.wait_for()
    page.wait_for_function("() => !window.__fetching && document.fonts.status === 'loaded'")


def violations(page) -> list[str]:
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text("utf-8"))
    found = page.evaluate(
        f"axe.run(document, {{runOnly: {{type: 'tag', values: {json.dumps(WCAG)}}}, resultTypes: ['violations']}})"
    )
    return [
        f"{one['id']}: {node['target']} {node['failureSummary']}"
        for one in found["violations"]
        for node in one["nodes"][:3]
    ]


@pytest.mark.parametrize("name", PAGES)
def test_axe_finds_nothing_light_dark_and_narrow(pages, name):
    page = pages("ines")
    open_page(page, PAGES[name])
    assert violations(page) == []
    page.emulate_media(color_scheme="dark")
    assert violations(page) == []
    page.set_viewport_size({"width": 380, "height": 800})
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 380


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_in_what_opens(pages, scheme):
    page = pages("ines", color_scheme=scheme)
    open_page(page, "/")
    page.locator("[data-spine=tide-tables]").focus()
    page.get_by_role("tooltip").wait_for()
    assert violations(page) == []
    page.get_by_role("button", name="Ines Varga").click()
    page.get_by_role("menuitem").first.wait_for()
    assert violations(page) == []
    page.keyboard.press("Escape")
    page.get_by_label("Find a tool").fill("berth")
    page.get_by_role("listbox").get_by_role("option").nth(2).wait_for()
    assert violations(page) == []
    page.get_by_label("Find a tool").fill("")
    page.get_by_role("button", name="Put a server on the shelf").click()
    page.get_by_role("dialog").wait_for()
    assert violations(page) == []
    open_page(page, "/servers/berth-planner")
    page.get_by_role("button", name="Edit title").click()
    assert violations(page) == []


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_on_the_sign_in_page(browser, demo, scheme):
    context = browser.new_context(base_url=demo.url, color_scheme=scheme)
    page = context.new_page()
    open_page(page, "/")
    assert violations(page) == []
    context.close()


@pytest.mark.parametrize("name", PAGES)
def test_the_keyboard_reaches_everything(pages, name):
    """Tab visits each control once and in order, and each shows that it has the focus."""
    page = pages("ines")
    open_page(page, PAGES[name])
    wanted = page.evaluate(
        """() => [...document.querySelectorAll(
            "a[href], button:not(:disabled), input, select, textarea, summary, [tabindex='0']")]
          .filter((one) => one.tabIndex >= 0 && one.checkVisibility({visibilityProperty: true})
            && !one.closest("details:not([open]) > :not(summary)")).length"""
    )
    seen = []
    for _ in range(wanted + 15):
        page.keyboard.press("Tab")
        about = page.evaluate(
            """() => {
              const one = document.activeElement;
              if (one === document.body) return null;
              window.__seen ??= new Map();
              if (!window.__seen.has(one)) window.__seen.set(one, window.__seen.size);
              const style = getComputedStyle(one);
              return [window.__seen.get(one), style.outlineStyle !== "none" && style.outlineWidth !== "0px"];
            }"""
        )
        if about is None:
            break
        number, outlined = about
        if number == len(seen) - 1:
            continue  # the parts of a date are steps of one control
        if number < len(seen):
            break
        assert outlined, page.evaluate("document.activeElement.outerHTML.slice(0, 200)")
        seen.append(number)
    assert len(seen) >= wanted - 1


def _answer(page, path: str, body: object) -> None:
    page.route(f"**/api/v1/{path}", lambda route: route.fulfill(json=body))


EMPTY = {"results": [], "next": None}
NOTHING_SHELVED = {
    "on_shelf": 0,
    "servers": 0,
    "tools": 0,
    "largest": {"items": 0, "tokens": 0},
    "teams": [],
    "tags": [],
    "bays": [],
    "rows": [],
}


@pytest.mark.parametrize(
    ("path", "asked", "body", "words"),
    [
        ("/", "shelf*", NOTHING_SHELVED, "No server is on the shelf yet."),
        ("/?view=table", "shelf*", NOTHING_SHELVED, "No server is on the shelf yet."),
        ("/requests", "requests?*", EMPTY, "Nothing waits."),
        ("/ledger", "ledger?*", EMPTY, "No matches."),
        ("/find?q=x", "find?*", {**EMPTY, "respelled": {}}, "Nothing does “x”."),
        ("/me", "tokens", EMPTY, "No token."),
    ],
)
def test_with_no_rows(pages, path, asked, body, words):
    page = pages("ines")
    _answer(page, asked, body)
    open_page(page, path)
    page.get_by_text(words).first.wait_for()
    assert violations(page) == []


def _servers(number: int) -> list[dict[str, object]]:
    return [
        {
            "slug": f"server-{one:04}",
            "title": f"Server {one}",
            "contact": "c@pellam.example",
            "source_link": "",
            "data_class": "internal",
            "tags": ["harbour"],
            "suspended": one % 50 == 0,
            "waiting": one % 20 == 0,
            "team_slug": f"team-{one % 25:02}",
            "team_title": f"Team {one % 25}",
            "current_version": "1.0.0",
            "current_items": one % 40,
            "current_tools": one % 40,
            "current_tokens": one,
            "deprecated_version": None,
            "deprecated_items": None,
            "deprecated_tokens": None,
            "transports": ["stdio"],
            "reviewed": True,
        }
        for one in range(number)
    ]


def test_five_thousand_servers(pages):
    """Counts alone come at first, then the servers of the team whose bay is opened, or a page of the table."""
    page, rows, asked = pages("ines"), _servers(5_000), []
    bays = [
        {
            "team": f"team-{one:02}",
            "title": f"Team {one}",
            "place": one,
            "servers": 200,
            "items": 4_000,
            "waiting": 10,
            "suspended": 4,
            "deprecated": 0,
            "edges": [20] * 80,
        }
        for one in range(25)
    ]
    counted = {
        "on_shelf": 5_000,
        "servers": 5_000,
        "tools": 97_500,
        "largest": {"items": 39, "tokens": 4_999},
    }
    _answer(page, "shelf*", {**NOTHING_SHELVED, **counted, "bays": bays})

    def answer(route):
        query = {name: value[0] for name, value in parse_qs(urlsplit(route.request.url).query).items()}
        asked.append(query)
        own = [one for one in rows if query.get("team", one["team_slug"]) == one["team_slug"]]
        if query.get("sort", "").endswith("tokens"):
            own.sort(key=lambda one: one["current_tokens"], reverse=query["sort"].startswith("-"))
        first, limit = int(query.get("cursor", 0)), int(query["limit"])
        following = str(first + limit) if first + limit < len(own) else None
        route.fulfill(json={"results": own[first : first + limit], "next": following})

    page.route("**/api/v1/servers?*", answer)
    open_page(page, "/")
    page.get_by_role("heading", name="5,000 servers, 97,500 tools").wait_for()
    assert asked == []
    page.get_by_role("button", name="Team 7 200 servers").click()
    page.locator("[data-spine]").nth(199).wait_for()
    assert [one["team"] for one in asked] == ["team-07"]
    open_page(page, "/?view=table&sort=-tokens")
    assert page.get_by_role("row").nth(1).get_by_role("link").first.inner_text() == "server-4999"
    assert page.get_by_role("row").count() == 101
    page.get_by_role("button", name="More servers").click()
    page.get_by_role("row").nth(200).wait_for()
    page.get_by_role("button", name="Tokens").click()
    page.get_by_role("link", name="server-0000").wait_for()
    assert [one["sort"] for one in asked[1:]] == ["-tokens", "-tokens", "tokens"]
    assert violations(page) == []


def _requests(number: int, state: str) -> list[dict[str, object]]:
    return [
        {
            "id": one,
            "kind": "publish",
            "state": state,
            "server": f"server-{one}",
            "version": "1.0.0",
            "team": "berths",
            "opened_by": "Tomas Eide",
            "opened_at": "2026-06-01T00:00:00Z",
            "waits_for": ["Curators"],
            "due_at": None,
            "mine": one == number - 1,
            "moved": [],
        }
        for one in range(number)
    ]


def test_what_was_decided_comes_as_much_as_is_asked_for(pages):
    page, asked, rows = pages("ines"), [], _requests(120, "done")

    def answer(route):
        query = parse_qs(urlsplit(route.request.url).query)
        asked.extend([query] if "state" in query else [])
        first = int(query.get("cursor", ["0"])[0])
        following = str(first + 50) if first + 50 < len(rows) else None
        route.fulfill(json={"results": rows[first : first + 50], "next": following})

    open_page(page, "/requests?state=done")
    page.route("**/api/v1/requests?*", answer)
    page.reload()
    page.get_by_role("link", name="Request 49", exact=True).wait_for()
    assert page.get_by_role("row").count() == 51
    page.get_by_role("button", name="Older").click()
    page.get_by_role("link", name="Request 99", exact=True).wait_for()
    assert [one["state"] for one in asked] == [["done"], ["done"]]
    with page.expect_response(lambda one: "q=berth" in one.url):
        page.get_by_label("Release or person").fill("berth")
    page.get_by_label("Team").select_option("Crew")
    page.get_by_role("button", name="Older").wait_for()
    assert (asked[-1]["q"], asked[-1]["team"]) == (["berth"], ["crew"])


def test_five_thousand_requests_entries_and_items(pages):
    page = pages("ines")
    requests = _requests(5_000, "open")
    _answer(page, "requests?*", {"results": requests, "next": None})
    open_page(page, "/requests")
    page.get_by_text("Page 1 of 50, 5,000 rows").wait_for()
    assert page.get_by_role("row").nth(1).inner_text().startswith("4999")
    items = [
        {
            "item": f"tool:t{one}",
            "name": f"t{one}",
            "kind": "tool",
            "description": "A tool.",
            "tokens": 10,
            "digest": f"sha256:{one}",
            "parameters": [],
            "results": [],
            "findings": [],
            "declared": {},
        }
        for one in range(5_000)
    ]
    body = {
        "server": "x",
        "instructions": "",
        "tokens": 1,
        "token_method": "m",
        "items": items,
        "findings": [],
    }
    _answer(page, "servers/berth-planner/releases/1.4.2/items", body)
    open_page(page, "/servers/berth-planner/1.4.2#tool%3At4000")
    page.get_by_text("Page 67 of 84").wait_for()
    page.get_by_role("heading", name="t4000").wait_for()


@pytest.mark.parametrize("name", [one for one in PAGES if one not in ("choose", "nowhere")])
def test_with_the_service_gone(pages, name):
    """What cannot be read is said, with a way on; nothing stays empty or spins for ever."""
    page = pages("ines")
    page.clock.install()
    open_page(page, "/no/such/page")
    page.route("**/api/v1/**", lambda route: route.abort())
    page.evaluate(
        "path => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')); }",
        PAGES[name],
    )
    said = page.get_by_role("alert").get_by_text("The service does not answer.").first
    for _ in range(20):  # it asks again after a second, and after two more: these are not waited for
        page.clock.run_for(1_000)
        if said.is_visible():
            break
    said.wait_for()
    page.get_by_role("button", name="Try again").first.wait_for()
    assert violations(page) == []
    page.expected_error(0)


def test_with_the_service_gone_before_a_page_was_ever_opened(pages):
    page = pages("ines")
    open_page(page, "/no/such/page")
    page.route("**/static/**", lambda route: route.abort())
    page.get_by_role("link", name="Compare").click()
    page.get_by_text("Its code could not be loaded").wait_for()
    page.expected_error(0)
