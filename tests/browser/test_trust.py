"""What the page does with secrets, with questions that could not be answered, and with two plans of one name."""

import json
import re
import tempfile
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan.survey import Survey
from humble_relay.demo import demo_plan
from humble_relay.formats.plan_file import write_plan
from tests import soak
from tests.browser.test_kept import storage
from tests.browser.test_screens import FURTHER, GO, STAGES
from tests.server import Server
from tests.soak import part
from tests.web.test_planted import MARK, planted

DEMO = "Saltmere Lantern Regatta"
PLAN = "/plans/saltmere-lantern-regatta"


@soak.further
def test_no_secret_of_any_field_is_on_a_page_or_in_the_browsers_storage(page: Page, server: Server) -> None:
    demo = demo_plan()
    survey = Survey(measurements=planted(demo.survey.measurements[:3], set()))
    with server.client(60) as client:
        made = client.post(
            "/api/plans/import", content=write_plan(planted(demo.plan, set()), survey, keys=True)
        )
        assert made.status_code == 201, made.text[:300]
    path = f"/plans/{made.json()['id']}"
    page.goto(f"{server.url}{path}")
    expect(page.get_by_role("navigation", name="Stages")).to_be_visible()
    for stage in (*STAGES, *part(FURTHER, 2)):
        page.evaluate(GO, f"{path}/{stage}")
        page.wait_for_timeout(100)  # the page before is gone
        expect(page.get_by_role("main").get_by_role("heading").first).to_be_visible()
        page.wait_for_timeout(300)
        whole = page.content() + json.dumps(page.evaluate("[...document.querySelectorAll('input, textarea')].map(x => x.value)"))  # fmt: skip
        at = whole.find(MARK)
        assert at < 0, f"{stage}: …{whole[max(0, at - 200) : at + 60]}…"
    page.keyboard.press("h")
    expect(page.get_by_role("heading", name="History")).to_be_visible()
    databases = page.evaluate("indexedDB.databases().then(found => found.length)")
    assert MARK not in page.content() + storage(page) and databases == 0
    assert not page.context.cookies()


