"""The signal path used as a technician uses it: patched by keyboard, broken, re-routed, followed, printed."""

import csv
import io
import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from tests import soak
from tests.browser.hand import turn
from tests.server import Server

PLAN = "/plans/saltmere-lantern-regatta"


@pytest.fixture
def at(page: Page, server: Server):  # type: ignore[no-untyped-def]
    """Opens a stage of the demo."""

    def go(stage: str) -> Page:
        page.goto(f"{server.url}{PLAN}/{stage}")
        expect(page.get_by_role("heading", name="Findings")).to_be_visible()
        return page

    return go


def listed(page: Page, text: str) -> Locator:
    return page.locator("#pane > ul > li").filter(has_text=text)


def saved(page: Page, version: int) -> None:
    expect(page.get_by_role("status").first).to_have_text(f"Saved, version {version}")


def near(page: Page) -> None:
    """Close enough to read every label of the map."""
    page.get_by_role("button", name="every label").click()


def box(page: Page, name: str) -> Locator:
    return page.get_by_role("group", name="Signal map").get_by_role("button", name=name)


def test_the_fourth_camera_is_patched_by_keyboard_alone(at) -> None:  # type: ignore[no-untyped-def]
    page = at("signal")
    expect(listed(page, "Quay camera reaches no screen")).to_have_count(1)
    page.keyboard.press("/")
    page.keyboard.type("quay cam to unicorn")
    expect(page.get_by_role("dialog")).to_contain_text('"unicorn" is not')
    for _ in "unicorn":
        page.keyboard.press("Backspace")
    page.keyboard.type("switcher 5")
    first = page.get_by_role("option", name="Quay camera to Switcher: RTSP stream, Relay decoder")
    expect(first).to_contain_text("to Input 5, 1700 ms")
    expect(page.get_by_role("option", name="Burr decoder")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("Enter again does it")
    page.keyboard.press("Enter")
    saved(page, 2)
    expect(listed(page, "Quay camera reaches no screen")).to_have_count(0)
    page.get_by_role("button", name="names", exact=True).click()
    expect(box(page, "Relay decoder, Boathouse")).to_be_visible()
    # By arrow keys to the camera, and its whole way.
    box(page, "Slipway camera").focus()
    page.keyboard.press("ArrowDown")
    expect(box(page, "Quay camera")).to_be_focused()
    page.keyboard.press("Enter")
    ways = page.get_by_role("region", name="Where Quay camera goes")
    expect(ways).to_contain_text("Quay camera to Net Loft screen")
    ways.get_by_text("Quay camera to Net Loft screen").click()
    expect(ways).to_contain_text("25 made 50 frames/s: 1080p25 becomes 1080p50")
    # 120 camera, 1500 RTSP, 200 decoder, 40 switcher, 1 converter.
    ways.get_by_role("button", name="1 861 ms").click()
    expect(page.get_by_text("RTSP on a LAN").first).to_be_visible()
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("u")
    saved(page, 3)
    page.keyboard.press("Escape")  # lets go of the camera: the findings stand in the pane again
    expect(listed(page, "Quay camera reaches no screen")).to_have_count(1)
    expect(box(page, "Relay decoder")).to_have_count(0)


@soak.further
def test_ways_are_compared_side_by_side_and_one_is_used(at) -> None:  # type: ignore[no-untyped-def]
    page = at("signal/finder")
    page.get_by_label("From", exact=True).select_option("Switcher")
    page.get_by_label("To", exact=True).select_option("Net Loft screen")
    expect(page.get_by_text("There is no way: every input of Net Loft screen")).to_be_visible()
    page.get_by_label("From", exact=True).select_option("Quay camera")
    page.get_by_label("To", exact=True).select_option("Switcher")
    page.get_by_label("Into", exact=True).select_option("Input 5")
    finder = page.get_by_role("region", name="Get a picture there")
    for name, cells in {
        "Delay": ["1 700 ms", "1 750 ms"],
        "From stock": ["Teasel Relay decoder", "Teasel Burr decoder"],
        "To get first": ["nothing", "nothing"],
    }.items():
        row = finder.get_by_role("row", name=name)
        for i, text in enumerate(cells):
            expect(row.get_by_role("cell").nth(i)).to_have_text(text)
    use = finder.get_by_role("button", name="Use this").nth(1)
    use.focus()
    expect(listed(page, "Quay camera reaches no screen")).to_contain_text("would go")
    use.click()
    saved(page, 2)
    expect(listed(page, "Quay camera reaches no screen")).to_have_count(0)
    turn(page, "Signal map")
    near(page)
    expect(page.get_by_role("group", name="Signal map")).to_contain_text("1080p25, Input 5")


def test_a_hop_breaks_and_is_re_routed(at) -> None:  # type: ignore[no-untyped-def]
    page = at("signal/links")
    page.get_by_label("Find in cables").fill("weir fibre")
    page.get_by_label(re.compile("^Broken of Weir fibre sender, Fibre out")).select_option(label="yes")
    saved(page, 2)
    pane = page.get_by_role("complementary", name="Findings")
    expect(pane).to_contain_text("is marked as broken")  # what was worked on is what the pane shows
    turn(page, "Signal map")
    near(page)
    expect(page.get_by_role("group", name="Signal map")).to_contain_text("Fibre 154 m (broken)")
    turn(page, "Cables and streams")
    page.get_by_role("button", name="Re-route Weir fibre sender, Fibre out").click()
    finder = page.get_by_role("region", name="Get a picture there")
    expect(finder).to_contain_text("Other ways for Weir Tower camera to Switcher")
    expect(finder).to_contain_text("local codes decide the rest")
    finder.get_by_role("button", name="SDI coax 154 m").first.click()
    saved(page, 3)
    expect(pane).not_to_contain_text("is marked as broken")
    turn(page, "Signal map")
    near(page)
    expect(page.get_by_role("group", name="Signal map")).to_contain_text("SDI 154 m")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("u")
    expect(pane).to_contain_text("is marked as broken")


@soak.further
def test_what_is_loose_is_patched_in_one_go(at) -> None:  # type: ignore[no-untyped-def]
    page = at("signal/finder")
    page.get_by_role("button", name="Show how, to Switcher").click()
    loose = page.get_by_role("region", name="Patch what is loose")
    expect(loose).to_contain_text("Quay camera to Input 4")
    expect(loose).to_contain_text("1 finding would go, 1 would come")
    loose.get_by_role("button", name="Patch all of it").click()
    saved(page, 2)
    expect(loose).to_contain_text("Every source is plugged into something")


def test_the_map_is_searched_folded_and_shows_the_network_when_asked(at) -> None:  # type: ignore[no-untyped-def]
    page = at("signal")
    chart = page.get_by_role("group", name="Signal map")
    page.get_by_label("Find on the map").fill("encoder")
    page.get_by_label("Find on the map").press("Enter")
    expect(page.get_by_text("2 found")).to_be_visible()
    expect(box(page, "Boathouse encoder")).to_have_attribute("aria-pressed", "true")
    reaches = page.get_by_role("region", name="What reaches Boathouse encoder")
    expect(reaches).to_contain_text("Deck camera to Boathouse encoder")
    page.get_by_label("Find on the map").press("Enter")
    expect(box(page, "Vertical encoder")).to_have_attribute("aria-pressed", "true")
    page.get_by_label("Find on the map").press("Escape")
    page.get_by_role("button", name="Let go").click()
    # The whole of it at first; nearer by key, and back.
    inside = (
        "() => { const f = document.querySelector('figure > div'); return f.scrollWidth <= f.clientWidth }"
    )
    page.wait_for_function(inside)
    box(page, "Slipway camera").focus()
    label = chart.locator("text").filter(has_text="1080p50, Input 1")
    expect(label).to_have_count(0)
    page.keyboard.press("+")
    expect(label).to_be_visible()
    page.wait_for_function(inside.replace("<=", ">"))
    expect(box(page, "Slipway camera")).to_be_focused()
    page.get_by_role("button", name="Net Loft 3 devices").click()
    expect(box(page, "3 devices, 1 converter")).to_be_visible()
    expect(box(page, "Net Loft screen")).to_have_count(0)
    box(page, "3 devices, 1 converter").focus()
    page.keyboard.press("Enter")
    expect(box(page, "Net Loft screen")).to_be_visible()
    expect(chart).not_to_contain_text("Ethernet")
    page.get_by_label("network cables").check()
    expect(chart).to_contain_text("Ethernet 44 m")
    expect(box(page, "PoE switch")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="SVG").click()
    assert "Ethernet 44 m" in Path(download.value.path()).read_text()
    page.keyboard.press("f")
    expect(page.get_by_role("heading", name="Findings")).to_be_hidden()
    page.keyboard.press("d")
    expect(page.get_by_role("heading", name="Findings")).to_be_visible()


@soak.further
def test_the_cable_schedule_is_printed_alone_and_labels_come_in_pairs(at) -> None:  # type: ignore[no-untyped-def]
    page = at("papers")
    page.evaluate("() => { window.print = () => { window.printed = (window.printed || 0) + 1 } }")
    page.get_by_role("button", name="Print the cable schedule").click()
    assert page.evaluate("window.printed") == 1
    page.emulate_media(media="print")
    schedule = page.get_by_role("region", name="Cable schedule")
    expect(schedule).to_be_visible()
    expect(schedule).to_contain_text("Weir fibre sender, Fibre out")
    for other in ("Run sheet", "Pull list", "Stream addresses"):
        expect(page.get_by_role("region", name=other)).to_be_hidden()
    expect(page.locator("#pane")).to_be_hidden()
    assert len(page.pdf()) > 10_000
    page.emulate_media(media="screen")
    page.evaluate("window.dispatchEvent(new Event('afterprint'))")
    expect(page.get_by_role("region", name="Pull list")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV of Cable schedule").click()
    rows = list(csv.reader(io.StringIO(Path(download.value.path()).read_text())))
    assert rows[0][:4] == ["No.", "From", "At", "To"] and len(rows) == 24
    labels = page.get_by_role("list", name="Labels to cut out").get_by_role("listitem")
    expect(labels).to_have_count(2 * (len(rows) - 1))
    expect(labels.filter(has_text="F01")).to_have_count(2)


@soak.further
def test_gear_is_found_added_several_at_once_and_told_what_it_is(at, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    page = at("gear/library")
    page.get_by_label("Kind", exact=True).select_option("monitor")
    page.get_by_label("How many Teasel Monitor").fill("2")
    page.get_by_label("How many Teasel Large screen").fill("1")
    page.get_by_label("Goes to").select_option("Net Loft")
    page.get_by_role("button", name="Add 3 devices").click()
    saved(page, 2)
    expect(listed(page, "gets no picture")).to_have_count(3)
    expect(listed(page, "Teasel Large screen: the plan uses 2, and 1 are there")).to_have_count(1)
    turn(page, "In this plan")
    page.get_by_role("button", name="More about Commentary laptop").click()
    page.get_by_label("Colour range of Commentary laptop, HDMI out").select_option("full range")
    saved(page, 3)
    expect(listed(page, "sends full colour range")).to_have_count(1)
    page.get_by_label("Content protection of Commentary laptop, HDMI out").select_option("protection on")
    saved(page, 4)
    black = listed(page, "asks for content protection")
    expect(black).to_have_count(1)
    page.get_by_role("button", name="Keep as a model of my own").click()
    expect(page.get_by_text("is in the library now")).to_be_visible()
    turn(page, "Library")
    bad = tmp_path / "bad.csv"
    bad.write_text("id,name,kind\nx,Cam,spaceship\n")
    page.get_by_label("Gear file").set_input_files(bad)
    expect(page.get_by_text("Line 2: device.kind")).to_be_visible()
    good = tmp_path / "good.csv"
    good.write_text("id,name,kind,about\nour-cam,Our camera,camera,Built from parts\n")
    page.get_by_label("Gear file").set_input_files(good)
    page.get_by_label("Kind", exact=True).select_option("every kind")
    page.get_by_label("Find", exact=True).fill("our camera")
    expect(page.get_by_role("button", name="Add Our camera")).to_be_visible()


@soak.further
def test_stock_is_counted_and_what_is_missing_is_said(at) -> None:  # type: ignore[no-untyped-def]
    page = at("gear/stock")
    expect(page.get_by_role("region", name="Stock")).to_contain_text(
        "1 from the sailing club until Sun 20 Sep 2026"
    )
    page.get_by_text("Change the stock list").click()
    count = page.get_by_label("Count of Teasel Eight switcher")
    count.fill("0")
    count.press("Enter")
    short = listed(page, "Teasel Eight switcher: the plan uses 1, and 0 are there")
    expect(short).to_have_count(1)
    page.get_by_label("Model", exact=True).fill("Teasel Eight switcher")
    page.get_by_label("Borrowed from (empty: owned)").fill("a school")
    page.get_by_label("Until").fill("2026-09-18")
    page.get_by_role("button", name="Write it down").click()
    expect(listed(page, "go back before the show")).to_have_count(1)
    page.reload()
    expect(short).to_have_count(1)
