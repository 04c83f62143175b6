"""Bandwidth by hand: measured, pasted, dragged to where the answer flips, and the best that fits applied."""

import re

from playwright.sync_api import Page, expect

from humble_relay.demo import DEMO_ID
from tests import soak
from tests.server import Server


def at(page: Page, server: Server, stage: str) -> None:
    page.goto(f"{server.url}/plans/{DEMO_ID}/{stage}")
    expect(page.get_by_role("main").get_by_role("heading").first).to_be_visible()


def test_a_line_is_measured_and_the_measurement_arrives(page: Page, server: Server) -> None:
    at(page, server, "survey/measure")
    meter = page.get_by_role("region", name="Measure now")
    meter.get_by_label("Against").select_option("steady")
    meter.get_by_label("For, in s").fill("20")
    meter.get_by_role("button", name="Measure Boathouse fibre").click()
    expect(meter.get_by_role("progressbar")).to_be_visible()
    meter.get_by_role("button", name="Cancel").click()
    expect(meter.get_by_text("Cancelled: nothing was measured.")).to_be_visible()
    meter.get_by_label("For, in s").fill("1")
    meter.get_by_role("button", name="Measure Boathouse fibre").click()
    expect(meter.get_by_text(re.compile(r"^\d+(\.\d+)? Mb/s up on Boathouse fibre, added\."))).to_be_visible(
        timeout=25_000
    )
    lines = page.get_by_role("region", name=re.compile("^Boathouse fibre|^Measured"))
    expect(lines.get_by_text("15 measurements").first).to_be_visible()
    meter.get_by_label("Against").select_option("meter")
    meter.get_by_label("Its address", exact=True).fill("127.0.0.1")
    meter.get_by_label("Port").fill("1")
    meter.get_by_role("button", name="Measure Boathouse fibre").click()
    expect(meter.get_by_text("Nothing answers at 127.0.0.1, port 1")).to_be_visible(timeout=25_000)


def test_pasted_measurements_change_what_the_line_may_carry(page: Page, server: Server) -> None:
    at(page, server, "survey/measure")
    add = page.get_by_role("region", name="Add measurements")
    add.get_by_role("textbox").first.fill(
        "\n".join(f"2026-09-13 20:{n}0 {n + 9}.5 up 90 down 30 ms busy" for n in range(6))
    )
    add.get_by_role("button", name="Read it").click()
    add.get_by_role("button", name=re.compile("^Add")).click()
    expect(add.get_by_text("6 added.")).to_be_visible()
    at(page, server, "bandwidth")
    fibre = page.get_by_role("region", name="Headroom on Boathouse fibre")
    fibre.get_by_text("Rules, hours and intervals").click()
    expect(fibre.get_by_role("row").filter(has_text="20 to 21 h")).to_contain_text("9 times")


def test_a_bitrate_dragged_flips_the_answer_where_the_sum_says(page: Page, server: Server) -> None:
    """At most half: 26.71 Mb/s at the hour that allows least; 29.26 are asked, of which Alder's 8 Mb/s weigh 8.41."""
    at(page, server, "bandwidth")
    fibre = page.get_by_role("region", name="Headroom on Boathouse fibre")
    fibre.get_by_text("Rules, hours and intervals").click()
    school = (
        fibre.get_by_role("group", name=re.compile("^Headroom rule"))
        .locator("span")
        .filter(has_text="At most half")
        .first
    )
    expect(school).to_contain_text("26.7 Mb/stoo little")
    end = fibre.locator("[data-drag='alder-feed']")
    box = end.bounding_box()
    assert box
    # 2.55 Mb/s are too much: 5.5 fit with 0.08 to spare, 6 do not. The axis: in steps of 10 Mb/s, each under its tick.
    ticks = [fibre.locator(f"[data-tick='{n}']").bounding_box() for n in (20, 50)]
    assert all(ticks)
    mbps = (ticks[1]["x"] - ticks[0]["x"]) / 30  # type: ignore[index]
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 10)
    page.mouse.down()
    for bitrate, said in ((6.0, "26.7 Mb/stoo little"), (5.5, "26.7 Mb/sfits")):
        page.mouse.move(box["x"] + box["width"] / 2 - (8 - bitrate) * 1.05 * mbps, box["y"] + 10, steps=4)
        expect(school).to_contain_text(said)
    page.mouse.up()
    expect(
        page.get_by_role("status")
        .filter(has_text="Saved")
        .or_(page.get_by_text(re.compile("^Saved, version")))
    ).to_be_visible()
    page.get_by_role("link", name="Streams", exact=True).click()
    expect(page.get_by_label("Video bitrate", exact=True).first).to_have_value("5.5")


