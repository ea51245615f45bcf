"""The console in headless Chromium, on the demo: sign in, read, compare, answer, publish."""

from __future__ import annotations

import pytest

from tallshelf.run.scenario.people import PASSWORD

pytestmark = [pytest.mark.console, pytest.mark.xdist_group("demo")]


@pytest.fixture
def page(browser, demo):
    """A fresh page; any error on its console fails the test."""
    context = browser.new_context(base_url=demo.url, viewport={"width": 1280, "height": 800})
    page = context.new_page()
    errors: list[str] = []
    page.on("console", lambda message: errors.append(message.text) if message.type == "error" else None)
    page.on("pageerror", lambda error: errors.append(str(error)))
    yield page
    context.close()
    assert errors == []


def sign_in(page, username: str) -> None:
    page.goto("/")
    page.get_by_label("Name", exact=True).fill(username)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("navigation").wait_for()


def test_read_a_server_and_a_release(page):
    sign_in(page, "runa")
    page.get_by_role("heading", name="6 servers").wait_for()
    page.get_by_placeholder("Name, team or tag").fill("tide")
    page.get_by_role("link", name="crew-roster").wait_for(state="detached")
    assert "name=tide" in page.url
    page.get_by_role("link", name="tide-tables").click()
    page.get_by_text('"mcpServers"').wait_for()
    page.get_by_role("region", name="Releases").get_by_role("link", name="1.1.0").click()
    page.get_by_role("heading", name="get_clearance").wait_for()
    page.get_by_text("Clearance, in metres", exact=True).wait_for()


def test_hidden_text_is_shown_beside_its_finding(page):
    sign_in(page, "ines")
    page.goto("/servers/crew-certificates/0.3.0")
    page.get_by_text("error: hidden-characters").wait_for()
    page.get_by_text("U+E0064").first.wait_for()
    page.get_by_text("they spell “do not tell the user”").wait_for()


def test_compare_shows_facing_pages_with_notes(page):
    sign_in(page, "tomas")
    page.goto("/servers/berth-planner")
    page.get_by_role("link", name="Compare 1.5.0 with 1.4.2").click()
    item = page.get_by_role("region", name="tool:find_free_berth")
    item.get_by_text("basin is now required").wait_for()
    item.get_by_text("vessel_length: metres became feet").wait_for()
    assert item.get_by_text("Length overall of the vessel, in feet").count() == 1
    page.get_by_text("honest 2.0.0").wait_for()


def test_answer_and_publish_from_the_queue(page, demo):
    from tallshelf.run.scenario.declarations import declared

    launch = [{"environment": "test", "transport": "stdio", "command": "crew-roster"}]
    with demo.shelf("mira") as mira:
        request = mira.submit("crew-roster", declared("crew-roster", "2.1.0"), version="2.1.1", launch=launch)
    sign_in(page, "ines")
    page.get_by_role("link", name="Requests").click()
    page.get_by_role("link", name=f"Request {request['id']}", exact=True).click()
    page.get_by_role("heading", name="publish crew-roster 2.1.1").wait_for()
    page.get_by_role("button", name="Agree").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_text("exactly these bytes").wait_for()
    dialog.get_by_label("A word with it").fill("Looks right.")
    dialog.get_by_role("button", name="Agree").click()
    dialog.wait_for(state="detached")
    page.get_by_text("“Looks right.”").wait_for()
    page.get_by_role("button", name="Publish").click()
    page.get_by_role("list", name="Route").get_by_text("published", exact=True).wait_for()
    page.goto("/servers/crew-roster")
    page.get_by_role("heading", name="Connect a host to 2.1.1").wait_for()


def test_signing_out_ends_the_session(page):
    sign_in(page, "runa")
    page.get_by_role("button", name="Sign out").click()
    page.get_by_role("heading", name="Sign in").wait_for()
    page.goto("/requests")
    page.get_by_role("heading", name="Sign in").wait_for()


def test_every_page_fits_a_narrow_screen(browser, demo):
    context = browser.new_context(
        base_url=demo.url, viewport={"width": 380, "height": 800}, color_scheme="dark"
    )
    page = context.new_page()
    sign_in(page, "ines")
    compare = "/compare?old=berth-planner@1.4.2&new=berth-planner@1.5.0"
    for path in (
        "/",
        "/servers/berth-planner",
        "/servers/crew-certificates/0.3.0",
        compare,
        "/requests",
        "/requests/8",
    ):
        page.goto(path)
        page.wait_for_load_state("networkidle")
        page.locator("h1").wait_for()
        assert page.evaluate("document.documentElement.scrollWidth") <= 380, path
    context.close()
