"""Fault finding in the hand: ten faults followed to their fix on desk and phone, two people on one fault, and the workaround."""

import random
import re
from datetime import UTC, datetime
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from humble_relay.core.faults.causes import Cause, causes_of
from humble_relay.core.judging.case import Case
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures
from humble_relay.demo import demo_plan
from tests import soak
from tests.browser.test_crew import NAME, PLAN, asked, desk_of, phone_of
from tests.browser.test_screens import serious
from tests.browser.test_set_up import venue as venue
from tests.core.faults.test_fault_finding import World
from tests.server import Server

TEN = [
    ("switcher/in-1", "cable:slipway-run", "black"),
    ("switcher/in-2", "power:weir-cam", "\"no source\""),
    ("switcher/in-3", "output:deck-cam:deck-run", "\"format not supported\""),
    ("loft-screen/hdmi", "cable:loft-lead", "black"),
    ("alder:alder-feed", "key:alder-feed", "live at the desk, viewers see nothing"),
    ("loft-decoder:loft-feed", "address:loft-decoder", "times out"),
    ("millrace:hide-feed", "stream:hide-feed", "\"no source\""),
    ("punt-decoder:punt-feed", "firewall:punt-feed", "times out"),
    ("birch:birch-feed", "line:boathouse-fibre", "stutters"),
    ("card-recorder/sdi", "limit:card-recorder", "stops after some minutes"),
]  # fmt: skip


class Honest(World):
    """The demo with one fault in it, looked at by somebody who sees right."""

    def __init__(self, at: str, cause: str) -> None:
        found = demo_plan()
        case = Case(found.plan, found.survey, datetime(2026, 9, 19, 12, tzinfo=UTC))
        picture: SeenPicture = next(p for p in seen_pictures(case) if p.id == at)
        fault: Cause = next(c for c in causes_of(case, picture, "black") if c.id == cause)
        super().__init__(case, picture, fault, random.Random(1))
        self.at = picture.at


def _open_at(desk: Page, world: Honest) -> dict[str, Any]:
    """The open fault as the server has it, once it has it."""
    for _ in range(100):
        faults: list[dict[str, Any]] = asked(desk, "GET", f"/api{PLAN}/faults")["faults"]
        if faults and faults[0]["open"] and faults[0]["at"] == world.at:
            return faults[0]
        desk.wait_for_timeout(100)
    raise AssertionError(f"not begun: {world.at}")


def followed(page: Page, desk: Page, world: Honest) -> int:
    """Answers what is asked until the fault has ended; in how many tests."""
    for made in range(1, 15):
        fault = _open_at(desk, world)
        step = fault["next"][0]
        test = type("Shown", (), {**step, "kind": step["id"].split(":")[0], "link": step["id"].split(":", 1)[1], "mends": step["id"].removeprefix("mend:") if step["mends"] else ""})  # fmt: skip
        good = world.is_good(test)  # type: ignore[arg-type]
        card = page.get_by_role("article", name=f"Fault: {world.at}")
        shown = card.get_by_role("region", name=step["says"], exact=True).first
        expect(shown).to_be_visible()
        shown.get_by_role("button", name=step["good" if good else "bad"], exact=True).click()
        if step["mends"] and good:
            expect(card).to_have_count(0)
            return made
        expect(card.get_by_role("region", name="Tried").get_by_role("listitem")).to_have_count(made)
    raise AssertionError(f"not found: {world.fault.id}")


@soak.further
@pytest.mark.xdist_group("faults")
def test_faults_are_followed_to_their_fix_on_desk_and_phone(browser: Browser, venue: Server) -> None:
    desk = desk_of(browser, venue)
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/set-up/faults")
    crew = asked(desk, "GET", f"/api{PLAN}/crew")
    phone = phone_of(browser, venue, crew["code"], "Net Loft")
    phone.get_by_role("button", name="Faults").click()
    for n, (at, cause, symptom) in enumerate(soak.part(TEN, 3)):
        world, page = Honest(at, cause), phone if n % 2 else desk
        page.get_by_label("What does not appear?").select_option(at)
        page.get_by_label("What is seen or heard").select_option(symptom)
        page.get_by_role("radio", name="It was there, and stopped" if cause.startswith(("line", "limit")) else "It never came").check()  # fmt: skip
        page.get_by_role("button", name="Find the fault").click()
        expect(page.get_by_role("article", name=f"Fault: {world.at}")).to_be_visible()
        assert followed(page, desk, world) <= 12, cause
        expect(desk.get_by_role("region", name="Ended").locator("> ul > li")).to_have_count(n + 1)
        ended = asked(desk, "GET", f"/api{PLAN}/faults")["faults"][0]
        assert not ended["open"] and ended["cause"] == world.fault.says
    assert asked(desk, "GET", f"/api{PLAN}")["version"] == 1  # nothing of it changes the plan
    expect(desk.get_by_role("listitem").filter(has_text=Honest(*TEN[0][:2]).fault.says)).to_be_visible()
    # What was found is offered to the desk as an edit.
    found = (
        desk.get_by_role("region", name="Ended")
        .get_by_role("listitem")
        .filter(has_text=Honest(*TEN[0][:2]).fault.says)
    )
    found.get_by_text("Keep in the plan").click()
    damaged = found.get_by_role("listitem").filter(has_text="is damaged")
    damaged.get_by_role("button", name="See what changes").click()
    expect(damaged.get_by_text(re.compile("Brings")).first).to_be_visible()


