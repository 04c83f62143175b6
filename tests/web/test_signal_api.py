"""The signal path and the shelf over the API."""

import xml.etree.ElementTree as ElementTree
from typing import Any
from urllib.parse import quote

import httpx
import pytest
from fastapi.testclient import TestClient

from humble_relay.demo import load_demo
from humble_relay.formats.plan_file import write_plan
from tests.build import STEADY, put, small_show


@pytest.fixture
def demo(client: TestClient) -> str:
    """The path of the demo on the server, with its stock."""
    state = client.app.state  # type: ignore[attr-defined]
    return f"/api/plans/{load_demo(state.plans, state.shelf)}"


OF_THE_LINES = [
    "spare-does-not-reach",
    "bond-shares-fate",
    "spare-too-small",
    "upload-bad-hour",
    "switch-not-tried",
    "thin-evidence",
    "loss-not-mended",
]


def apply_edits(client: TestClient, path: str, edits: list[dict[str, object]]):  # type: ignore[no-untyped-def]
    version = client.get(path).json()["version"]
    return client.post(f"{path}/edits", json={"edits": edits}, headers={"If-Match": f'"{version}"'})


def test_routes_arrive_judged_and_the_one_chosen_does_what_was_promised(
    client: TestClient, demo: str
) -> None:
    found = client.get(f"{demo}/routes", params={"source": "quay-cam", "end": "switcher"}).json()
    assert [r["route"]["boxes"] for r in found["routes"]] == [
        ["Teasel Relay decoder"],
        ["Teasel Burr decoder"],
    ]
    assert [f["rule"] for f in found["routes"][0]["gone"]] == ["source-goes-nowhere"]
    after = apply_edits(client, demo, found["routes"][0]["route"]["edits"])
    assert after.status_code == 200
    assert [f["rule"] for f in after.json()["report"]["findings"]] == [
        "local-address",
        "not-let-in",
        "sources-apart",
        "address-may-move",
        *OF_THE_LINES,
    ]
    undone = client.post(f"{demo}/undo", headers={"If-Match": '"2"'}).json()
    assert [f["rule"] for f in undone["report"]["findings"]] == [
        "local-address",
        "not-let-in",
        "source-goes-nowhere",
        "sources-apart",
        "address-may-move",
        *OF_THE_LINES,
    ]


def test_one_input_may_be_asked_for_and_a_measured_run_given(client: TestClient, demo: str) -> None:
    params: dict[str, object] = {"source": "quay-cam", "end": "switcher", "into": "in-5"}
    found = client.get(f"{demo}/routes", params=params).json()
    assert {r["route"]["hops"][-1]["to_name"] for r in found["routes"]} == {"Switcher, Input 5"}
    sound = client.get(f"{demo}/routes", params={"source": "sound-desk", "end": "boathouse-encoder"}).json()
    assert sound["routes"] == [] and sound["cables"] == []
    far = {"source": "slipway-cam", "end": "card-recorder", "length_m": 160}
    assert all(
        "160 m" not in r["route"]["title"] or "repeater" in str(r)
        for r in client.get(f"{demo}/routes", params=far).json()["routes"]
    )


@pytest.mark.parametrize(
    "path",
    ["routes?source=ghost&end=switcher", "routes?source=quay-cam&end=ghost", "routes?source=quay-cam&end=switcher&into=ghost",
     "reroute/ghost", "patch/ghost", "trace/ghost"],
)  # fmt: skip
def test_what_the_plan_does_not_have_is_said(client: TestClient, demo: str, path: str) -> None:
    answer = client.get(f"{demo}/{path}")
    assert answer.status_code == 404 and "ghost" in answer.json()["detail"]


def test_a_broken_link_is_re_routed_and_a_whole_patch_laid(client: TestClient, demo: str) -> None:
    found = client.get(f"{demo}/reroute/weir-run").json()
    coax = next(r for r in found["routes"] if r["route"]["title"].startswith("SDI coax 154 m"))
    assert apply_edits(client, demo, coax["route"]["edits"]).status_code == 200
    patch = client.get(f"{demo}/patch/switcher").json()
    assert [line["words"] for line in patch["patch"]["lines"]] == ["Quay camera to Input 4"]
    after = apply_edits(client, demo, patch["patch"]["edits"]).json()
    assert "source-goes-nowhere" not in {f["rule"] for f in after["report"]["findings"]}
    assert client.get(f"{demo}/patch/switcher").json()["patch"]["lines"] == []


