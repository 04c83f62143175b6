"""Each stage used as a technician uses it, mistakes included."""

import csv
import io
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests import soak
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


def listed(page: Page, text: str):  # type: ignore[no-untyped-def]
    return page.locator("#pane > ul > li").filter(has_text=text)


def saved(page: Page, version: int) -> None:
    expect(page.get_by_role("status").first).to_have_text(f"Saved, version {version}")


@soak.further
def test_pings_text_asks_for_the_upload_before_it_is_added(at) -> None:  # type: ignore[no-untyped-def]
    page = at("survey/measure")
    box = page.get_by_label("Measurements of Boathouse fibre")
    box.fill("nonsense")
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("alert")).to_contain_text("No measurement found")
    expect(box).to_have_value("nonsense")
    box.fill(
        "64 bytes from 192.0.2.1: icmp_seq=1 ttl=5 time=30.0 ms\n64 bytes from 192.0.2.1: icmp_seq=2 ttl=5 time=34.0 ms\n"
    )
    page.get_by_role("button", name="Read it").click()
    add = page.get_by_role("button", name="Add 1 to Boathouse fibre")
    expect(add).to_be_disabled()
    page.get_by_label("Upload in Mb/s, row 1").fill("21,5")
    expect(add).to_be_enabled()
    add.click()
    expect(page.get_by_text("15 measurements")).to_be_visible()
    expect(page.get_by_text("1 added.")).to_be_visible()


def test_what_is_refused_stays_typed_and_is_not_sent_again_by_leaving_the_field(at) -> None:  # type: ignore[no-untyped-def]
    page, sent = at("brief"), []
    page.on("request", lambda r: sent.append(r.post_data) if r.url.endswith("/edits") else None)
    zone = page.get_by_label("Time zone")
    zone.fill("Mars/Olympus")
    history = page.get_by_role("button", name="History")
    before = history.bounding_box()
    history.click()  # leaves the field: refused, and the click is not lost
    page.get_by_role("dialog").get_by_role("button", name="Close").click()
    expect(page.get_by_role("alert")).to_contain_text("This cannot be done")
    expect(zone).to_have_value("Mars/Olympus")
    now = history.bounding_box()
    assert now and before and now["y"] == before["y"]  # nothing moved down under the pointer
    zone.focus()
    history.click()
    page.get_by_role("dialog").get_by_role("button", name="Close").click()
    assert len(sent) == 1
    zone.press("Enter")  # meant: it is asked again
    expect(page.get_by_role("alert")).to_be_visible()
    assert len(sent) == 2