def test_a_line_that_could_not_be_looked_up_says_so(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/signal")
    expect(page.get_by_role("navigation", name="Stages")).to_be_visible()
    busy = "3 long questions are being worked out before this one."

    def refuse(route: Route) -> None:
        route.fulfill(status=503, json={"title": "Not just now", "status": 503, "detail": busy})

    page.route("**/command", refuse)
    page.keyboard.press("/")
    line = page.get_by_label("Command", exact=True)
    line.fill("alder 5.5 mb")
    bar = page.get_by_role("dialog", name="Command bar")
    expect(bar.get_by_role("alert")).to_contain_text(f"could not be looked up. {busy}")
    expect(bar).not_to_contain_text("Nothing in this plan")
    page.unroute("**/command")
    bar.get_by_role("button", name="Look again").click()
    expect(bar.get_by_role("option").first).to_contain_text("5.5")
    line.fill("zzzz qqqq")
    expect(bar).to_contain_text('Nothing in this plan is called "zzzz qqqq"')


@soak.further
def test_a_plan_imported_under_a_name_that_is_there_is_offered_another(page: Page, server: Server) -> None:
    with server.client() as client, tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "regatta.json"
        file.write_text(client.get(f"/api{PLAN}/export").text)
        page.goto(server.url)
        page.get_by_label("Plan file").set_input_files(file)
        said = page.get_by_role("alert")
        expect(said).to_contain_text(f"The new plan is called {DEMO}, and so is another one here")
        expect(page.get_by_role("link", name=DEMO, exact=True)).to_have_count(2)
        said.get_by_role("button", name=f"Call the new one {DEMO} 2").click()
        expect(page.get_by_role("heading", name=f"{DEMO} 2")).to_be_visible()
        page.goto(server.url)
        page.get_by_label("Plan file").set_input_files(file)
        page.get_by_role("button", name="Open it under the same name").click()
        expect(page).to_have_url(re.compile(f"{PLAN}-3/brief"))


@soak.further
def test_print_clicked_twice_prints_once(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/papers")
    page.evaluate("() => { window.printed = 0; window.print = () => { window.printed += 1 } }")
    button = page.get_by_role("button", name="Print the tech pack")
    button.dblclick()
    assert page.evaluate("window.printed") == 1
    page.wait_for_timeout(700)
    button.click()
    assert page.evaluate("window.printed") == 2


@soak.further
def test_enter_shows_what_a_line_would_add_before_it_does_it_and_leads_where_it_says(
    page: Page, server: Server
) -> None:
    page.goto(f"{server.url}{PLAN}/bandwidth")
    expect(page.get_by_role("navigation", name="Stages")).to_be_visible()

    def typed(line: str) -> None:
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("/")
        page.keyboard.type(line)
        expect(page.get_by_role("dialog").get_by_role("option").first).to_be_visible()
        page.wait_for_timeout(400)
        page.keyboard.press("Enter")

    bar = page.get_by_role("dialog", name="Command bar")
    typed("alder 60 mb")
    expect(bar.get_by_role("alert")).to_contain_text("would come")
    expect(page.get_by_role("status").first).to_have_text("Saved, version 1")
    page.keyboard.press("Enter")
    expect(bar).to_have_count(0)
    expect(page.get_by_role("status").first).to_have_text("Saved, version 2")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("u")
    expect(page.get_by_role("status").first).to_have_text("Saved, version 3")
    typed("swicher")  # misspelt, and looked at
    expect(page.get_by_role("complementary").get_by_role("heading", name="Switcher")).to_be_visible()
    typed("measure punt modem 2")
    expect(page).to_have_url(re.compile("/survey/measure\\?pick=uplink:punt-fen-2"))
    typed("boathouse fibre 18.2 up 94 down 23 ms")
    page.goto(f"{server.url}{PLAN}/survey/measure?pick=uplink:boathouse-fibre")
    expect(page.get_by_text("15 measurements")).to_be_visible()
    page.evaluate("window.print = () => { window.printed = (window.printed ?? 0) + 1 }")
    typed("print tech pack")
    page.wait_for_function("window.printed === 1")
    typed("coffee for everybody")
    expect(bar.get_by_role("option").first).to_contain_text("Nothing in this plan is called")


def test_a_change_of_a_large_plan_is_told_before_it_is_judged_and_then_its_findings(
    page: Page, server: Server
) -> None:
    demo = demo_plan()
    spares = tuple(from_library("camera-field", f"spare-{n}", "boathouse", f"Spare {n}") for n in range(450))
    large = demo.plan.model_copy(update={"devices": (*demo.plan.devices, *spares)})
    with server.client(60) as client:
        made = client.post("/api/plans/import", content=write_plan(large, demo.survey)).json()
    page.goto(f"{server.url}/plans/{made['id']}/bandwidth?pick=link:alder-feed")
    expect(page.get_by_role("complementary").get_by_label("Video bitrate", exact=True)).to_be_visible()
    held: list[Route] = []
    page.route(f"**/api/plans/{made['id']}", lambda route: held.append(route))
    field = page.get_by_role("complementary").get_by_label("Video bitrate", exact=True)
    field.fill("95")
    field.press("Enter")
    saved = page.locator("header").get_by_role("status")
    expect(saved).to_have_text("Saved, version 2, judging")
    expect(field).to_have_value("95")
    for _ in range(100):
        if held:
            break
        page.wait_for_timeout(50)
    held[0].continue_()
    page.unroute(f"**/api/plans/{made['id']}")
    expect(saved).to_have_text("Saved, version 2")
    page.get_by_role("main").press("Escape")
    with server.client(60) as client:
        found = client.get(f"/api/plans/{made['id']}/report").json()["findings"]
    worst = next(f for f in found if f["stage"] == "bandwidth" and f["severity"] == "stops")
    expect(page.get_by_role("complementary")).to_contain_text(worst["wrong"])
