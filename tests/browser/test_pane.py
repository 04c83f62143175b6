"""The pane: what is picked has an address, is set there, and back leads back."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from humble_relay.core.catalogue.glossary import glossary
from humble_relay.core.plan import NOUNS
from humble_relay.demo import demo_plan
from tests import soak
from tests.browser.hand import PASTE
from tests.browser.test_screens import GO
from tests.server import Server
from tests.soak import part

PLAN = "/plans/saltmere-lantern-regatta"


def test_what_is_picked_is_set_in_the_pane_stepped_on_from_and_back_leads_back(
    page: Page, server: Server
) -> None:
    page.goto(f"{server.url}{PLAN}/signal?pick=link:slipway-run")
    pane = page.get_by_role("complementary", name="Findings")
    run = pane.get_by_role("region", name="Slipway camera, SDI out to Switcher, Input 1")
    expect(run).to_contain_text("hold")
    run.get_by_label("Length", exact=True).fill("400")
    expect(pane.get_by_role("listitem").filter(has_text="400 m of SDI coax")).to_contain_text("would come")
    run.get_by_label("Length", exact=True).press("Enter")
    expect(run).to_contain_text("Slipway camera, SDI out to Switcher, Input 1 is 400 m of SDI coax")
    run.get_by_role("button", name="What to do").click()
    expect(pane.get_by_role("region", name="is 400 m of SDI coax")).to_contain_text("To do:")
    page.go_back()
    run.get_by_role("button", name="Switcher", exact=True).click()
    expect(page).to_have_url(re.compile("pick=device%3Aswitcher"))
    switcher = pane.get_by_role("region", name="Switcher", exact=True)
    switcher.get_by_text(re.compile("^All [0-9]+ fields$")).click()
    switcher.get_by_label("Find a field").fill("multi")
    expect(switcher.get_by_role("heading", name=re.compile("multi", re.IGNORECASE))).to_be_visible()
    # Another stage, another seven fields of the same thing; a thing that is gone says so.
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("5")
    expect(page).to_have_url(re.compile("addresses.*pick=device%3Aswitcher"))
    expect(switcher.get_by_label("IPv6 address").first).to_be_visible()
    page.keyboard.press("Escape")
    expect(pane.get_by_role("heading", name="Findings")).to_be_visible()
    page.evaluate(GO, f"{PLAN}/signal?pick=device:nobody")
    expect(pane.get_by_role("alert")).to_contain_text(
        "has no device called nobody, and its history tells of none"
    )


@soak.further
def test_nine_picks_in_ten_are_seen_whole(page: Page, server: Server) -> None:
    """Every thing of the demo, on the stage where it is typed, in a pane of 340 by 690 px."""
    plan, tall = demo_plan().plan, list[str]()
    page.set_viewport_size({"width": 1280, "height": 762})
    page.goto(f"{server.url}{PLAN}/papers")
    expect(page.get_by_role("heading", name="Findings")).to_be_visible()
    things = [
        (noun, row.typed_at, x.id) for noun, row in NOUNS.items() for x in getattr(plan, row.collection)
    ]
    things = list(part(things, 3))
    for noun, stage, id in things:
        page.evaluate(GO, f"{PLAN}/{stage}?pick={noun}:{id}")
        page.wait_for_function(
            "(id) => location.search.endsWith(id) && document.querySelector('#pane section h3')", arg=id
        )
        page.wait_for_timeout(60)
        width, over = page.evaluate(
            "(() => { const p = document.querySelector('#pane'); return [p.clientWidth, p.scrollHeight - p.clientHeight] })()"
        )
        assert width <= 340
        tall += [f"{noun} {id} {over}"] if over > 0 else []
    assert len(tall) <= len(things) / 10, tall


def test_many_are_changed_at_once_in_a_table_and_pasted_into_it(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/survey/uplinks")
    table = page.get_by_role("region", name="Uplinks")
    for line in ("Punt modem 1", "Punt modem 2"):
        table.get_by_label(f"Tick {line}").check()
    field = table.get_by_label("Carrier of Punt modem 2", exact=True)
    field.fill("Sandbar")
    field.press("Enter")
    expect(table.get_by_label("Carrier of Punt modem 1", exact=True)).to_have_value("Sandbar")
    expect(page.get_by_role("status").first).to_have_text("Saved, version 2")  # one change
    table.get_by_text(re.compile("^Columns: 7 of ")).click()
    table.get_by_label(re.compile("Data cap")).first.check()
    first = table.get_by_label("Carrier of Punt modem 1", exact=True)
    first.evaluate(PASTE, "Fenside\tall but TCP\nMarram\teverything")
    expect(table.get_by_role("alert")).to_contain_text('"all but TCP" (Punt modem 1, Outbound filter)')
    expect(first).to_have_value("Sandbar")  # nothing of it was pasted
    first.evaluate(PASTE, "Fenside\tall but UDP\nMarram\teverything")
    expect(first).to_have_value("Fenside")
    expect(table.get_by_label("Carrier of Punt modem 2", exact=True)).to_have_value("Marram")
    expect(table.get_by_label("Outbound filter of Punt modem 1")).to_have_value("tcp")
    page.reload()
    expect(table.get_by_text(re.compile("^Columns: 8 of "))).to_be_visible()


@soak.further
def test_a_term_leads_to_the_glossary_and_back(page: Page, server: Server) -> None:
    used = {of for file in Path("frontend/src").rglob("*.tsx") for of in re.findall(r'<Term of="([^"]+)"', file.read_text())}  # fmt: skip
    assert used and used <= {term.id for term in glossary()}
    page.goto(f"{server.url}{PLAN}/bandwidth?pick=uplink:boathouse-fibre")
    fibre = page.get_by_role("region", name="Headroom on Boathouse fibre")
    fibre.get_by_text("Rules, hours and intervals").click()
    fibre.get_by_role("link", name="90 % interval").click()
    expect(page.get_by_text("for nine of ten lines that were measured like this one")).to_be_in_viewport()
    page.get_by_role("button", name="Back").click()
    expect(fibre).to_be_visible()
    expect(page).to_have_url(re.compile("pick=uplink"))
