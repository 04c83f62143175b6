"""The crew's phones: on plain http, as at a venue, with no secure context; offline and back, corrected, sent away."""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.test_screens import serious
from tests.formats.test_photograph import taken
from tests.server import Server

PLAN = "/plans/saltmere-lantern-regatta"
PHONE = {"width": 390, "height": 844}
NAME = "relay.example"
"""What the browser of the tests finds the server by: no page under it is in a secure context."""


@pytest.fixture
def venue(tmp_path: Path) -> Iterator[Server]:
    """A server that others reach by a name, as they do on a venue's network."""
    found = Server(tmp_path / "data", "demo", "--host", "0.0.0.0", "--name", NAME).start()
    yield found
    found.kill()


def desk_of(browser: Browser, venue: Server) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.goto(f"http://{NAME}:{venue.port}{PLAN}/survey")
    page.get_by_label("Type the code").fill(venue.code())
    page.get_by_role("button", name="Enter", exact=True).click()
    expect(page.get_by_role("navigation", name="Stages")).to_be_visible()
    return page


def asked(
    page: Page, method: str, path: str, body: dict[str, Any] | None = None, on: int | None = None
) -> Any:
    """What the server answers this page, as JSON; of a change `on` a version."""
    return page.evaluate(
        """async ([method, path, body, on]) => {
            const headers = {'Content-Type': 'application/json', ...(on && {'If-Match': `"${on}"`})};
            const answer = await fetch(path, {method, headers, body: body && JSON.stringify(body)});
            return answer.ok ? answer.json() : answer.status;
        }""",
        [method, path, body, on],
    )


def phone_of(browser: Browser, venue: Server, code: str, role: str) -> Page:
    page = browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True).new_page()
    page.goto(f"http://{NAME}:{venue.port}/crew#{code}")
    page.get_by_label("Who you are").fill(role)
    page.get_by_role("button", name="Join").click()
    expect(page.get_by_role("status")).to_have_text("All sent")
    return page


