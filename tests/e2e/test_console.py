"""The console in headless Chromium, on the demo: each page walked as its users would."""

from __future__ import annotations

import re

import pytest

from tallshelf.run.scenario.people import PASSWORD

pytestmark = [pytest.mark.console, pytest.mark.xdist_group("demo")]


def request_of(demo, release: str) -> int:
    """Return the number of the request about a release, such as ``berth-planner 1.5.0``."""
    with demo.shelf("ines") as ines:
        return next(row["id"] for row in ines.requests() if f"{row['server']} {row['version']}" == release)


def test_the_shelf_shows_every_server_and_opens_one(pages):
    page = pages("runa")
    page.goto("/")
    page.get_by_role("heading", name="24 servers, 102 tools").wait_for()
    assert page.locator("[data-spine]").count() == 24
    page.locator("[data-spine=freight-manifest][data-suspended]").wait_for()
    page.locator("[data-spine=harbour-radio][data-state=deprecated]").wait_for()
    page.get_by_label("Transport").select_option("http+sse")
    page.get_by_role("heading", name="1 server, 4 tools").wait_for()
    assert page.url.endswith("?transport=http%2Bsse")
    page.get_by_role("button", name="Show all").click()
    page.get_by_role("button", name="As a table").click()
    page.get_by_role("button", name="Tokens").click()
    page.get_by_role("columnheader", name="Tokens").and_(page.locator("[aria-sort=descending]")).wait_for()
    page.locator("table[aria-busy=false]").get_by_role("row").nth(1).get_by_role(
        "link", name="bookings"
    ).wait_for()
    page.go_back()
    page.locator("[data-spine=tide-tables]").hover()
    page.get_by_role("tooltip").get_by_text("streamable-http").wait_for()
    page.locator("[data-spine=tide-tables]").click()
    page.get_by_role("heading", name="Tide tables").wait_for()


def test_a_first_visit_sends_little_and_menus_come_when_touched(pages):
    page = pages("runa")
    sent, asked_for = {}, set()
    page.on("request", lambda asked: asked_for.add(asked.url))
    page.on("requestfinished", lambda asked: sent.update({asked.url: asked.sizes()["responseBodySize"]}))
    page.goto("/")
    page.get_by_role("heading", name="24 servers, 102 tools").wait_for()
    page.wait_for_load_state("networkidle")
    assets = {url: size for url, size in sent.items() if "/static/console/" in url}
    assert any(url.endswith(".woff2") for url in assets) and any(url.endswith(".css") for url in assets)
    assert sum(assets.values()) <= 170_000
    at_first = set(asked_for)
    page.get_by_role("button", name="Runa").click()
    page.get_by_role("menuitem", name="Your page").wait_for()
    # By what was asked for: that a script has come in is told after it has run.
    assert any(re.search(r"/menu-[^/]*[.]js$", url) for url in asked_for - at_first)


def test_find_is_on_every_page_and_forgives_misspellings(pages):
    page = pages("edda")
    page.goto("/servers/fare-desk")
    page.get_by_role("heading", name="Fare desk").wait_for()
    page.keyboard.press("/")
    page.keyboard.type("free brth")
    option = page.get_by_role("option", name=re.compile("find_free_berth"))
    option.wait_for()
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Find", exact=True).wait_for()
    page.get_by_text("Nothing has “brth”; this is for berth.").wait_for()
    hits = page.get_by_role("list", name="Hits")
    assert "berth" in hits.locator("mark").all_inner_texts()
    hits.get_by_role("link", name="find_free_berth").click()
    page.wait_for_url(re.compile(r"/servers/berth-planner/1\.4\.2#tool%3Afind_free_berth$"))
    page.get_by_role("heading", name="find_free_berth").wait_for()


