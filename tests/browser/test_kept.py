"""Nothing is lost between the hand and the disk, and no secret is left in the browser."""

import sqlite3
from contextlib import closing
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests import soak
from tests.browser.conftest import opened
from tests.server import Server

PLAN = "/plans/saltmere-lantern-regatta"


@pytest.fixture
def server(own_server: Server) -> Server:
    """These tests kill it, and look at its files."""
    return own_server


def now(server: Server) -> dict:  # type: ignore[type-arg]
    found: dict = httpx.get(f"{server.url}/api{PLAN}").json()  # type: ignore[type-arg]
    return found


def told(server: Server) -> list[str]:
    return [line for e in httpx.get(f"{server.url}/api{PLAN}/history").json() for line in e["what"]]


def storage(page: Page) -> str:
    found: str = page.evaluate(
        "JSON.stringify(Object.entries(localStorage)) + JSON.stringify(Object.entries(sessionStorage))"
    )
    return found


def test_two_quick_choices_of_one_format_are_both_kept(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/brief")
    page.get_by_label("Raster, pixels").select_option("1280x720")
    page.get_by_label("Frames/s").select_option("25")
    expect(page.get_by_role("status").first).to_have_text("Saved, version 3")
    assert now(server)["plan"]["show"]["format"] == {"width": 1280, "height": 720, "rate": "25", "scan": "p"}


def test_what_is_typed_and_chosen_is_kept_when_the_page_is_left_in_the_middle(
    page: Page, server: Server
) -> None:
    page.goto(f"{server.url}{PLAN}/brief")
    page.get_by_label("Name", exact=True).fill("Lanterns by night")
    page.reload()
    expect(page.get_by_role("heading", name="Lanterns by night")).to_be_visible()
    page.get_by_label("Frames/s").select_option("30")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="3 Gear").click()  # before the choice has rested
    expect(page.get_by_role("status").first).to_have_text("Saved, version 3")
    assert now(server)["plan"]["show"]["format"]["rate"] == "30"


def test_a_change_whose_answer_was_lost_is_made_once(page: Page, server: Server) -> None:
    """What else may happen on the way is asked of the queue alone (frontend/tests/sync.test.ts)."""
    page.goto(f"{server.url}{PLAN}/bandwidth/streams")
    lost: list[str] = []

    def lose(route: Route) -> None:
        if len(lost) < 2:
            lost.append(route.fetch().text())  # it arrives there, and its answer does not arrive here
            route.abort()
        else:
            route.continue_()

    page.route("**/edits", lose)
    field = page.get_by_label("Video bitrate", exact=True).first
    field.fill("4.5")
    field.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="cannot be reached")).to_be_visible()
    expect(page.get_by_role("status").first).to_have_text("Saved, version 2")
    assert len(lost) == 2 and sum("4.5" in line for line in told(server)) == 1
    assert "humble-relay:unsent" not in storage(page)


@soak.further
def test_an_hour_offline_in_two_tabs_and_a_closed_laptop_arrive_once(
    browser: Browser, page: Page, server: Server
) -> None:
    page.goto(f"{server.url}{PLAN}/brief")
    other = page.context.new_page()
    other.goto(f"{server.url}{PLAN}/addresses/streams")
    expect(other.get_by_role("heading", name="Stream addresses")).to_be_visible()
    server.kill()
    name = page.get_by_label("Name", exact=True)
    name.fill("Lanterns offline")
    name.press("Enter")
    page.get_by_label("Frames/s").select_option("25")
    expect(page.get_by_role("alert").filter(has_text="kept here")).to_be_visible()
    page.wait_for_timeout(600)  # the choice has rested
    key = other.locator("input[type=password]").first
    key.fill("planted-tide-table")
    key.press("Enter")
    expect(other.get_by_role("alert").filter(has_text="in this tab only")).to_be_visible()
    for tab in (page, other):
        assert "planted" not in storage(tab) and "Lanterns offline" in storage(tab)
    page.close()
    other.close()
    server.start()
    again = page.context.new_page()
    again.goto(f"{server.url}{PLAN}/brief")
    expect(again.get_by_role("heading", name="Lanterns offline")).to_be_visible()
    expect(again.get_by_role("alert").filter(has_text="not kept")).to_contain_text("key of Program to Alder")
    again.get_by_role("button", name="I have seen it").click()
    expect(again.get_by_role("status").first).to_have_text("Saved, version 3")
    assert now(server)["plan"]["show"]["format"]["rate"] == "25"
    assert sum("Lanterns offline" in line for line in told(server)) == 1
    again.reload()
    expect(again.get_by_role("status").first).to_have_text("Saved, version 3")
    assert "unsent" not in storage(again)