def test_the_map_a_trace_and_both_files_are_served(client: TestClient, demo: str) -> None:
    def drawn(answer: httpx.Response) -> set[str]:
        found = ElementTree.fromstring(
            answer.json()["svg"] if "json" in answer.headers["content-type"] else answer.text
        )
        return {g.get("data-of", "") for g in found.iter("{http://www.w3.org/2000/svg}g")} - {""}

    whole, network = client.get(f"{demo}/map"), client.get(f"{demo}/map?network=true")
    assert whole.json()["detail"] == "full" and len(drawn(network)) == len(drawn(whole)) + 8 + 2
    # One drawing: on the page, as a file, and as it would be after edits that nobody keeps.
    assert client.get(f"{demo}/map.svg?network=true").text == network.json()["svg"]
    folded = client.get(f"{demo}/map", params={"turned": ["boathouse", "slipway"]})
    assert {"place:boathouse", "place:slipway"} < drawn(folded)
    fit = client.get(f"{demo}/map", params={"detail": "fit", "width": 910, "height": 600}).json()
    assert fit["detail"] == "names" and fit["width"] < 910 + 104
    gone = {"edits": [{"kind": "remove", "noun": "device", "id": "quay-cam"}]}
    assert drawn(client.post(f"{demo}/map", json=gone)) == drawn(whole) - {"quay-cam"}
    assert drawn(client.get(f"{demo}/map")) == drawn(whole)
    assert client.get(f"{demo}/map?detail=nearer").status_code == 422
    ways = client.get(f"{demo}/trace/loft-screen").json()["ways"]
    assert len(ways) == 6 and all(w["end"] == "loft-screen" for w in ways)
    assert client.get(f"{demo}/map.svg").headers["content-type"].startswith("image/svg+xml")
    graphml = client.get(f"{demo}/signal.graphml")
    assert "attachment" in graphml.headers["content-disposition"] and "salt-7Q2d" not in graphml.text


def test_what_a_port_can_be_told_comes_with_the_edits_that_tell_it(client: TestClient, demo: str) -> None:
    def told(device: str) -> dict[str, Any]:
        ports = client.get(f"{demo}/devices/{device}/ports").json()
        return {p["port"]: {o["what"].split(" of ")[0]: o for o in p["settings"]} for p in ports}

    laptop = told("commentary-laptop")["hdmi"]
    assert set(laptop) == {"Colour range", "Content protection"}
    protect = {o["words"]: o["edits"] for o in laptop["Content protection"]["choices"]}
    assert apply_edits(client, demo, protect["protection on"]).status_code == 200
    assert told("commentary-laptop")["hdmi"]["Content protection"]["now"] == "True"
    undecided = told("switcher")["in-4"][
        "Type"
    ]  # what nobody told is a value of its own, and is shown as such
    assert undecided["now"] == "" and {o["key"]: o["words"] for o in undecided["choices"]}[""] == "not told"
    # An input shows a stream once it is told to be a network source, and which: one choice.
    links = {x["link"]: x for x in client.get(f"{demo}/views/signal_links").json()["signal_links"]["links"]}
    (shown,) = links["phone-link"]["choices"]
    assert shown["now"] == "net-1" and [o["words"] for o in shown["choices"]][:2] == [
        "no input",
        "Network source 1",
    ]
    assert [e["kind"] for e in shown["choices"][1]["edits"]] == ["set-port", "set"]
    assert links["slipway-run"]["has_picture"] and not links["desk-line"]["has_picture"]
    assert client.get(f"{demo}/devices/ghost/ports").status_code == 404


def test_gear_is_added_under_names_of_its_own_and_found_by_the_words_of_the_trade(
    client: TestClient, demo: str
) -> None:
    wanted = {"counts": {"monitor": 2, "platform-wide": 1}, "place": "net-loft"}
    edits = client.post(f"{demo}/gear", json=wanted).json()
    made = [(e["item"]["id"], e["item"]["name"], e["item"]["place"]) for e in edits]
    assert made == [
        ("monitor", "Monitor", "net-loft"), ("monitor-2", "Monitor 2", "net-loft"), ("video-platform", "Video platform", None),
    ]  # fmt: skip
    assert apply_edits(client, demo, edits).status_code == 200
    (third,) = client.post(f"{demo}/gear", json={"counts": {"monitor": 1}}).json()
    assert third["item"]["name"] == "Monitor 3"
    assert client.post(f"{demo}/gear", json={"counts": {"ghost": 1}}).status_code == 404
    assert client.post(f"{demo}/gear", json={"counts": {"monitor": 0}}).status_code == 422
    said = {e["model"]["id"]: e["found_by"] for e in client.get("/api/gear").json()}
    for word, model in {
        "restreaming": "relay-cloud", "server": "server-lan", "gateway": "gateway-bonding", "modem": "encoder-field",
        "dongle": "capture-hdmi", "vision mixer": "switcher-eight", "cellular": "phone-tether", "webcam": "camera-usb",
    }.items():  # fmt: skip
        assert word in said[model], word
    kept = client.post(f"{demo}/devices/boathouse-encoder/model").json()
    assert kept["own"] and kept["model"]["device"]["place"] is None
    assert not any(p["interface"] for p in kept["model"]["device"]["ports"])


