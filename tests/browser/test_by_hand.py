"""What stops a hand, and does not: boxes of one's own, sites, moments, keys, deletion, and narrow screens."""

import json
import re
from pathlib import Path

import httpx
from playwright.sync_api import Browser, Page, expect

from tests import soak
from tests.browser.test_screens import FURTHER, GO, PLAN, STAGES, serious
from tests.server import Server
from tests.soak import WHOLE, part


def at(page: Page, server: Server, stage: str) -> None:
    page.goto(f"{server.url}{PLAN}/{stage}")
    expect(page.get_by_role("main").get_by_role("heading").first).to_be_visible()


def asked(server: Server) -> httpx.Response:
    """The plan as the server has it."""
    return httpx.get(f"{server.url}/api{PLAN}")


def saved(page: Page, version: int) -> None:
    expect(page.get_by_role("status").first).to_have_text(f"Saved, version {version}")


@soak.further
def test_a_box_of_ones_own_is_copied_changed_by_keys_kept_and_changed_in_the_plan(
    page: Page, server: Server, tmp_path: Path
) -> None:
    at(page, server, "gear/library")
    page.get_by_label("Find", exact=True).fill("four switcher")
    page.get_by_role("button", name="Copy Teasel Four switcher").click()
    box = page.get_by_role("region", name="A device of my own")
    box.get_by_label("Name", exact=True).fill("")
    box.get_by_label("Delay").fill("soon")
    box.get_by_label("Ports to add").fill("900")
    box.get_by_role("button", name="Add ports").click()
    expect(box.get_by_text("Write how many ports: 1 to 64.")).to_be_visible()
    keep = box.get_by_role("button", name="Keep it in the library")
    keep.click()
    expect(box.get_by_text("Give the device a name.")).to_be_visible()
    box.get_by_label("Name", exact=True).fill("Tide mixer")
    keep.click()
    expect(box.get_by_text("One of the numbers cannot be read")).to_be_visible()
    box.get_by_label("Delay").fill("35")
    box.get_by_label("Where this comes from").fill("measured by us, June")
    box.get_by_label("Ports to add").fill("2")
    box.get_by_label("Socket", exact=True).select_option(label="SDI")
    page.keyboard.press("Tab")
    box.get_by_role("button", name="Add ports").click()
    # Several at once: what is changed in a marked row changes in all that are marked. By keys from row to row.
    box.get_by_label("Mark SDI in", exact=True).check()
    box.get_by_label("Mark SDI in 2").check()
    box.get_by_label("Fastest of SDI in, Gb/s").fill("2.97")
    expect(box.get_by_label("Fastest of SDI in 2, Gb/s")).to_have_value("2.97")
    box.get_by_label("SDI in 2 scales").focus()
    page.keyboard.press("ArrowUp")
    expect(box.get_by_label("SDI in scales", exact=True)).to_be_focused()
    page.keyboard.press("Space")
    expect(box.get_by_label("SDI in 2 scales")).to_be_checked()
    assert serious(page) == []
    keep.click()
    expect(page.get_by_text("my own, measured by us, June")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="My own as JSON").click()
    download.value.save_as(tmp_path / "own.json")
    (kept,) = json.loads((tmp_path / "own.json").read_text())["models"]
    assert (kept["id"], kept["origin"], len(kept["device"]["ports"])) == (
        "tide-mixer",
        "measured by us, June",
        10,
    )
    page.get_by_role("button", name=re.compile("^Drop mine ?Tide mixer")).click()
    expect(page.get_by_role("button", name="Add Tide mixer")).to_have_count(0)
    page.get_by_label("Gear file").set_input_files(tmp_path / "own.json")
    page.get_by_role("button", name="Add Tide mixer").click()
    saved(page, 2)
    # A box of the plan is changed where it stands; a port that a cable is in stays, with the reason.
    page.get_by_role("link", name="In this plan").click()
    page.get_by_role("button", name="More about Tide mixer").click()
    page.get_by_role("button", name=re.compile("^Change its ports .*Tide mixer")).click()
    page.get_by_role("button", name="Take off SDI in 2").click()
    page.get_by_label("SRT").first.check()
    page.get_by_role("button", name="Change the device").click()
    saved(page, 3)
    expect(page.get_by_text("Sends SRT; H.264")).to_be_visible()
    page.get_by_role("button", name="History").click()
    expect(page.get_by_role("dialog")).to_contain_text("changed Tide mixer")


