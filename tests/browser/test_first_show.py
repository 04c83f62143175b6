"""A show from an empty start to paper and back, by keyboard alone."""

import json
from pathlib import Path

import httpx
from playwright.sync_api import Locator, Page, expect

from tests import soak
from tests.server import Server

TABS_AWAY = """e => {
  const stops = [...document.querySelectorAll("a[href], button, input, select, textarea, summary, [tabindex]")].filter(
    (s) => s === document.activeElement || (s.tabIndex >= 0 && !s.disabled && s.checkVisibility() && (s.type !== "radio" || s.checked)));
  return stops.indexOf(e) - stops.indexOf(document.activeElement);
}"""
"""How often Tab is pressed from where the focus is to the element; less than none: with Shift."""


def reach(page: Page, target: Locator) -> None:
    """Moves focus to the target with the Tab key, as somebody without a mouse does."""
    expect(target).to_be_visible()
    for _ in range(12):  # what is loaded meanwhile may move it further
        away = target.evaluate(TABS_AWAY)
        for _ in range(abs(away)):
            page.keyboard.press("Tab" if away > 0 else "Shift+Tab")
        if not away and target.evaluate("e => e === document.activeElement"):
            return
    raise AssertionError(f"{target} cannot be reached by Tab")


def press(page: Page, name: str, role: str = "button", exact: bool = True, index: int = 0) -> None:
    target = page.get_by_role(role, name=name, exact=exact).nth(index)  # type: ignore[arg-type]
    reach(page, target)
    page.keyboard.press("Enter")


def fill(page: Page, label: str, text: str, enter: bool = True) -> None:
    target = page.get_by_label(label, exact=True)
    reach(page, target)
    page.keyboard.press("Control+A")
    page.keyboard.type(text)
    if enter:
        page.keyboard.press("Enter")


def choose(page: Page, label: str, first_letters: str) -> None:
    reach(page, page.get_by_label(label, exact=True))
    page.keyboard.type(first_letters)


def saved(page: Page, version: int) -> None:
    expect(page.get_by_role("status").first).to_have_text(f"Saved, version {version}")


def stage(page: Page, key: str, name: str) -> None:
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press(key)
    expect(page.get_by_role("link", name=name)).to_have_attribute("aria-current", "page")


def turn(page: Page, name: str) -> None:
    """To another page of the stage."""
    press(page, name, role="link")
    expect(page.get_by_role("link", name=name, exact=True)).to_have_attribute("aria-current", "page")


def findings(page: Page) -> Locator:
    return page.locator("#pane > ul > li")