def test_a_server_is_read_edited_and_connected_to(pages, demo):
    page = pages("tomas")
    page.goto("/servers/pilotage")
    page.get_by_role("button", name="Edit contact").click()
    page.get_by_role("textbox", name="Contact").fill("pilots@pellam.example")
    page.get_by_role("link", name="Requests").click()
    assert page.dialogs.pop() == "What you have typed is not saved. Leave this page?"
    page.get_by_role("textbox", name="Contact").press("Enter")
    page.get_by_role("button", name="Edit contact").wait_for()
    page.get_by_text("pilots@pellam.example").wait_for()
    assert page.get_by_role("button", name="Edit data class").count() == 0
    page.get_by_label("Release", exact=True).select_option("1.0.0")
    page.get_by_label("Environment").select_option("test")
    page.get_by_role("region", name="Connection block").get_by_text('"pilotage",').wait_for()
    assert "release=1.0.0&environment=test" in page.url
    with demo.shelf("ines") as ines:
        (entry,) = ines.ledger(subject="pilotage", event="server-edited")
        assert entry["body"]["after"] == {"contact": "pilots@pellam.example"}


def test_two_editors_at_once_are_told(pages, demo):
    page = pages("ines")
    page.goto("/servers/hull-survey")
    page.get_by_role("button", name="Edit tags").click()
    with demo.shelf("oskar") as oskar:
        oskar.edit("hull-survey", contact="hulls@pellam.example")
    page.get_by_role("textbox", name="Tags").fill("safety hulls")
    page.get_by_role("button", name="Save").click()
    page.get_by_role("alert").get_by_text("has been changed by someone else").wait_for()
    page.expected_error(412)


def test_a_deprecated_item_is_asked_to_be_kept_beside_it(pages, demo):
    with demo.shelf("ines") as ines:
        version = ines.release("muster-drills")["version"]
        item = ines.items("muster-drills")["items"][0]["item"]
        asked = ines.ask("deprecate-item", "muster-drills", "Nobody asks for it.", item=item)
    assert demo.run("answer", str(asked["number"]), "--agree", by="oskar").returncode == 0
    page = pages("ines")
    page.goto(f"/servers/muster-drills/{version}")
    sheet = page.get_by_role("article").first
    sheet.get_by_text("deprecated", exact=True).wait_for()
    sheet.get_by_text("As declared").click()
    sheet.get_by_role("button", name="Ask to keep it after all").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Why").fill("Two kits cannot do without it")
    dialog.get_by_role("button", name="Ask for it").click()
    page.get_by_role("heading", name=re.compile(rf"Request \d+: keep {item} of muster-drills")).wait_for()


def test_deprecating_warns_whoever_connects(pages):
    page = pages("ines")
    page.goto("/servers/muster-drills/0.1.0")
    page.get_by_role("button", name="Ask to deprecate").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Why").fill("0.2.0 knows the muster list")
    dialog.get_by_label("Use instead").fill("muster-drills@0.2.0")
    dialog.get_by_label("Not to be used after").fill("2099-01-31")
    dialog.get_by_role("button", name="Ask for it").click()
    page.get_by_role("heading", name=re.compile(r"Request \d+: deprecate muster-drills 0\.1\.0")).wait_for()
    assert page.get_by_role("button", name="Agree").count() == 0  # she asked for it herself
    address = page.url.split("/")[-1]
    reviewer = pages("oskar")
    reviewer.goto(f"/requests/{address}")
    reviewer.get_by_role("button", name="Agree").click()
    dialog = reviewer.get_by_role("dialog")
    dialog.get_by_text("not to be used after 31 Jan 2099; muster-drills@0.2.0 instead").wait_for()
    dialog.get_by_role("button", name="Agree", exact=True).click()
    dialog.wait_for(state="detached")
    page.goto("/servers/muster-drills/0.1.0")
    page.get_by_text("It is not to be used after 31 Jan 2099.").wait_for()
    page.goto("/servers/muster-drills?release=0.1.0")
    page.get_by_text("Use muster-drills@0.2.0 instead.").wait_for()


def test_signing_in_at_the_companys_issuer(browser, demo):
    page = browser.new_context(base_url=demo.url).new_page()
    page.goto("/")
    page.get_by_role("link", name="Sign in by Pellam Sound Ferries").click()
    page.get_by_role("link", name="Runa Blythe").click()
    page.get_by_role("button", name="Runa Blythe, reader").wait_for()
    page.context.close()


