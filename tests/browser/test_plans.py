"""The list of plans, several tabs, and what is typed wrongly in passing."""

import re

from playwright.sync_api import Page, expect

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Cable
from humble_relay.core.plan.edits import Edit, added
from tests import soak
from tests.server import Server

DEMO = "Saltmere Lantern Regatta"
PLAN = "/plans/saltmere-lantern-regatta"


@soak.further
def test_a_plan_is_found_by_date_and_proofs_renamed_copied_and_followed_by_other_tabs(
    page: Page, server: Server
) -> None:
    page.goto(server.url)
    line = page.get_by_role("listitem").filter(has_text=DEMO)
    expect(line).to_contain_text("Sat 19 Sep 2026, 19:30")
    expect(line).to_contain_text("3 of 6 proven")
    other = page.context.new_page()
    other.goto(f"{server.url}{PLAN}/brief")
    expect(other.get_by_role("heading", name=DEMO)).to_be_visible()
    page.get_by_role("button", name=f"Rename {DEMO}").click()
    name = page.get_by_label(f"New name of {DEMO}")
    name.fill("Lantern night")
    name.press("Enter")
    expect(page.get_by_role("link", name="Lantern night")).to_be_visible()
    # A change made in one tab stands in the other within a moment, and back.
    other.reload()
    expect(other.get_by_role("heading", name="Lantern night")).to_be_visible()
    third = page.context.new_page()
    third.goto(f"{server.url}{PLAN}/brief")
    notes = third.get_by_label("Notes")
    notes.fill("Bring the long fibre")
    notes.press("Enter")
    expect(third.get_by_role("status").first).to_have_text("Saved, version 3")
    expect(other.get_by_label("Notes")).to_have_value("Bring the long fibre", timeout=3000)
    page.get_by_role("button", name="Copy Lantern night").click()
    expect(page.get_by_role("heading", name="Lantern night, copy")).to_be_visible()
    expect(page.get_by_label("Notes")).to_have_value("Bring the long fibre")
    with server.client() as client:
        copy = "/api/plans/lantern-night-copy"
        assert client.get(f"{copy}/streams/alder-feed/key").json()["key"]  # a copy works as the first does
        assert client.get(f"{copy}/history").json()[0]["what"] == ["copied as Lantern night, copy"]


@soak.further
def test_counts_commands_and_measurements_are_answered_in_words(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/gear/library")
    count = page.get_by_label("How many Teasel Monitor")
    for typed in ("two", "5000", "-3", "1.5", "0"):
        count.fill(typed)
        expect(page.get_by_role("alert")).to_have_text("Write a whole number from 1 to 99.")
        expect(page.get_by_role("button", name="Add Teasel Monitor")).to_be_disabled()
        expect(page.get_by_role("button", name="devices")).to_have_count(0)
    count.fill("2")
    page.get_by_role("button", name="Add 2 devices").click()
    expect(page.get_by_role("status").first).to_have_text("Saved, version 2")
    page.get_by_label("Find", exact=True).fill("dongle")
    expect(page.get_by_role("button", name="Add Teasel HDMI capture box")).to_be_visible()
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("/")
    expect(page.get_by_role("dialog")).to_contain_text("quay to switcher")
    page.keyboard.type("undo")
    expect(
        page.get_by_role("option", name=re.compile("^Undo the last change: added device Monitor"))
    ).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").first).to_have_text("Saved, version 3")
    page.goto(f"{server.url}{PLAN}/survey/measure")
    text = page.get_by_label("Measurements of Boathouse fibre")
    text.fill("2026-09-11 19:45 6.1 up\n-5 up\n2026-02-31 19:45 6 up\n5 MB/s up")
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_text("-5 up (a rate or a time is never below zero)")).to_be_visible()
    expect(page.get_by_text("there is no day 2026-02-31 19:45")).to_be_visible()
    expect(page.get_by_label("Upload in Mb/s, row 2")).to_have_value("40")
    expect(page.get_by_label("When, row 1")).to_have_value(re.compile(", 19:45$"))
    page.get_by_role("button", name="Add 2 to Boathouse fibre").click()
    expect(page.get_by_text("16 measurements")).to_be_visible()


def test_a_finding_opens_in_the_pane_with_what_it_is_of_and_back_leads_back(
    page: Page, server: Server
) -> None:
    page.goto(f"{server.url}{PLAN}/signal")
    listed = page.get_by_role("complementary", name="Findings")
    expect(listed).to_contain_text("4 at risk")
    expect(listed).to_contain_text("3 accepted")
    lines = listed.locator("ul > li > button")
    expect(lines.first).to_contain_text("signal")  # this stage's first
    lines.nth(0).click()
    first = listed.get_by_role("region", name="Quay camera reaches no screen")
    expect(first).to_contain_text("To do:")
    expect(page).to_have_url(re.compile(r"pick=finding"))
    expect(listed.get_by_role("region", name="Quay camera", exact=True)).to_contain_text("IP camera")
    page.go_back()
    expect(first).to_have_count(0)
    lines.filter(has_text="29.3 Mb/s fits").click()
    opened = listed.get_by_role("region", name="29.3 Mb/s fits")
    expect(opened).to_be_visible()
    # The instrument keeps its room: what is picked stands in the pane.
    widths = page.evaluate("[document.querySelector('main').clientWidth, innerWidth]")
    assert widths[0] > widths[1] - 345
    page.keyboard.press("Escape")
    expect(opened).to_have_count(0)
    expect(lines.filter(has_text="29.3 Mb/s fits")).to_be_focused()


@soak.further
def test_a_long_table_draws_what_is_in_view_wherever_it_stands_and_all_of_it_on_paper(
    page: Page, server: Server
) -> None:
    edits: list[Edit] = []
    for n in range(60):
        edits += [
            added(from_library("camera-field", f"c{n}", "slipway", f"Crowd camera {n}")),
            added(from_library("monitor", f"m{n}", "slipway", f"Crowd screen {n}")),
            added(Cable(id=f"x{n}", from_port=f"c{n}/sdi", to_port=f"m{n}/sdi", cable="coax", length_m=2)),
        ]
    with server.client(30) as client:
        body = {"edits": [e.model_dump(mode="json") for e in edits]}
        client.post(f"/api{PLAN}/edits", json=body, headers={"If-Match": '"1"'}).raise_for_status()
    page.goto(f"{server.url}{PLAN}/signal/links")
    table = page.get_by_role("region", name="Cables").get_by_role("table")
    expect(table).to_be_attached()
    lengths = table.get_by_label(re.compile("^Length of Crowd camera"))
    for wanted in (3, 59):
        row = table.get_by_label(re.compile(f"^Length of Crowd camera {wanted}, SDI out"))
        for _ in range(60):
            if row.count():
                break
            page.mouse.move(400, 500)
            page.mouse.wheel(0, 450)
            page.wait_for_timeout(60)
        row.scroll_into_view_if_needed()
        expect(row).to_be_in_viewport()
        # What is drawn stands where the hand is: no hole in the window.
        assert page.evaluate("document.elementFromPoint(300, 600).closest('tr, section') !== null")
        assert lengths.count() < 40
    page.goto(f"{server.url}{PLAN}/papers")
    schedule = page.get_by_role("region", name="Cable schedule").get_by_role("row")
    expect(schedule.first).to_be_visible()
    assert schedule.count() < 60
    page.emulate_media(media="print")
    expect(schedule).to_have_count(1 + 24 - 1 + 60)