@soak.further
def test_a_stock_line_typed_while_the_server_is_away_stays_until_it_is_kept(
    page: Page, server: Server
) -> None:
    page.goto(f"{server.url}{PLAN}/gear/stock")
    page.get_by_text("Change the stock list").click()
    server.kill()
    model = page.get_by_label("Model", exact=True)
    model.fill("Teasel Lantern")
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("alert").filter(has_text="not kept yet")).to_be_visible()
    expect(model).to_have_value("Teasel Lantern")
    server.start()
    page.get_by_role("button", name="Write it down").click()
    expect(model).to_have_value("")
    assert "Teasel Lantern" in httpx.get(f"{server.url}/api/stock").text


def test_a_measurement_is_struck_out_and_counts_again(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/survey/measure")
    strikes = page.get_by_role("button", name="Strike out")
    expect(strikes.first).to_be_visible()
    before = page.locator("#pane").inner_text()
    count = strikes.count()
    while page.locator("#pane").inner_text() == before and strikes.count():
        strikes.first.click()
        expect(strikes).to_have_count(count := count - 1)
    expect(page.get_by_text("of them struck out")).to_be_visible()
    page.get_by_role("button", name="count it again").first.click()
    expect(strikes).to_have_count(count + 1)


@soak.further
def test_a_plan_is_deleted_only_after_what_goes_with_it_was_read(page: Page, server: Server) -> None:
    page.goto(server.url)
    page.get_by_role("button", name="Delete Saltmere Lantern Regatta").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("keys and passwords are overwritten in the data file")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    page.get_by_role("button", name="Delete Saltmere Lantern Regatta").click()
    dialog.get_by_role("button", name="Delete it").click()
    page.get_by_role("button", name="For good now").click()
    expect(page.get_by_text("No plan yet")).to_be_visible()
    assert httpx.get(f"{server.url}/api{PLAN}").status_code == 404


@soak.further
def test_beyond_this_machine_the_code_is_asked_for_once(browser: Browser, tmp_path: Path) -> None:
    server = Server(tmp_path / "data", "demo", "--host", "0.0.0.0", "--name", "127.0.0.1").start()
    try:
        with opened(browser, server) as page:
            page.goto(f"{server.url}{PLAN}/brief")
            page.get_by_label("Type the code").fill("wrong")
            page.keyboard.press("Enter")
            expect(page.get_by_role("alert")).to_contain_text("not the code")
            page.get_by_label("Type the code").fill(server.code())
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", name="Saltmere Lantern Regatta")).to_be_visible()
            page.reload()
            expect(page.get_by_role("heading", name="Saltmere Lantern Regatta")).to_be_visible()
    finally:
        server.kill()


@soak.further
def test_from_a_revision_that_rotted_there_is_a_way_back(page: Page, server: Server) -> None:
    edit = {"kind": "set", "noun": "show", "field": "name", "value": "Lanterns rotten"}
    with server.client() as client:
        client.post(
            f"/api{PLAN}/edits", json={"edits": [edit]}, headers={"If-Match": '"1"'}
        ).raise_for_status()
    with closing(sqlite3.connect(server.folder / "humble-relay.sqlite")) as db:
        db.execute("UPDATE revisions SET body = x'00' WHERE number = 2")
        db.commit()
    page.goto(f"{server.url}{PLAN}/brief")
    expect(page.get_by_role("alert")).to_contain_text("Revision 2 of saltmere-lantern-regatta cannot be read")
    page.get_by_role("button", name="Go to 1").click()
    expect(page.get_by_role("heading", name="Saltmere Lantern Regatta")).to_be_visible()
    assert now(server)["version"] == 3


def test_what_is_typed_before_the_command_bar_stands_is_typed_once(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/plans/saltmere-lantern-regatta/brief")
    page.get_by_role("button", name="Type a command").wait_for()
    page.keyboard.press("/")
    page.keyboard.type("quay cam to unicorn")
    expect(page.get_by_role("combobox", name="Command")).to_have_value("quay cam to unicorn")
    expect(page.get_by_role("status").first).to_have_text("Saved, version 1")