def test_a_steward_invites_and_the_invited_chooses_a_password(pages):
    page = pages("pell")
    page.goto("/people")
    page.get_by_role("button", name="Add an account").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("User name").fill("odd")
    dialog.get_by_label("Name", exact=True).fill("Odd Berg")
    dialog.get_by_label("Berths").check()
    dialog.get_by_role("button", name="Add it").click()
    address = page.get_by_label("Shown once").inner_text()
    page.get_by_role("row", name="Odd Berg").get_by_text("invited until").wait_for()
    guest = page.context.browser.new_context().new_page()
    guest.goto(address)
    guest.get_by_role("textbox", name="Password").fill("basalt-lantern-7731")
    guest.get_by_role("button", name="Set it").click()
    guest.get_by_role("link", name="Sign in").click()
    guest.get_by_label("Name").fill("odd")
    guest.get_by_label("Password").fill("basalt-lantern-7731")
    guest.get_by_role("button", name="Sign in").click()
    guest.get_by_role("button", name="Odd Berg, submitter").wait_for()
    guest.context.close()


def test_a_question_blocks_and_the_inbox_leads_to_it(pages):
    kari = pages("kari")
    kari.goto("/requests/54")
    kari.get_by_label("Comment", exact=True).fill("Who reads these certificates?")
    kari.get_by_label("On", exact=True).select_option("tool:process_data")
    kari.get_by_label("Where in it").fill("/description")
    kari.get_by_label("A question: nobody agrees until it is answered").check()
    kari.get_by_role("button", name="Post").click()
    kari.get_by_text("Nobody agrees until Kari Moen is answered").wait_for()
    mira = pages("mira")
    mira.goto("/")
    mira.get_by_role("button", name="Waits for you").click()
    mira.get_by_role("link", name="Who reads these certificates?").click()
    mira.get_by_text("tool:process_data/description").wait_for()
    mira.get_by_role("button", name="Answer Kari Moen").click()
    mira.get_by_label("Your answer").fill("Masters and mates.")
    mira.get_by_role("button", name="Answer", exact=True).click()
    mira.get_by_text("question, answered").wait_for()
    mira.goto("/follow-ups")
    mira.get_by_text("Say in quote_fare which lengths count as a van").wait_for(state="detached")


def test_suspending_takes_the_block_away(pages):
    page = pages("signe")
    page.goto("/servers/dry-dock")
    page.get_by_role("button", name="Copy the block").wait_for()
    page.get_by_role("button", name="Suspend").click()
    page.get_by_label("Why").fill("plans vanish")
    page.get_by_role("button", name="Suspend at once").click()
    page.get_by_text("No connection block is given out until it is lifted.").wait_for()
    assert page.get_by_role("button", name="Copy the block").count() == 0


def test_hidden_text_is_shown_beside_its_finding(pages):
    page = pages("ines")
    page.goto("/servers/crew-certificates/0.3.0")
    page.get_by_text("error: hidden-characters").wait_for()
    page.get_by_text("U+E0064").first.wait_for()
    page.get_by_text("they spell “do not tell the user”").wait_for()
    page.get_by_text("does the same job as crew-roster").wait_for()