def test_a_model_of_ones_own_stands_over_a_shipped_one_and_goes_again(client: TestClient) -> None:
    shipped = {e["model"]["id"]: e for e in client.get("/api/gear").json()}
    mine = shipped["monitor"]["model"]
    mine["about"], mine["device"]["delay_ms"] = "Ours, slower.", 55
    assert client.put("/api/gear/monitor", json=mine).json()["own"] is True
    now = {e["model"]["id"]: e for e in client.get("/api/gear").json()}
    assert (
        now["monitor"]["own"]
        and now["monitor"]["model"]["device"]["delay_ms"] == 55
        and len(now) == len(shipped)
    )
    assert client.put("/api/gear/screen", json=mine).status_code == 422
    own = client.get("/api/gear.csv?own=true")
    assert own.text.count("\r\n") == 2 and "Ours, slower." in own.text
    assert client.delete("/api/gear/monitor").status_code == 204
    assert client.delete("/api/gear/monitor").status_code == 404
    taken = client.post("/api/gear/import", json={"text": own.text})
    assert [e["model"]["id"] for e in taken.json()] == ["monitor"]
    refused = client.post("/api/gear/import", json={"text": "id,name,kind\nx,Cam,spaceship\n"})
    assert refused.status_code == 422 and "Line 2" in refused.json()["detail"]
    assert len(client.get("/api/gear.json").json()["models"]) == len(shipped)


def test_the_route_finder_uses_models_of_ones_own(client: TestClient, plan: str) -> None:
    camera = next(e["model"] for e in client.get("/api/gear").json() if e["model"]["id"] == "camera-compact")
    edits = [
        {"kind": "remove", "noun": "link", "id": "run"},
        {"kind": "add-device", "item": camera["device"] | {"id": "far", "name": "Far", "place": "slipway"}},
    ]
    assert apply_edits(client, plan, edits).status_code == 200
    before = client.get(f"{plan}/routes", params={"source": "far", "end": "encoder"}).json()
    assert "HDMI to SDI converter" in before["routes"][0]["route"]["title"]
    box = next(e["model"] for e in client.get("/api/gear").json() if e["model"]["id"] == "converter-hdmi-sdi")
    mine = box | {
        "id": "my-box",
        "device": box["device"] | {"id": "my-box", "name": "Own box", "model": "Own box", "delay_ms": 0},
    }
    client.put("/api/gear/my-box", json=mine)
    after = client.get(f"{plan}/routes", params={"source": "far", "end": "encoder"}).json()
    assert "Own box" in after["routes"][0]["route"]["title"]


def test_stock_is_shared_and_a_show_on_the_same_day_takes_from_it(client: TestClient, plan: str) -> None:
    def missing(path: str) -> dict[str, int]:
        return {
            line["model"]: line["missing"]
            for line in client.get(f"{path}/views/gear").json()["gear"]["stock"]
            if line["missing"]
        }

    assert missing(plan) == {}
    models = {d["model"] for d in client.get(plan).json()["plan"]["devices"] if not d["ingest"]}
    for n, model in enumerate(sorted(models)):
        answer = client.put(f"/api/stock/h{n}", json={"id": f"h{n}", "model": model, "count": 1})
        assert answer.status_code == 200
    assert missing(plan) == {}
    other = client.post(
        "/api/plans/import", content=write_plan(small_show(put("show", None, "name", "Other")), STEADY)
    ).json()
    line = next(
        x
        for x in client.get(f"{plan}/views/gear").json()["gear"]["stock"]
        if x["model"] == "Teasel Field camera"
    )
    assert line["missing"] == 1 and "1 taken by Other the same day" in line["notes"]
    day = {"kind": "set", "noun": "show", "field": "starts_at", "value": "2026-09-21T19:30:00+00:00"}
    end = {"kind": "set", "noun": "show", "field": "ends_at", "value": "2026-09-21T21:30:00+00:00"}
    apply_edits(client, f"/api/plans/{quote(other['id'])}", [day, end])
    assert missing(plan) == {}
    assert client.put("/api/stock/h0", json={"id": "x", "model": "y", "count": 1}).status_code == 422
    assert (
        client.delete("/api/stock/h0").status_code == 204
        and client.delete("/api/stock/h0").status_code == 404
    )
    assert len(client.get("/api/stock").json()) == len(models) - 1
