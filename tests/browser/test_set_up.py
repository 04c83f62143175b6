"""The set-up of the day: ticked at the desk and on a phone, offline and back; a picture closes its path, a restart opens it again."""

import re
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.test_crew import NAME, PLAN, asked, desk_of, phone_of
from tests.browser.test_screens import serious
from tests.build import entry
from tests.server import JSON, Server


@pytest.fixture
def venue(tmp_path: Path) -> Iterator[Server]:
    found = Server(tmp_path / "data", "demo", "--host", "0.0.0.0", "--name", NAME).start()
    yield found
    found.kill()


def test_a_day_is_set_up_at_the_desk_and_on_a_phone(browser: Browser, venue: Server) -> None:
    desk = desk_of(browser, venue)
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/set-up")
    count = desk.locator("main").get_by_role("status")
    expect(count).to_contain_text("0 of 37 seen today")
    expect(count).to_contain_text("The plan: 2 stop the show")
    for theme in ("day", "night"):
        desk.evaluate("theme => { document.documentElement.dataset.theme = theme }", theme)
        assert serious(desk) == [], theme
    # One tick is all that is asked of a device; the values to type stand in the pane, large.
    desk.get_by_role("button", name=re.compile("^Vertical encoder")).first.click()
    pane = desk.get_by_role("complementary")
    expect(pane.get_by_text("192.168.20.31", exact=True)).to_be_visible()
    expect(pane.get_by_text("rtmps://ingest.cedar.example:443/live")).to_be_visible()
    assert "creek-8B3s" not in pane.inner_text()  # its key stays masked
    desk.get_by_role("button", name=re.compile("^Seen ?: Vertical encoder$")).click()
    expect(count).to_contain_text("1 of 37 seen today")
    expect(desk.get_by_role("button", name=re.compile("^Seen ?: Vertical encoder$"))).to_have_count(0)
    # A picture that is seen closes its path, and settles what it proves.
    path = desk.get_by_role("button", name=re.compile("^Picture seen ?: Switcher, Input 2$"))
    path.click()
    expect(path).to_have_count(0)
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/set-up?pick=device:switcher")
    enabled = pane.get_by_role("listitem").filter(has_text="Input 2 enabled")
    expect(enabled).to_contain_text("Shown by a picture")
    expect(pane.get_by_role("listitem").filter(has_text="Input 1 enabled")).to_contain_text("The picture shows it")  # fmt: skip
    # On a phone, out of reach: kept, sent once, counted at the desk.
    crew = asked(desk, "GET", f"/api{PLAN}/crew")
    phone = phone_of(browser, venue, crew["code"], "Net Loft")
    phone.get_by_role("button", name="Set up").click()
    phone.get_by_label("I am at").select_option("net-loft")
    expect(phone.get_by_text("2 of 37")).to_be_visible()
    assert serious(phone) == []
    phone.get_by_label("I am at").select_option("On the internet")
    expect(phone.get_by_text("Millrace").first).to_be_visible()
    phone.get_by_label("I am at").select_option("net-loft")
    phone.context.set_offline(True)
    phone.get_by_role("button", name=re.compile("^All . are right ?: Net Loft decoder")).click()
    expect(phone.get_by_role("status")).to_contain_text("1 kept on this phone")
    expect(phone.get_by_role("button", name=re.compile("are right ?: Net Loft decoder"))).to_have_count(0)
    phone.context.set_offline(False)
    expect(phone.get_by_role("status")).to_have_text("All sent")
    expect(count).to_contain_text("3 of 37 seen today")
    # It was restarted: its clock and the picture through it are to be seen again, and nothing else.
    desk.keyboard.press("/")
    desk.keyboard.type("restarted vertical encoder")
    desk.keyboard.press("Enter")
    expect(count).to_contain_text("2 of 37 seen today")
    desk.get_by_role("navigation", name="Places").get_by_role("button", name="Boathouse").click()
    again = desk.get_by_role("button", name=re.compile("^Seen ?: Vertical encoder$"))
    expect(again).to_be_visible()
    expect(pane.get_by_role("listitem").filter(has_text="Date and time")).to_contain_text("its power was off")
    expect(pane.get_by_role("listitem").filter(has_text="Password set")).to_contain_text("Seen")
    # What was ticked on paper is typed by its numbers; what was seen to be wrong is open again.
    desk.keyboard.press("/")
    desk.keyboard.type("3 5 7-8 seen")
    desk.keyboard.press("Enter")
    expect(count).to_contain_text("6 of 37 seen today")
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/set-up?pick=device:switcher")
    pane.get_by_role("button", name=re.compile("^Not right ?: Date and time")).click()
    expect(pane.get_by_role("listitem").filter(has_text="Date and time")).to_contain_text(
        "looked at, and wrong"
    )
    expect(count).to_contain_text("5 of 37 seen today")
    assert asked(desk, "GET", f"/api{PLAN}")["version"] == 1  # the plan is as it was
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/survey/log")
    for said in (
        "picture seen at Switcher, Input 2",
        "power was off",
        "seen: Date and time, Firmware, Password set",
    ):
        expect(desk.get_by_role("row").filter(has_text=said).first).to_be_visible()
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/set-up/list")
    expect(desk.get_by_role("region", name="Net Loft")).to_contain_text("seen")
    assert serious(desk) == []


