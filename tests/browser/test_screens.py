"""Every screen in both themes under axe; two tabs; a lost server; the working behind a figure."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests import soak
from tests.server import Server
from tests.soak import part

AXE = Path("frontend/node_modules/axe-core/axe.min.js")
PLAN = "/plans/saltmere-lantern-regatta"
PAST_THE_END = """() => {
  const main = document.querySelector("main");
  const ends = [...main.children].map((e) => e.getBoundingClientRect().bottom + main.scrollTop);
  return main.scrollHeight - Math.max(...ends) + main.getBoundingClientRect().top;
}"""
STAGES = ("brief", "survey", "gear", "signal", "addresses", "bandwidth", "set-up", "papers")
GO = "(to) => { history.pushState({}, '', to); dispatchEvent(new PopStateEvent('popstate')) }"
"""Goes to an address as a link within the page does."""
FURTHER = ("brief/places", "brief/days", "survey/measure", "survey/uplinks", "survey/found", "survey/log", "survey/crew", "gear/library", "gear/table", "gear/stock",
           "signal/finder", "signal/arrivals", "signal/links", "signal/sound", "addresses/streams", "addresses/networks",
           "addresses/routers", "addresses/devices", "addresses/read", "bandwidth/streams", "bandwidth/best-fit", "set-up/run", "set-up/list")  # fmt: skip
"""The pages of stages beyond their instruments."""


def serious(page: Page, only: str = "") -> list[str]:
    """What axe finds serious or critical on the page (by one rule alone, where one is named), with the first place it stands."""
    if not page.evaluate("!!window.axe"):
        page.evaluate(AXE.read_text())
    options = {"resultTypes": ["violations"]} | ({"runOnly": [only]} if only else {})
    found = page.evaluate("options => axe.run(document, options).then(r => r.violations)", options)
    return [
        f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found if v["impact"] in ("serious", "critical")
    ]


@pytest.mark.parametrize(
    ("theme", "only"), [("day", ""), pytest.param("night", "color-contrast", marks=soak.further)]
)
def test_axe_finds_nothing_serious_on_any_screen(page: Page, server: Server, theme: str, only: str) -> None:
    """By day every rule; by night, where the same elements have other colours, that of contrast."""
    page.goto(server.url)
    page.evaluate("theme => localStorage.setItem('humble-relay:theme', theme)", theme)
    page.reload()
    page.get_by_role("link", name="Saltmere Lantern Regatta").wait_for()
    assert serious(page, only) == []
    page.get_by_role("link", name="Saltmere Lantern Regatta").click()
    for number, stage in enumerate(STAGES, 1):
        page.get_by_role("heading", name="Findings").wait_for()
        page.keyboard.press(str(number))
        expect(page).to_have_url(re.compile(f"{PLAN}/{stage}"))
        page.wait_for_timeout(300)
        assert serious(page, only) == [], stage
        page.wait_for_function(f"() => ({PAST_THE_END})() < 200")  # it does not scroll on into nothing
    for further in part(FURTHER, 3) if theme == "day" and soak.FURTHER else ():
        page.evaluate(GO, f"{PLAN}/{further}")
        page.wait_for_timeout(300)
        assert serious(page, only) == [], further
    for key in ("?", "/", "h"):
        page.keyboard.press(key)
        expect(page.get_by_role("dialog")).to_have_count(1)
        page.wait_for_timeout(200)
        assert serious(page, only) == [], key
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)


@soak.further
def test_every_figure_opens_its_working_with_its_source(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/bandwidth/streams")
    streams = page.locator("section").filter(has=page.get_by_role("heading", name="Streams", exact=True))
    streams.get_by_role("button", name="8.41 Mb/s", exact=True).first.click()
    panel = page.get_by_role("heading", name="Program to Alder on the line").locator("..")
    for line in ("Video", "Audio", "Container", "TLS records", "TCP and IP headers", "RFC 8446"):
        expect(panel).to_contain_text(line)
    page.keyboard.press("Escape")
    page.goto(f"{server.url}{PLAN}/signal/links")
    page.get_by_role("button", name="91 m").first.click()
    own = page.get_by_label("Good coax at 2.97 Gb/s, for this plan")
    own.fill("30")
    own.press("Enter")
    expect(page.locator("#pane")).to_contain_text("is 40 m of SDI coax; relied on is 30 m")


def test_two_tabs_never_overwrite_each_other_silently(page: Page, server: Server) -> None:
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"{server.url}{PLAN}/bandwidth/streams")
        expect(tab.get_by_label("Video bitrate", exact=True).first).to_have_value("8")
    mine = other.get_by_label("Video bitrate", exact=True).first
    mine.fill("7")
    theirs = page.get_by_label("Video bitrate", exact=True).first
    theirs.fill("5")
    theirs.press("Enter")
    expect(page.get_by_role("status").first).to_have_text("Saved, version 2")
    mine.press("Enter")
    expect(other.get_by_role("alert")).to_contain_text("bitrate of Program to Alder 8 → 5 Mb/s")
    other.get_by_role("button", name="Make my change on the new version").click()
    expect(other.get_by_role("status").first).to_have_text("Saved, version 3")
    expect(mine).to_have_value("7")


def test_a_lost_server_is_said_and_the_typed_change_arrives_later(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/bandwidth/streams")
    field = page.get_by_label("Video bitrate", exact=True).first
    expect(field).to_have_value("8")
    server.stop()
    field.fill("5.5")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("cannot be reached")
    expect(field).to_have_value("5.5")
    server.start()
    expect(page.get_by_role("status").first).to_have_text("Saved, version 2", timeout=15_000)
    expect(page.locator("#pane")).to_contain_text("26.7 Mb/s fits Boathouse fibre mostly")


@soak.further
def test_the_call_sheet_prints_without_the_frame(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/papers")
    expect(page.get_by_role("region", name="Run sheet")).to_be_visible()
    page.emulate_media(media="print")
    expect(page.get_by_role("navigation", name="Stages")).to_be_hidden()
    expect(page.locator("#pane")).to_be_hidden()
    expect(page.get_by_role("region", name="Cable schedule")).to_contain_text("Slipway camera, SDI out")
    assert len(page.pdf()) > 10_000