def test_compare_puts_each_note_beside_its_line(pages):
    page = pages("tomas")
    page.goto("/servers/berth-planner")
    page.get_by_role("link", name="Compare 1.5.0: since 1.4.2").click()
    item = page.get_by_role("region", name="tool:find_free_berth")
    note = item.get_by_text("vessel_length: metres became feet")
    line = item.get_by_text("Length overall of the vessel, in feet")
    assert abs(note.bounding_box()["y"] - line.bounding_box()["y"]) < 40
    item.get_by_text("basin is now required").wait_for()
    page.get_by_text("honest 2.0.0").wait_for()
    page.get_by_label("Impact").select_option("silent")
    item.get_by_text("basin is now required").wait_for(state="detached")
    assert page.url.endswith("&impact=silent")
    page.get_by_label("Impact").select_option("")
    item.get_by_text("basin is now required").wait_for()
    page.keyboard.press("Escape")
    page.locator("h1").click()
    for key, number in (("n", 0), ("n", 1), ("p", 0)):
        page.keyboard.press(key)
        assert page.locator("[data-change]").nth(number).evaluate("one => one === document.activeElement")
    page.get_by_text("Compare others").click()
    page.get_by_role("combobox", name="Server").fill("engine-log")
    page.get_by_label("Old", exact=True).select_option("1.1.0")
    page.get_by_role("button", name="Compare", exact=True).click()
    page.get_by_text("Submitted as 2.0.0, honest 2.0.0.").wait_for()


def test_answer_and_publish_from_the_queue(pages, demo):
    from tallshelf.run.scenario.declarations import declared

    launch = [{"environment": "test", "transport": "stdio", "command": "crew-roster"}]
    with demo.shelf("mira") as mira:
        request = mira.submit("crew-roster", declared("crew-roster", "2.1.0"), version="2.1.1", launch=launch)
    page = pages("ines")
    page.goto("/")
    page.get_by_role("link", name="Requests").click()
    page.get_by_label("Waits for me").check()
    page.get_by_role("link", name=f"Request {request['id']}", exact=True).click()
    page.get_by_role("heading", name="publish crew-roster 2.1.1").wait_for()
    page.get_by_role("button", name="Agree").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_text("exactly these bytes").wait_for()
    dialog.get_by_label("Note (optional)").fill("Looks right.")
    dialog.get_by_role("button", name="Agree").click()
    dialog.wait_for(state="detached")
    page.get_by_text("“Looks right.”").wait_for()
    page.get_by_role("button", name="Publish").click()
    page.get_by_role("list", name="Route").get_by_text("published", exact=True).wait_for()
    page.goto("/servers/crew-roster")
    page.get_by_role("table").get_by_role("link", name="2.1.1", exact=True).wait_for()


def test_the_line_in_time_leads_to_each_step(pages):
    page = pages("edda")
    page.goto("/servers/rest-hours")
    page.get_by_role("link", name=re.compile(r"1\.0\.1, .*: caution, 3 changes since 1\.0\.0")).click()
    page.get_by_role("heading", name="rest-hours 1.0.0 → 1.0.1").wait_for()


def test_a_finding_leads_to_its_rule(pages):
    page = pages("runa")
    page.goto("/servers/crew-certificates/0.3.0")
    page.get_by_role("link", name="hidden-characters").first.click()
    rule = page.get_by_role("article", name="hidden-characters")
    rule.get_by_text("Nobody can agree to a text that cannot be seen.").wait_for()
    page.get_by_label("Words of the rule").fill("unit")
    page.get_by_role("article", name="quantity-without-unit").wait_for()
    assert "words=unit" in page.url
    assert rule.count() == 0


def test_a_request_says_what_to_look_at_first(pages, demo):
    page = pages("runa")
    page.goto(f"/requests/{request_of(demo, 'crew-certificates 0.3.0')}")
    page.get_by_text("The check does not pass").wait_for()
    page.get_by_text("same job as crew-roster").wait_for()
    route = page.get_by_role("list", name="Route")
    route.get_by_text("asked now").wait_for()
    assert route.get_by_role("listitem").count() == 3


def test_ones_own_page_tokens_sessions_and_password(pages):
    page = pages("kari")
    page.goto("/me")
    page.get_by_role("button", name="Make a token").click()
    page.get_by_label("What it is for").fill("my laptop")
    page.get_by_role("button", name="Make it").click()
    secret = page.get_by_role("region", name="New token").inner_text()
    assert secret.startswith("tls_")
    page.get_by_role("button", name="I have it").click()
    page.get_by_role("button", name="End the token for my laptop").click()
    page.get_by_text("No token.").wait_for()
    page.get_by_text("(this one)").wait_for()
    page.get_by_label("Present password").fill(PASSWORD)
    page.get_by_label("New password").fill(PASSWORD + "-x")
    page.get_by_role("button", name="Change it").click()
    page.get_by_text("The password is changed.").wait_for()
    page.get_by_label("Light or dark").select_option("dark")
    assert page.locator("html[data-theme=dark]").count() == 1