@soak.further
def test_the_best_that_fits_is_asked_for_looked_at_and_applied(page: Page, server: Server) -> None:
    at(page, server, "bandwidth/best-fit")
    compare = page.get_by_role("region", name="Pushed to each, or once to a relay")
    expect(compare.get_by_role("row").filter(has_text="Pushed to each (as planned)")).to_contain_text(
        "29.3 Mb/s"
    )
    best = page.get_by_role("region", name="The best that fits")
    best.get_by_role("button", name="Find the best that fits").click()
    table = best.get_by_role("group", name="Best", exact=True)
    expect(table.get_by_role("row").filter(has_text="Alder")).to_contain_text(
        "once to Millrace", timeout=20_000
    )
    table.get_by_role("button", name="See what changes").click()
    expect(table.get_by_text("Ends: 29.3 Mb/s fits Boathouse fibre mostly")).to_be_visible(timeout=20_000)
    expect(table.get_by_text(re.compile("Brings .*has no stream key"))).to_be_visible(timeout=20_000)
    table.get_by_role("button", name="Apply").click()
    expect(
        compare.get_by_role("row").filter(has_text="once by Millrace").filter(has_text="as planned")
    ).to_be_visible(timeout=20_000)
    # Typed and asked at once: what was typed is kept first, and is part of the question.
    page.get_by_role("link", name="Streams", exact=True).click()
    expect(page.get_by_role("heading", name="Boathouse encoder to Millrace")).to_be_visible(timeout=20_000)
    rate = page.get_by_label("Video bitrate", exact=True).last  # of the push to Millrace
    rate.fill("5")
    page.get_by_role("link", name="The best that fits").click()
    best.get_by_role("button", name="Find the best that fits").click()
    expect(table.get_by_role("row").filter(has_text="Alder")).to_contain_text("5 Mb/s", timeout=20_000)
    expect(best.get_by_text("ask again")).to_have_count(0)
    table.get_by_role("button", name="See what changes").click()
    table.get_by_role("button", name="Apply").click()
    best.get_by_role("button", name="Find the best that fits").click()
    expect(best.get_by_text("The plan sends so already.").first).to_be_visible(timeout=20_000)


@soak.further
def test_a_stream_goes_by_another_line_of_its_router(page: Page, server: Server) -> None:
    at(page, server, "bandwidth/streams")
    page.get_by_role("heading", name="Program to Alder").get_by_role("button").click()
    listed = page.get_by_role("complementary", name="Findings")
    listed.get_by_label("Uplink", exact=True).select_option(label="Boathouse phone")
    listed.get_by_role("button", name="All findings").click()
    expect(listed.get_by_text("Boathouse phone is asked for 8.41 Mb/s")).to_be_visible(timeout=20_000)
    at(page, server, "addresses/streams")
    reach = page.get_by_role("region", name="Whether each stream gets through")
    reach.get_by_role("button", name="Program to Alder").click()
    expect(reach.get_by_text(re.compile("sends it out by Boathouse phone"))).to_be_visible()
    page.get_by_role("link", name="Routers", exact=True).click()
    steers = page.get_by_label("Policy routes of Router, Saltmere creek")
    steers.select_option(label="no")
    listed.get_by_role("button", name="All findings").click()
    expect(listed.get_by_text("Program to Alder goes by Boathouse fibre, not by Boathouse phone")).to_be_visible(timeout=20_000)  # fmt: skip
    page.get_by_role("link", name="Streams", exact=True).click()
    reach.get_by_role("button", name="Program to Alder").click()
    expect(reach.get_by_text(re.compile("sends it out by Boathouse fibre"))).to_be_visible()