@soak.only
def test_from_empty_to_paper_and_back_by_keyboard_alone(page: Page, server: Server, tmp_path: Path) -> None:
    page.goto(server.url)
    fill(page, "Name of the show", "Harbour Talk")
    expect(page.get_by_role("heading", name="Harbour Talk")).to_be_visible()
    choose(page, "Raster, pixels", "1920")
    saved(page, 2)
    turn(page, "Places")
    fill(page, "Add a place", "Quay")
    saved(page, 3)

    stage(page, "2", "2 Survey")
    turn(page, "Uplinks")
    fill(page, "Add uplink", "Quay fibre")
    saved(page, 4)
    turn(page, "Measure")
    reach(page, page.get_by_label("Measurements of Quay fibre"))
    page.keyboard.type("6.8 up 30 down 20 ms busy\n6.9 up 31 down busy\n7 up 30 down 21 ms busy\n")
    press(page, "Read it")
    expect(page.get_by_label("Upload in Mb/s, row 3")).to_have_value("7")
    press(page, "Add 3 to Quay fibre")
    expect(page.get_by_text("3 measurements")).to_be_visible()

    stage(page, "3", "3 Gear")
    for model in ("Teasel Field camera", "Teasel Streaming encoder", "Video platform"):
        press(page, f"Add {model}")
    saved(page, 7)
    turn(page, "In this plan")
    press(page, "Video platform")
    fill(page, "Host", "ingest.birch.example")
    saved(page, 8)
    press(page, "All findings")

    stage(page, "5", "5 Addresses")
    turn(page, "Networks")
    fill(page, "Add a network", "Show network")
    saved(page, 9)
    fill(page, "Range of Show network", "192.168.7.0/24")
    turn(page, "Devices")
    choose(page, "Network of Streaming encoder, LAN", "Show")
    saved(page, 11)

    # The command bar: alternatives first, done only when chosen.
    for line, chosen in (("field to stream", "SDI coax"), ("stream to video", "RTMPS stream")):
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("/")
        page.keyboard.type(line)
        expect(page.get_by_role("dialog").get_by_role("option", name=chosen).first).to_be_visible()
        for _ in range(4):
            if chosen in (page.locator("[role=option][data-focus]").first.text_content() or ""):
                break
            page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        asked = page.get_by_role("dialog").get_by_role("alert")
        asked.or_(page.get_by_role("main")).first.wait_for()
        page.wait_for_timeout(500)
        if asked.count():  # it would add a finding: that is read, and done all the same
            page.keyboard.press("Enter")
        expect(page.get_by_role("dialog")).to_have_count(0)
    saved(page, 13)

    # Typing a key ends its finding; a bitrate too large shows its effect before it is kept.
    expect(findings(page).filter(has_text="has no stream key")).to_have_count(1)
    turn(page, "Streams")
    fill(page, "Key of Streaming encoder to Video platform", "tide-table")
    expect(findings(page).filter(has_text="has no stream key")).to_have_count(0)
    stage(page, "6", "6 Bandwidth")
    too_small = findings(page).filter(has_text="Quay fibre is asked for")
    expect(too_small).to_have_count(1)
    turn(page, "Streams")
    fill(page, "Video bitrate", "3,5", enter=False)
    expect(too_small.filter(has_text="would go")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(too_small.filter(has_text="would go")).to_have_count(0)
    fill(page, "Video bitrate", "lots", enter=False)
    expect(page.get_by_role("alert")).to_contain_text("Write a number in Mb/s")
    page.keyboard.press("Escape")

    # A figure opens its working; a fix is looked at, applied, undone and done again.
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("d")
    head = too_small.get_by_role("button").first
    reach(page, head)
    page.keyboard.press("Enter")
    opened = page.get_by_role("region", name="Quay fibre is asked for")
    look = opened.get_by_role("button", name="See what changes").first
    reach(page, look)
    page.keyboard.press("Enter")
    expect(opened.get_by_text("Ends:").first).to_be_visible()
    apply = opened.get_by_role("button", name="Apply").first
    reach(page, apply)
    page.keyboard.press("Enter")
    expect(opened).to_have_count(0)
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("u")
    expect(opened).to_have_count(1)
    page.keyboard.press("r")
    expect(opened).to_have_count(0)
    page.keyboard.press("h")
    expect(page.get_by_role("dialog")).to_contain_text("undid:")
    page.keyboard.press("Escape")

    # Exported, imported again: the same report.
    stage(page, "8", "8 Papers")
    expect(page.get_by_role("region", name="Stream addresses")).to_contain_text(
        "rtmps://ingest.birch.example:443/live"
    )
    expect(page.get_by_role("main")).not_to_contain_text("tide-table")
    reach(page, page.get_by_label("with stream keys in clear"))
    page.keyboard.press("Space")
    expect(page.get_by_role("main")).to_contain_text("tide-table")
    with page.expect_download() as download:
        press(page, "Export the plan as a file", role="link")
    file = tmp_path / "exported.json"
    download.value.save_as(file)
    page.goto(server.url)
    page.get_by_label("Plan file").set_input_files(file)
    press(page, "Open it under the same name")
    expect(page.get_by_role("heading", name="Harbour Talk")).to_be_visible()
    at = "?as_of=2026-09-14T10:00:00Z"
    for what in ("report", "views/bandwidth", "views/signal"):
        ids = ("harbour-talk", "harbour-talk-2")
        said = [httpx.get(f"{server.url}/api/plans/{id}/{what}{at}").json() for id in ids]
        assert said[0] == said[1] and any(said[0].values())

    page.goto(server.url)
    bad = tmp_path / "bad.json"
    bad.write_text(json.dumps({"format": "humble-relay-plan", "version": 99}))
    page.get_by_label("Plan file").set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("newer version")