@soak.further
def test_a_site_is_added_in_a_line_and_places_move_on_a_drawing_to_scale(page: Page, server: Server) -> None:
    at(page, server, "brief/places")
    page.get_by_label("Another site, home or town").fill("Chandlery")
    page.get_by_label("Its uplink").select_option(label="DSL")
    page.get_by_role("button", name="Add a site").click()
    saved(page, 2)
    drawing = page.get_by_role("group", name="Saltmere creek, drawn to scale")
    slipway = drawing.get_by_role("button", name="Slipway")
    expect(slipway).to_have_attribute(
        "aria-label", "Slipway: 36 m east, 0 m north; arrow keys move it by 1 m, with Shift by 10 m"
    )
    slipway.press("Shift+ArrowRight")
    expect(page.get_by_label("East of Slipway")).to_have_value("46")
    expect(page.locator("#pane")).to_contain_text("to Boathouse it is 46 m")
    slipway.scroll_into_view_if_needed()
    box = slipway.locator("circle").first.bounding_box()
    assert box
    page.mouse.move(box["x"] + 14, box["y"] + 14)
    page.mouse.down()
    page.mouse.move(box["x"] - 30, box["y"] + 14, steps=4)
    page.mouse.up()
    saved(page, 4)
    expect(page.get_by_label("East of Slipway")).not_to_have_value("46")
    assert float(page.get_by_label("East of Slipway").input_value()) < 36
    # A way that nobody spoke of is written down by typing its distance.
    way = page.get_by_label("Metres from Slipway to Net Loft")
    way.fill("61")
    page.wait_for_timeout(1500)  # its effect is shown meanwhile
    way.press("Enter")
    saved(page, 5)
    expect(page.get_by_role("button", name="Forget the way from Slipway to Net Loft")).to_be_visible()


def test_moments_are_typed_as_read_whatever_zone_the_machine_is_in(browser: Browser, server: Server) -> None:
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, locale="en-US", timezone_id="America/New_York"
    )
    page = context.new_page()
    at(page, server, "brief")
    expect(
        page.get_by_text("times are of Europe/London; this machine's clock is of America/New_York")
    ).to_be_visible()
    starts = page.get_by_label("Starts", exact=True)
    expect(starts).to_have_value("19 Sep 2026, 19:30")
    starts.fill("31 Feb 2026 19:30")
    starts.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("there is no day 31 Feb 2026")
    expect(starts).to_have_value("31 Feb 2026 19:30")
    starts.fill("20 Sep 20.15")
    starts.press("Enter")
    expect(starts).to_have_value("20 Sep 2026, 20:15")
    saved(page, 2)
    assert asked(server).json()["plan"]["show"]["starts_at"] == "2026-09-20T20:15:00+01:00"
    page.goto(f"{server.url}{PLAN}/papers")
    expect(page.get_by_role("region", name="Run sheet")).to_contain_text("20:15")
    context.close()


def test_raster_rate_and_scan_in_one_breath_are_all_kept(page: Page, server: Server) -> None:
    at(page, server, "brief")
    for label, words in (("Raster, pixels", "1280 × 720"), ("Frames/s", "25"), ("Scan", "interlaced")):
        page.get_by_label(label, exact=True).select_option(label=words)
    page.evaluate("document.activeElement.blur()")
    saved(page, 4)
    assert asked(server).json()["plan"]["show"]["format"] == {
        "width": 1280, "height": 720, "rate": "25", "scan": "i"}  # fmt: skip