def test_a_fact_is_found_out_at_the_far_end_offline_arrives_once_and_closes_its_proof_at_the_desk(
    browser: Browser, venue: Server
) -> None:
    desk = desk_of(browser, venue)
    edits = [
        {"kind": "set", "noun": "link", "id": "slipway-run", "field": "length_m", "value": None},
        {"kind": "set", "noun": "place", "id": "slipway", "field": "x_m", "value": None},
    ]
    asked(desk, "POST", f"/api{PLAN}/edits", {"edits": edits}, on=1)
    wanted = desk.get_by_role("region", name="To find out")
    expect(wanted.get_by_role("row", name="How far is it")).to_be_visible()
    crew = asked(desk, "GET", f"/api{PLAN}/crew")
    assert crew["at"][0]["url"] == f"http://{NAME}:{venue.port}/crew#{crew['code']}"
    phone = phone_of(browser, venue, crew["code"], "camera, Slipway")
    assert phone.evaluate("isSecureContext") is False
    phone.get_by_label("I am at").select_option("slipway")
    fact = phone.get_by_role("region", name="How far is it")
    expect(fact).to_be_visible()
    assert serious(phone) == []
    phone.context.set_offline(True)
    fact.get_by_role("textbox").fill("42")
    fact.get_by_role("button", name="Write it down").click()
    expect(phone.get_by_role("status")).to_contain_text("1 kept on this phone")
    expect(phone.get_by_role("status")).to_contain_text("leave this page open")
    expect(wanted.get_by_role("row", name="How far is it")).to_be_visible()
    phone.context.set_offline(False)
    expect(phone.get_by_role("status")).to_have_text("All sent")
    expect(wanted.get_by_role("row", name="How far is it")).to_have_count(
        0
    )  # the desk is told, and judges anew
    log = asked(desk, "GET", f"/api{PLAN}/entries")
    found = [e for e in log if e["role"]]
    assert [(e["role"], e["body"]["value"], e["body"]["quantity"]) for e in found] == [
        ("camera, Slipway", 42, "distance_m")
    ]
    # Written down wrongly: what it is corrected to stands, and both are in the log.
    phone.get_by_role("button", name="Correct").click()
    phone.get_by_role("region", name="How far is it").get_by_role("textbox").fill("45")
    phone.get_by_role("button", name="Write it down").first.click()
    expect(phone.get_by_role("region", name="Answered on this phone")).to_contain_text("45")
    expect(phone.get_by_role("status")).to_have_text("All sent")
    kept = asked(desk, "GET", f"/api{PLAN}")
    assert [f["value"] for f in kept["survey"]["facts"] if f["quantity"] == "distance_m"] == [45]
    # A photograph, taken out of reach: it is sent before its entry, and seen at the desk.
    phone.context.set_offline(True)
    phone.get_by_role("button", name="Log").click()
    phone.get_by_label("A line for the log").fill("the plug at the bollard")
    phone.get_by_label("Take a photograph").set_input_files(
        {"name": "p.jpg", "mimeType": "image/jpeg", "buffer": taken(2400, 1800)}
    )
    expect(phone.get_by_role("status")).to_contain_text("1 kept on this phone")
    phone.context.set_offline(False)
    expect(phone.get_by_role("status")).to_have_text("All sent")
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/survey/log")
    with desk.context.expect_page() as opened:
        desk.get_by_role("link", name="the plug at the bollard").click()
    opened.value.wait_for_load_state()
    assert opened.value.evaluate("document.images[0].naturalWidth") == 1600
    opened.value.close()
    # Read on, without the server: how a stream gets there, hop by hop, and the papers. And the next photograph is of a thing.
    phone.context.set_offline(True)
    phone.get_by_role("button", name="Read").click()
    phone.get_by_label("I am at").select_option("boathouse")
    phone.get_by_text("How it gets there").first.click()
    expect(phone.get_by_role("figure").first.get_by_role("listitem").first).to_be_visible()
    phone.get_by_text("Patch list", exact=True).click()
    expect(phone.get_by_text("Other end", exact=True).first).to_be_visible()
    assert serious(phone) == []
    phone.get_by_role("button", name="Find out").click()
    before = phone.get_by_label("I am at").locator("option").all_inner_texts()
    phone.get_by_text("The shortest walk from the desk").click()
    phone.get_by_role("button", name="Earlier").last.click()
    phone.context.set_offline(False)
    after = phone.get_by_label("I am at").locator("option").all_inner_texts()
    assert after == [*before[:-2], before[-1], before[-2]]
    for name in ("Read", "Log"):
        phone.get_by_role("button", name=name).click()
        for theme in ("day", "night"):
            phone.evaluate("theme => { document.documentElement.dataset.theme = theme }", theme)
            assert serious(phone) == [], (name, theme)
    # Sent away, it writes no more; what it wrote is kept on it.
    phone.context.set_offline(True)
    phone.get_by_label("A line for the log").fill("wind gets up")
    phone.get_by_role("button", name="Write it down").click()
    expect(phone.get_by_role("status")).to_contain_text("1 kept on this phone")
    (member,) = asked(desk, "GET", f"/api{PLAN}/crew")["members"]
    asked(desk, "DELETE", f"/api{PLAN}/crew/{member['id']}")
    phone.context.set_offline(False)
    expect(phone.get_by_role("heading", name="This phone is out of the crew")).to_be_visible()
    expect(phone.get_by_text("One entry is kept on this phone")).to_be_visible()


