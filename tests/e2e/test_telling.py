"""Who is told, end to end: by the threads of a running service, to the demo's post office."""

from __future__ import annotations

import json
import time

import httpx
import pytest

pytestmark = [pytest.mark.console, pytest.mark.xdist_group("demo")]

KIT = """\
name = "deck-helper"
title = "Deck helper"
team = "crew"
contacts = ["crew@pellam.example"]
purpose = "Says what sails late."

[[picks]]
server = "passenger-notices"
version = "current"
items = "reading"
"""


def arrived(demo, wanted, seconds: float = 20.0) -> dict:
    """Return the newest thing that arrived and is wanted; wait for it."""
    host, port = demo.url.rsplit(":", 1)
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        rows = httpx.get(f"{host}:{int(port) + 5}/arrived.json").json()
        found = next((one for one in rows if wanted(one)), None)
        if found is not None:
            return found
        time.sleep(0.1)
    raise AssertionError(f"it did not arrive; {[one['title'] for one in rows]}")


def test_one_confirms_an_address_follows_a_server_and_gets_mail(demo, pages):
    page = pages("edda")
    page.goto("/me")
    page.get_by_label("Your mail address").fill("edda@pellam.example")
    page.get_by_role("button", name="Send a code there").click()
    mail = arrived(demo, lambda one: one["to"] == "edda@pellam.example")
    code = next(word for word in mail["text"].split() if len(word) == 16 and word.isalnum())
    page.get_by_label("The code that was sent there").fill(code)
    page.get_by_role("button", name="Confirm").click()
    page.get_by_text("Mail goes to edda@pellam.example.").wait_for()
    page.goto("/servers/lost-property")
    with page.expect_response(lambda one: one.request.method == "PUT" and one.ok):
        page.get_by_label("You are told of it").select_option("by mail, each")
    said = demo.run("note", "leave", "lost-property", "Finds umbrellas, not hats.", by="signe")
    assert said.returncode == 0 and "Finds umbrellas" in said.stdout, said.stderr
    title = "[Tall Shelf] there is a note on lost-property 1.1.0"
    told = arrived(demo, lambda one: (one["title"], one["to"]) == (title, "edda@pellam.example"))
    assert "because you follow it" in told["text"]
    assert "server:lost-property  by mail, each" in demo.run("follow", by="edda").stdout
    assert "edda@pellam.example is confirmed" in demo.run("mail", "how", "digest", by="edda").stdout
    page.goto("/servers/lost-property/1.1.0")
    page.get_by_text("Finds umbrellas, not hats.").wait_for()


def test_a_team_makes_a_webhook_sees_what_was_sent_rotates_and_ends_it(demo, pages):
    host, port = demo.url.rsplit(":", 1)
    address = f"{host}:{int(port) + 5}/hooks?of=upkeep"
    made = demo.run("webhook", "make", "--team", "fleet-upkeep", address, "--format", "json", by="signe")
    number = json.loads(made.stdout)["id"]
    refused = demo.run("webhook", "make", "--team", "fleet-upkeep", "http://elsewhere.example/", by="signe")
    assert refused.returncode == 2 and "may not send to" in refused.stderr
    page = pages("signe")
    page.goto(f"/webhooks?of={number}")
    page.get_by_role("button", name=f"Try of webhook {number}").click()
    log = page.get_by_role("region", name=f"What was sent to webhook {number}")
    log.get_by_text("a trial").wait_for()
    log.get_by_text("HTTP 503").wait_for()
    page.get_by_role("button", name=f"New secret of webhook {number}").click()
    page.get_by_text(f"The secret of webhook {number}. It is shown this once").wait_for()
    page.get_by_role("button", name=f"End of webhook {number}").click()
    page.get_by_role("dialog").get_by_label("Reason").fill("Only a trial.")
    page.get_by_role("dialog").get_by_role("button", name="End it").click()
    page.get_by_text("Only a trial.").first.wait_for()
    assert "undeliverable" in demo.run("webhook", "log", str(number), by="signe").stdout


def test_the_events_of_the_demo_arrived_signed(demo):
    event = arrived(demo, lambda one: one["how"] == "webhook")
    assert event["signed"] and event["event"]["specversion"] == "1.0"


def test_the_use_of_a_server_asks_its_owners_in_the_browser_and_then_the_kit_is_put(demo, pages, tmp_path):
    page = pages("jonas")
    page.goto("/servers/passenger-notices")
    page.get_by_role("button", name="Edit used").click()
    page.get_by_label("Used").select_option("kits of other teams ask its owners")
    page.get_by_role("button", name="Save").click()
    page.get_by_text("kits of other teams ask its owners").wait_for()
    file = tmp_path / "deck.toml"
    file.write_text(KIT, "utf-8")
    put = demo.run("kit", "put", str(file), by="mira")
    assert put.returncode == 2 and "asks its owners" in put.stderr
    put = demo.run("kit", "put", str(file), "--reason", "Crews ask.", "--format", "json", by="mira")
    (waits,) = json.loads(put.stdout)["waits_for"]
    page.goto(f"/requests/{waits['request']}")
    page.get_by_text("for deck-helper of crew").wait_for()
    page.get_by_role("button", name="Agree").click()
    page.get_by_role("dialog").get_by_role("button", name="Agree").click()
    page.get_by_label("Route").get_by_text("agreed").first.wait_for()
    agreed = demo.run("answer", str(waits["request"]), "--agree", by="oskar")
    assert agreed.returncode == 0, agreed.stderr
    until = time.monotonic() + 20
    while "deck-helper" not in demo.run("kit", "list", by="mira").stdout:
        assert time.monotonic() < until
    page.goto("/kits/deck-helper")
    page.get_by_role("heading", name="Deck helper").wait_for()


def test_what_is_found_running_is_reported_and_shown(demo, pages):
    watched = demo.run("watch", "--once", "fare-desk", "--report", by="jonas")
    assert watched.returncode == 1 and "drifted" in watched.stdout, watched.stderr
    other = demo.run("watch", "--once", "fare-desk", "--report", by="tomas")
    assert "not reported: another team's" in other.stdout
    page = pages("runa")
    page.goto("/servers/fare-desk")
    page.get_by_role("region", name="How it was found running").get_by_text("drifted").wait_for()