@soak.further
def test_single_keys_are_changed_and_switched_off(page: Page, server: Server) -> None:
    at(page, server, "brief")
    page.keyboard.press("?")
    dialog = page.get_by_role("dialog")
    key = dialog.get_by_label("Key: History of this plan")
    key.fill("l")
    expect(dialog.get_by_role("alert")).to_contain_text("is taken: day or night light")
    key.fill("y")
    page.keyboard.press("Escape")
    page.keyboard.press("h")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("y")
    expect(page.get_by_role("dialog")).to_contain_text("History")
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    dialog.get_by_label("Single keys do something on this machine").uncheck()
    page.keyboard.press("Escape")
    page.keyboard.press("3")
    page.keyboard.press("y")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("link", name="1 Brief")).to_have_attribute("aria-current", "page")
    page.keyboard.press("Control+k")
    expect(page.get_by_role("dialog")).to_be_visible()


def test_a_deleted_plan_is_taken_back_until_the_page_is_left_and_a_show_begins_from_the_last(
    page: Page, server: Server
) -> None:
    page.goto(server.url)

    def delete() -> None:
        page.get_by_role("button", name="Delete Saltmere Lantern Regatta").click()
        page.get_by_role("dialog").get_by_role("button", name="Delete it").click()
        expect(page.get_by_text("It goes for good, keys too, when this page is left.")).to_be_visible()

    delete()
    page.get_by_role("button", name="Undo deleting Saltmere Lantern Regatta").click()
    page.get_by_label("Start from").select_option(label="Saltmere Lantern Regatta")
    page.get_by_label("Name of the show").fill("Lantern Regatta, next year")
    page.get_by_role("button", name="Begin a plan").click()
    expect(page.get_by_role("heading", name="Lantern Regatta, next year")).to_be_visible()
    expect(page.get_by_text("Program of Switcher at Alder")).to_be_visible()
    page.goto(server.url)
    delete()
    assert asked(server).status_code == 200
    page.get_by_role("link", name="Lantern Regatta, next year").click()
    expect(page.get_by_role("heading", name="Lantern Regatta, next year")).to_be_visible()
    page.wait_for_timeout(300)
    assert asked(server).status_code == 404


SIZES = ((1024, 700), (640, 400), (390, 844))


@soak.further
def test_nothing_is_wider_than_the_screen(page: Page, server: Server) -> None:
    """640 × 400 CSS pixels are 1280 × 800 at 200 % zoom (WCAG 2.2, 1.4.10)."""
    at(page, server, "brief")
    for number, stage in enumerate((*STAGES, *part(FURTHER, 2))):
        page.evaluate(GO, f"{PLAN}/{stage}")
        expect(page.get_by_role("main").get_by_role("heading").first).to_be_visible()
        page.wait_for_timeout(250)
        for width, height in SIZES if WHOLE else SIZES[number % 3 :][:1]:
            page.set_viewport_size({"width": width, "height": height})
            page.wait_for_timeout(120)
            wide = page.evaluate(
                "[document.documentElement.scrollWidth, document.querySelector('main').scrollWidth - document.querySelector('main').clientWidth]"
            )
            assert wide[0] <= width and wide[1] <= 0, (stage, width, wide)


@soak.further
def test_long_work_says_so_and_can_be_cancelled_and_what_undo_took_away_is_not_on_the_screen(
    page: Page, server: Server
) -> None:
    page.route("**/routes?*", lambda _: None)  # an answer that never comes
    at(page, server, "signal/finder")
    finder = page.get_by_role("region", name="Get a picture there")
    finder.get_by_label("From", exact=True).select_option(label="Quay camera")
    finder.get_by_label("To", exact=True).select_option(label="Switcher")
    expect(finder.get_by_role("status")).to_contain_text(re.compile(r"Looking for ways, \d+ s"))
    finder.get_by_role("button", name="Cancel").click()
    expect(finder.get_by_role("status")).to_have_count(0)
    page.unroute("**/routes?*")
    finder.get_by_label("Into", exact=True).select_option(index=1)
    use = finder.get_by_role("button", name=re.compile("^Use this")).first
    use.click()
    saved(page, 2)
    page.get_by_role("link", name="Signal map").click()
    page.get_by_label("Find on the map").fill("Quay camera")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Where Quay camera goes")).to_be_visible()
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("u")
    saved(page, 3)
    expect(page.get_by_text("Quay camera to ", exact=False).filter(has_text="hop")).to_have_count(0)
    expect(page.locator("#pane")).to_contain_text("Quay camera reaches no screen")
