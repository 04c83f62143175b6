"""What is proven, what is wanted, and a doubt taken on, in the interface."""

import re

from playwright.sync_api import Page, expect

from tests import soak
from tests.build import entered
from tests.server import Server

PLAN = "/plans/saltmere-lantern-regatta"


def test_a_proof_opens_at_its_weakest_hop_and_a_missing_fact_is_asked_for_where_it_is_typed(
    page: Page, server: Server
) -> None:
    page.goto(f"{server.url}{PLAN}/brief")
    proofs = page.get_by_role("region", name="What must arrive")
    expect(proofs.get_by_role("button", name=re.compile(" at .*:"))).to_have_count(6)
    alder = proofs.get_by_role("button", name="Program of Switcher at Alder: doubtful")
    alder.click()
    expect(
        proofs.get_by_text(
            "Does what is sent fit the low end of what was measured, at each hour of the show?"
        ).first
    ).to_be_visible()
    expect(proofs.get_by_text("From Weir Tower camera")).to_be_visible()
    expect(proofs.get_by_role("button", name="proven")).to_have_count(3)
    # Forget how fast an input is: the proof no longer knows, and says which fact it wants and where it is typed.
    page.goto(f"{server.url}{PLAN}/survey")
    expect(page.get_by_role("heading", name="Uplinks")).to_be_visible()
    known = page.get_by_role("region", name="To find out").get_by_role(
        "row"
    )  # what to measure once more, and the heading
    expect(known).to_have_count(2)
    with server.client() as client:
        edit = {"kind": "set-port", "port": "switcher/in-1", "field": "max_gbps", "value": None}
        head = {"If-Match": f'"{client.get(f"/api{PLAN}").json()["version"]}"'}
        client.post(f"/api{PLAN}/edits", json={"edits": [edit]}, headers=head).raise_for_status()
    page.reload()
    expect(page.get_by_role("navigation", name="Stages")).to_contain_text("not known")
    wanted = page.get_by_role("region", name="To find out")
    question = "How fast is Input 1 of Teasel Eight switcher?"
    expect(wanted.get_by_role("row", name=question)).to_contain_text("6")
    # Typed there, it is known: its row goes, and the proofs are what they were.
    field = wanted.get_by_label(question)
    field.fill("2.97")
    field.press("Enter")
    expect(known).to_have_count(2)
    # Taken back, it is wanted again, and stands on the sheet to take along; done again, the proofs are closed.
    with server.client() as client:
        entered(client, f"/api{PLAN}", {"of": client.get(f"/api{PLAN}").json()["survey"]["facts"][-1]["id"]})
    expect(wanted.get_by_role("row", name=question)).to_be_visible()  # told at once, by another's hand
    page.goto(f"{server.url}{PLAN}/papers")
    sheet = page.get_by_role("region", name="Facts to find out")
    expect(sheet.get_by_role("row", name=question)).to_contain_text("6")
    page.evaluate("window.print = () => 0")
    sheet.get_by_role("button", name="Print").click()
    page.emulate_media(media="print")
    expect(page.get_by_role("region", name="Cable schedule")).to_be_hidden()
    expect(sheet).to_be_visible()
    page.emulate_media(media="screen")
    page.goto(f"{server.url}{PLAN}/signal/arrivals")
    expect(page.get_by_role("region", name="What must arrive")).to_contain_text("not known")
    page.keyboard.press("u")
    expect(page.get_by_role("region", name="What must arrive")).not_to_contain_text("not known")
    page.goto(f"{server.url}{PLAN}/brief")
    expect(proofs.get_by_role("button", name="not known")).to_have_count(0)
    expect(proofs.get_by_role("button", name="proven")).to_have_count(3)


@soak.further
def test_a_doubt_is_accepted_with_a_reason_and_taken_up_again(page: Page, server: Server) -> None:
    page.goto(f"{server.url}{PLAN}/signal")
    entry = (
        page.get_by_role("complementary", name="Findings")
        .get_by_role("listitem")
        .filter(has_text="at its worst")
    )
    entry.get_by_role("button").first.click()
    entry = page.get_by_role("region", name="at its worst")
    accept = entry.get_by_role("button", name="Accept")
    expect(accept).to_be_disabled()
    entry.get_by_label("Accept this doubt, because").fill("The café is closed that evening.")
    accept.click()
    expect(entry.get_by_text("The café is closed that evening.")).to_be_visible()
    page.get_by_role("button", name="All findings").click()
    line = page.get_by_role("listitem").filter(has_text="at its worst")
    expect(line).to_contain_text("accepted")
    line.get_by_role("button").click()
    entry.get_by_role("button", name="Take it up again").click()
    expect(entry.get_by_label("Accept this doubt, because")).to_be_visible()


@soak.further
def test_an_example_opens_with_its_fault_and_what_was_tried_is_written_down(
    page: Page, server: Server
) -> None:
    page.goto(server.url)
    page.get_by_role("button", name="With a fault in A wireless camera heard at a window").click()
    listed = page.get_by_role("complementary", name="Findings")
    expect(listed.get_by_text("150 m is quoted for open air")).to_be_visible()
    page.goto(server.url)
    page.get_by_role("button", name="A guest on a phone", exact=True).click()
    expect(page.get_by_role("button", name="Program at Alder: proven")).to_be_visible()
    here = page.url.removesuffix("/brief")
    # Nobody has said any more that the call was tried: the map and the findings say so, with a mark of its own.
    with server.client() as client:
        path = f"/api{here.removeprefix(server.url)}"
        entered(client, path, {"of": "f1"})
    page.goto(f"{here}/signal")
    expect(listed.get_by_text("One question wants a fact")).to_be_visible()
    expect(page.get_by_role("figure").get_by_text("not known", exact=True)).to_be_visible()
    listed.get_by_role("link", name="To find out").click()
    wanted = page.get_by_role("region", name="To find out")
    wanted.get_by_label("Tried under these conditions").fill("Saturday, the quay full")
    wanted.get_by_role("button", name="It did not").click()
    entry = listed.get_by_role("listitem").filter(has_text="did not work when it was tried")
    entry.get_by_role("button").click()
    entry = listed.get_by_role("region", name="did not work when it was tried")
    entry.get_by_label("Or it was tried").fill("Sunday, another channel")
    entry.get_by_role("button", name="It worked").click()
    expect(listed.get_by_text("did not work when it was tried")).to_have_count(0)
    expect(listed.get_by_text("no findings")).to_be_visible()