@soak.further
def test_a_measurement_file_is_read(at, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    page = at("survey/measure")
    file = tmp_path / "measured.csv"
    file.write_text("at,up,down\n2026-09-13 20:00,22,90\n2026-09-13 20:30,21,88\n")
    page.get_by_label("Measurement file").set_input_files(file)
    expect(page.get_by_label("When, row 2")).to_have_value("13 Sep 2026, 20:30")
    page.get_by_role("button", name="Add 2 to Boathouse fibre").click()
    expect(page.get_by_text("16 measurements")).to_be_visible()


def test_a_mistyped_cable_and_address_are_found_where_they_are_and_mended_from_the_findings(at) -> None:  # type: ignore[no-untyped-def]
    page = at("signal/links")
    length = page.get_by_label(re.compile("^Length of Slipway camera, SDI out"))
    length.fill("forty")
    expect(page.get_by_role("alert")).to_contain_text("Write a number in m")
    length.fill("400")
    expect(listed(page, "is 400 m of SDI coax")).to_contain_text("would come")
    length.press("Enter")
    saved(page, 2)
    page.get_by_role("button", name="What to do").click()
    long = page.get_by_role("region", name="is 400 m of SDI coax")
    long.get_by_role("button", name="See what changes").first.click()
    expect(long.get_by_text("Ends:").first).to_be_visible()
    expect(long.get_by_text("Needs").first).to_be_visible()
    long.get_by_role("button", name="Apply").first.click()
    saved(page, 3)
    expect(listed(page, "is 400 m of SDI coax")).to_have_count(0)

    page = at("addresses/devices")
    address = page.get_by_label("Address of Boathouse encoder, LAN", exact=True)
    address.fill("192.168.2.30")
    expect(listed(page, "outside Show network")).to_contain_text("would come")
    address.press("Escape")
    expect(address).to_have_value("192.168.20.30")
    expect(listed(page, "outside Show network")).to_have_count(0)


@soak.further
def test_choosing_another_school_changes_the_verdict(at, server: Server) -> None:  # type: ignore[no-untyped-def]
    with server.client() as client:
        edits = [
            {"kind": "remove", "noun": "link", "id": id} for id in ("hide-feed", "punt-feed", "cedar-feed")
        ]
        client.post(
            f"/api{PLAN}/edits", json={"edits": edits}, headers={"If-Match": '"1"'}
        ).raise_for_status()
    page = at("bandwidth")
    headroom = page.get_by_role("region", name="Headroom on Boathouse fibre")
    headroom.get_by_text("Rules, hours and intervals").click()
    headroom.get_by_role("radio", name="By the worst").click()
    saved(page, 3)
    expect(listed(page, "may carry")).to_have_count(1)
    page.get_by_role("link", name="Streams", exact=True).click()
    slider = page.get_by_label("Video bitrate of Program to Alder, Enter keeps it")
    slider.focus()
    for _ in range(6):
        page.keyboard.press("ArrowLeft")
    expect(listed(page, "may carry")).to_contain_text("would go")
    page.keyboard.press("Enter")
    saved(page, 4)
    expect(page.get_by_label("Video bitrate", exact=True).first).to_have_value("5")


def test_a_key_is_masked_shown_when_asked_and_replaced(at) -> None:  # type: ignore[no-untyped-def]
    page = at("addresses/streams")
    expect(page.get_by_role("main")).not_to_contain_text("salt-7Q2d")
    page.get_by_role("button", name="Show key of Program to Alder").click()
    expect(page.get_by_role("main")).to_contain_text("salt-7Q2d-lantern-0O1l")
    field = page.get_by_label("Key of Program to Alder", exact=True)
    field.fill("new-key")
    field.press("Enter")
    saved(page, 2)
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("h")
    expect(page.get_by_role("dialog")).to_contain_text("key of Program to Alder set")
    expect(page.get_by_role("dialog")).not_to_contain_text("new-key")
    page.get_by_role("button", name="Go to 1").click()
    expect(page.get_by_role("dialog")).to_contain_text("went back to revision 1")
    page.keyboard.press("Escape")
    saved(page, 3)


@soak.further
def test_papers_are_saved_as_csv_and_tasks_ticked_in_the_brief(at) -> None:  # type: ignore[no-untyped-def]
    page = at("brief/days")
    done = page.get_by_role("checkbox", name="Done: Rehearse in the real place")
    done.click()
    expect(done).to_be_checked()
    page = at("papers")
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV of Run sheet").click()
    rows = list(csv.reader(io.StringIO(Path(download.value.path()).read_text())))
    assert rows[0] == ["When", "Phase", "At", "Min", "What", "Then seen", "Done"]
    assert next(r for r in rows if r[4].startswith("Rehearse"))[6] == "done"
    assert "Go live on Alder" in [r[4] for r in rows]


@soak.further
def test_the_light_and_the_keys_are_a_key_away(at) -> None:  # type: ignore[no-untyped-def]
    page = at("brief")
    page.keyboard.press("l")
    assert page.evaluate("document.documentElement.dataset.theme") == "night"
    page.reload()
    expect(page.get_by_role("heading", name="Findings")).to_be_visible()
    assert page.evaluate("document.documentElement.dataset.theme") == "night"
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Open the command bar")
    page.keyboard.press("Escape")
    page.keyboard.press("6")
    expect(page.get_by_role("region", name="Headroom on Boathouse fibre")).to_be_visible()
    page.get_by_role("link", name="Streams", exact=True).click()
    name = page.get_by_role("textbox", name="Video bitrate").first
    name.press("u")
    saved(page, 1)