def test_two_people_are_on_one_fault_and_the_show_goes_on_meanwhile(browser: Browser, venue: Server) -> None:
    desk = desk_of(browser, venue)
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/set-up")
    crew = asked(desk, "GET", f"/api{PLAN}/crew")
    phone = phone_of(browser, venue, crew["code"], "Net Loft")
    # Both say that the loft is dark: by a typed line, and by what was looked for on the spot.
    desk.keyboard.press("/")
    desk.keyboard.type("net loft screen dark")
    desk.keyboard.press("Enter")
    for theme in ("day", "night"):
        desk.evaluate("theme => { document.documentElement.dataset.theme = theme }", theme)
        assert serious(desk) == [], theme
    desk.get_by_role("button", name="Find the fault").click()
    card = desk.get_by_role("article", name="Fault: Net Loft screen, HDMI in")
    expect(card).to_be_visible()
    phone.get_by_role("button", name="Set up").click()
    phone.get_by_label("I am at").select_option("net-loft")
    phone.get_by_role("region", name="Picture at Net Loft screen, HDMI in").get_by_role("button", name="Not appearing").click()  # fmt: skip
    phone.get_by_label("What is seen or heard").select_option('"no source"')
    phone.get_by_role("button", name="Find the fault").click()
    here = phone.get_by_role("article", name="Fault: Net Loft screen, HDMI in")
    expect(here).to_have_count(1)
    expect(card).to_have_count(1)
    expect(card).to_contain_text('"no source"')
    # What one tried, the other sees, and is not asked again; after two in vain the workaround comes first.
    for n in (1, 2):
        first = here.get_by_role("region").first
        was = first.get_attribute("aria-label")
        here.get_by_role("button").first.click()
        expect(here.get_by_role("region", name="Tried").get_by_role("listitem")).to_have_count(n)
        expect(card.get_by_role("region", name="Tried")).to_contain_text(was or "")
        expect(card.get_by_role("region", name="Tried")).to_contain_text("Net Loft")
    expect(card.get_by_role("region", name="Meanwhile")).to_contain_text("laptop, Net Loft")
    # A slip of the thumb is taken back, for both.
    here.get_by_role("button", name=re.compile("^Take back")).first.click()
    expect(here.get_by_role("region", name="Tried").get_by_role("listitem")).to_have_count(1)
    expect(card.get_by_role("region", name="Tried").get_by_role("listitem")).to_have_count(1)
    assert serious(phone) == []
    # Out of reach there is still something to look at, and it is sent later.
    phone.context.set_offline(True)
    phone.get_by_label("What does not appear?").select_option("loft-decoder:loft-feed")
    phone.get_by_role("button", name="Find the fault").click()
    kept = phone.get_by_role("article", name=re.compile("Fault: Net Loft decoder"))
    expect(kept).to_contain_text("kept on this phone")
    kept.get_by_role("button").first.click()
    expect(kept.get_by_role("region", name="Tried").get_by_role("listitem")).to_have_count(1)
    phone.context.set_offline(False)
    expect(phone.get_by_role("status")).to_have_text("All sent")
    expect(desk.get_by_role("article", name=re.compile("Fault: Net Loft decoder"))).to_be_visible()
    card.get_by_role("button", name=re.compile("^It works again")).click()
    expect(card).to_have_count(0)
    expect(here).to_have_count(0)
    desk.goto(f"http://{NAME}:{venue.port}{PLAN}/survey/log")
    for said in ("fault: black", "tried", "fault ended: nobody knows why"):
        expect(desk.get_by_role("row").filter(has_text=said).first).to_be_visible()