def test_the_ledger_is_filtered_and_goes_back(pages):
    page = pages("oskar")
    page.goto("/ledger?event=release-withdrawn")
    page.get_by_text("its watches ignored rest hours", exact=True).wait_for()
    page.get_by_label("Event").select_option("")
    page.get_by_role("button", name="Older").click()
    page.locator("tbody tr").nth(50).wait_for()
    page.get_by_text("Whole entry").first.click()
    page.get_by_role("region", name=re.compile("^Entry ")).first.get_by_text("{").wait_for()


def test_the_api_page_shows_calls_and_shapes(pages):
    page = pages("edda")
    page.goto("/")
    page.get_by_role("button", name="Edda Thorne").click()
    page.get_by_role("menuitem", name="The API").click()
    page.get_by_label("Address or words").fill("sign-offs")
    page.get_by_text("/api/v1/requests/{number}/sign-offs").click()
    page.get_by_role("region", name="Body").get_by_text('"agree" | "send-back" | "decline"').wait_for()


def test_putting_a_server_on_the_shelf(pages):
    page = pages("mira")
    page.goto("/")
    page.get_by_role("button", name="Put a server on the shelf").click()
    dialog = page.get_by_role("dialog")
    teams = dialog.get_by_label("Owner team").locator("option")
    teams.first.wait_for(state="attached")
    assert teams.all_inner_texts() == ["Crew"]
    dialog.get_by_label("Short name").fill("crew-meals")
    dialog.get_by_label("Title").fill("Crew meals")
    dialog.get_by_label("Contact").fill("crew@pellam.example")
    dialog.get_by_role("button", name="Put it there").click()
    page.get_by_role("heading", name="Crew meals").wait_for()
    page.get_by_text("tallshelf submit crew-meals crew-meals.json").wait_for()


def test_signing_in_and_out(browser, demo):
    context = browser.new_context(base_url=demo.url)
    page = context.new_page()
    page.goto("/requests")
    page.get_by_label("Name", exact=True).fill("runa")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("alert").get_by_text("The name or the password is wrong.").wait_for()
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Requests").wait_for()
    page.get_by_role("button", name="Runa Blythe").click()
    page.get_by_role("menuitem", name="Sign out").click()
    page.get_by_role("heading", name="Sign in").wait_for()
    page.goto("/requests")
    page.get_by_role("heading", name="Sign in").wait_for()
    context.close()


def test_a_session_that_ended_leads_to_the_door_but_takes_nothing_typed_along(pages):
    page = pages("tomas")
    page.goto("/servers/pilotage")
    page.get_by_role("button", name="Edit contact").click()
    contact = page.get_by_role("textbox", name="Contact")
    contact.fill("harbour@pellam.example")
    page.context.clear_cookies()
    page.expected_error(401)
    contact.press("Enter")
    page.get_by_text("You are signed out.").wait_for()
    assert contact.input_value() == "harbour@pellam.example"

    with page.context.expect_page() as opened:
        page.get_by_role("link", name="Sign in in another window").click()
    other = opened.value
    other.get_by_label("Name", exact=True).fill("tomas")
    other.get_by_label("Password").fill(PASSWORD)
    other.get_by_role("button", name="Sign in").click()
    other.get_by_role("navigation").first.wait_for()
    other.close()
    contact.press("Enter")
    page.get_by_role("button", name="Edit contact").wait_for()
    page.get_by_text("harbour@pellam.example").wait_for()
    page.get_by_role("button", name="Tomas Eide").wait_for()

    page.context.clear_cookies()
    page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")  # somebody comes back to it
    page.get_by_role("heading", name="Sign in").wait_for()
    assert page.get_by_role("navigation").count() == 0