def test_what_is_typed_into_an_open_question_is_an_entry_and_one_that_was_wrong_is_corrected_in_the_log(
    browser: Browser, venue: Server
) -> None:
    desk = desk_of(browser, venue)
    edits = [{"kind": "set-port", "port": "switcher/in-1", "field": "max_gbps", "value": None}]
    asked(desk, "POST", f"/api{PLAN}/edits", {"edits": edits}, on=1)
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/signal?pick=device:switcher")
    pane = desk.get_by_role("complementary")
    pane.get_by_label("Port speed").fill("3")
    pane.get_by_label("Port speed").press("Enter")
    pane.get_by_text("All ", exact=False).last.click()
    expect(pane.get_by_text(re.compile(r"^found, .*; planned: nothing$"))).to_be_visible()
    kept = asked(desk, "GET", f"/api{PLAN}")
    assert kept["version"] == 2  # the plan is as it was
    assert [(f["part"], f["value"]) for f in kept["survey"]["facts"] if f["quantity"] == "max_gbps"] == [("in-1", 3)]  # fmt: skip
    # A measurement was noted wrongly: what it is corrected to counts, and both are in the log.
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/survey/log")
    row = desk.get_by_role("row").filter(has_text="Mb/s up").first
    was = row.inner_text()
    row.get_by_role("button", name="Correct").click()
    form = desk.get_by_role("form", name="In place of")
    form.get_by_label(re.compile("^Up")).fill("forty")
    expect(form.get_by_role("alert")).to_have_text("Up takes a number in Mb/s.")
    form.get_by_label(re.compile("^Up")).fill("41.5")
    form.get_by_role("button", name="Correct it").click()
    expect(desk.get_by_role("row").filter(has_text="41.5 Mb/s up")).to_be_visible()
    expect(desk.get_by_role("row").filter(has_text=was.split("\t")[3].split(" Mb/s")[0]).filter(has_text="(corrected)")).to_be_visible()  # fmt: skip
    assert 41.5 in [m["up_mbps"] for m in asked(desk, "GET", f"/api{PLAN}")["survey"]["measurements"]]
    desk.get_by_role("row").filter(has_text="41.5 Mb/s up").get_by_role("button", name="Withdraw").click()
    expect(
        desk.get_by_role("row").filter(has_text="41.5 Mb/s up").filter(has_text="(withdrawn)")
    ).to_be_visible()


def test_two_laptops_see_each_others_edits_and_picks(browser: Browser, venue: Server) -> None:
    one, other = desk_of(browser, venue), desk_of(browser, venue)
    asked(one, "POST", f"/api{PLAN}/edits", {"edits": [{"kind": "set", "noun": "show", "id": None, "field": "name", "value": "Regatta, wet"}]}, on=1)  # fmt: skip
    for page in (one, other):
        expect(page.locator("header")).to_contain_text("Regatta, wet")
        expect(page.locator("header").get_by_role("status")).to_have_text("Saved, version 2")
    # And what each has picked.
    one.goto(f"http://{NAME}:{venue.port}{PLAN}/gear?pick=device:slipway-cam")
    expect(other.get_by_role("complementary").get_by_text("Another desk is at")).to_be_visible()
    other.get_by_role("complementary").get_by_role("button", name="Slipway camera", exact=True).click()
    expect(other.get_by_role("complementary").get_by_role("heading", name="Slipway camera")).to_be_visible()


def test_in_a_secure_context_the_page_is_reloaded_without_the_server(browser: Browser, venue: Server) -> None:
    desk = desk_of(browser, venue)
    code = asked(desk, "GET", f"/api{PLAN}/crew")["code"]
    phone = browser.new_context(viewport=PHONE).new_page()
    phone.goto(
        f"http://127.0.0.1:{venue.port}/crew#{code}"
    )  # a browser trusts its own machine as it does a certificate
    assert phone.evaluate("isSecureContext") is True
    phone.get_by_label("Who you are").fill("camera")
    phone.get_by_role("button", name="Join").click()
    expect(phone.get_by_role("status")).to_have_text("All sent")
    phone.evaluate("navigator.serviceWorker.ready.then(() => 1)")
    phone.reload()  # now it is the worker that brings the page
    expect(phone.get_by_label("I am at")).to_be_visible()
    venue.kill()
    phone.reload()
    expect(phone.get_by_label("I am at")).to_be_visible()
    phone.get_by_role("button", name="Log").click()
    phone.get_by_label("A line for the log").fill("mains off at the Slipway")
    phone.get_by_role("button", name="Write it down").click()
    expect(phone.get_by_role("status")).to_contain_text("1 kept on this phone")
    phone.reload()
    venue.start()
    expect(phone.get_by_role("status")).to_have_text("All sent")
    lines = httpx.get(f"{venue.url}/api{PLAN}/entries", headers={"Cookie": cookie_of(phone)}).json()
    assert [e["body"]["text"] for e in lines if e["kind"] == "line"] == ["mains off at the Slipway"]


def cookie_of(page: Page) -> str:
    return "; ".join(f"{c['name']}={c['value']}" for c in page.context.cookies())