def test_a_picture_that_is_seen_is_kept_as_the_trial_that_a_link_still_waits_for(
    page: Page, server: Server
) -> None:
    made = httpx.post(f"{server.url}/api/examples/phone-through-a-browser/open", json={}, headers=JSON).json()
    plan = f"{server.url}/api/plans/{made['id']}"
    tried = [f["id"] for f in httpx.get(plan).json()["survey"]["facts"] if f["quantity"] == "works"]
    out = {"entries": [entry({"of": id}) for id in tried]}  # as if nobody had tried it yet
    httpx.post(f"{plan}/entries", json=out, headers=JSON).raise_for_status()
    page.goto(f"{server.url}/plans/{made['id']}/set-up")
    page.get_by_role("button", name=re.compile("^Picture seen ?: .*Network source 1")).click()
    offer = page.get_by_role("region", name="Keep it as a trial")
    offer.get_by_role("textbox").fill("at the hour of the show, with the crowd")
    offer.get_by_role("button", name="It worked").click()
    expect(offer).to_have_count(0)  # it waits no more
    facts = httpx.get(plan).json()["survey"]["facts"]
    assert [(f["thing"], f["quantity"], f["value"]) for f in facts][-1] == ("phone-to-laptop", "works", True)


def test_boxes_have_labels_minutes_are_proposed_and_a_settings_file_is_at_hand(
    page: Page, server: Server
) -> None:
    plan = f"{server.url}/api/plans/saltmere-lantern-regatta"
    page.goto(f"{server.url}{PLAN}/gear/stock")
    page.get_by_text("Change the stock list").click()
    row = page.get_by_role("row").filter(has_text="Teasel Field camera")
    row.get_by_text("F1, F2").click()
    since = row.get_by_label("Teasel Field camera F1, with us since")
    since.fill("12 Sep 2026")
    since.press("Enter")
    row.get_by_label("Add label").fill("F3")  # there are two of them
    row.get_by_role("button", name="Add label").click()
    expect(page.get_by_role("alert")).to_contain_text("there are 2 of Teasel Field camera, and 3 labels")
    held = {h["model"]: h for h in httpx.get(f"{server.url}/api/stock").json()}["Teasel Field camera"]
    assert held["items"] == [{"label": "F1", "since": "2026-09-12"}, {"label": "F2", "since": None}]
    # Three cameras put up by one person, twenty minutes each: ten were planned.
    at = ["16:00", "16:20", "16:41", "17:02"]
    ticks = [
        {"id": f"t{n}", "kind": "task", "at": f"2026-09-19T{t}:00+01:00", "role": "rigger", "body": {"task": f"stand:{c}"}}
        for n, (t, c) in enumerate(zip(at, ("slipway-cam", "quay-cam", "slipway-cam", "quay-cam"), strict=True))
    ]  # fmt: skip
    httpx.post(f"{plan}/entries", json={"entries": ticks}, headers=JSON).raise_for_status()
    page.goto(f"{server.url}{PLAN}/set-up/run")
    expect(page.get_by_text("21 min in the log (median of 3)")).to_be_visible()
    page.get_by_role("button", name="See what changes").click()
    page.get_by_role("button", name=re.compile("Apply")).click()
    expect(page.get_by_text("in the log (median")).to_have_count(0)
    assert httpx.get(plan).json()["plan"]["settings"]["figures"]["camera-minutes"] == 21
    made = httpx.post(f"{server.url}/api/examples/decoder-in-the-loft/open", json={}, headers=JSON).json()
    page.goto(f"{server.url}/plans/{made['id']}/set-up?pick=device:sender")
    file = page.get_by_role("complementary").get_by_role("link", name=re.compile("^Settings file"))
    assert httpx.get(f"{server.url}{file.get_attribute('href')}").json()["format"] == "humble-relay-join"
