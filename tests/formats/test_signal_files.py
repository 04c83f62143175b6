"""What leaves and comes in about the signal path: GraphML, SVG, gear as JSON and CSV, the papers of cables."""

import csv
import io
import json
from xml.etree import ElementTree

import networkx as nx
import pytest

from humble_relay.core.catalogue.gear import Model, from_library, library
from humble_relay.core.catalogue.stock import Holding, Stock
from humble_relay.core.judging.case import Case
from humble_relay.core.papers.paper_tables import Table, papers
from humble_relay.core.plan.edits import added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.signal.diagram.content import signal_map
from humble_relay.demo import demo_plan, demo_stock
from humble_relay.formats.gear_table import UnreadableGear, read_gear, write_gear_csv, write_gear_json
from humble_relay.formats.graphml import write_graphml
from humble_relay.formats.map_svg import write_map_svg
from tests.build import NOW, case_of, put, small_show

DEMO = demo_plan()
INDEX = Case(DEMO.plan, DEMO.survey, NOW, Stock(holdings=demo_stock()))


def paper(id: str, case: Case = INDEX) -> Table:
    return next(t for t in papers(case) if t.id == id)


def test_graphml_is_read_back_by_networkx_whole() -> None:
    graph = nx.parse_graphml(write_graphml(INDEX), force_multigraph=True)
    assert set(graph.nodes) == set(INDEX.devices)
    assert {key for _, _, key in graph.edges(keys=True)} == set(INDEX.links)
    assert graph.nodes["weir-cam"] == {
        "name": "Weir Tower camera", "kind": "camera", "model": "Teasel Field camera", "place": "Weir Tower",
    }  # fmt: skip
    run = graph.edges["weir-fibre-tx", "weir-fibre-rx", "weir-run"]
    assert run == {
        "medium": "Fibre 154 m", "from_port": "weir-fibre-tx/out", "to_port": "weir-fibre-rx/in",
        "format": "1080p50", "carries": "picture", "length_m": 154.0, "state": "planned",
    }  # fmt: skip
    assert graph.edges["boathouse-encoder", "alder", "alder-feed"]["bitrate_mbps"] == 8.0
    assert nx.has_path(graph, "slipway-phone", "cedar") and not nx.has_path(graph, "cedar", "switcher")
    assert not any(s.key and s.key in write_graphml(INDEX) for s in INDEX.streams)
    odd = case_of(apply(small_show(), [put("device", "camera", "name", 'Cam "A" <1> & co')]))
    assert nx.parse_graphml(write_graphml(odd)).nodes["camera"]["name"] == 'Cam "A" <1> & co'


def test_the_map_as_svg_is_well_formed_and_says_what_the_map_says() -> None:
    map = signal_map(INDEX, marks={"weir-run": "fails"})
    root = ElementTree.fromstring(write_map_svg(map, DEMO.plan.show.name))
    ns = "{http://www.w3.org/2000/svg}"
    texts = [t.text for t in root.iter(f"{ns}text")]
    assert root.find(f"{ns}title").text == "Saltmere Lantern Regatta"  # type: ignore[union-attr]
    for words in (
        "Slipway camera", "SDI 40 m", "1080p50, Input 1", "Weir Tower", "No picture through: Boathouse router, PoE switch",
    ):  # fmt: skip
        assert words in texts, words
    of = {g.get("data-of"): g for g in root.iter(f"{ns}g") if g.get("data-of")}
    assert set(of) == {h.link for h in map.hops} | {b.device for b in map.boxes}
    # How a line is drawn says its kind, in black on white too; the key says only what there is.
    dashes = {h.link: of[h.link].find(f"{ns}path").get("stroke-dasharray") for h in map.hops}  # type: ignore[union-attr]
    assert dashes["slipway-run"] is None and dashes["alder-feed"] == "9 4" != dashes["desk-line"]
    assert [t for t in texts if t in ("cable", "radio", "stream", "sound")] == ["cable", "stream", "sound"]
    assert of["weir-run"].find(f"{ns}title").text.endswith("Fibre 154 m, 1080p50: fails")  # type: ignore[union-attr]
    width, height = float(root.get("width", 0)), float(root.get("height", 0))
    assert width > map.width and height > map.height
    broken = write_map_svg(
        signal_map(case_of(apply(DEMO.plan, [put("link", "weir-run", "broken", True)]))), "x"
    )
    assert "Fibre 154 m (broken)" in broken
    odd = signal_map(case_of(apply(small_show(), [put("device", "camera", "name", "<script>1 & co")])))
    assert ElementTree.fromstring(write_map_svg(odd, "</svg>")).find(f".//{ns}script") is None


def test_the_whole_library_goes_out_and_comes_back_in_both_formats() -> None:
    models = list(library().values())
    assert 40 <= len(models) <= 60
    assert read_gear(write_gear_json(models)) == models
    assert read_gear("\ufeff" + write_gear_csv(models)) == models
    kinds = {m.device.kind for m in models}
    assert kinds >= {"camera", "phone", "converter", "capture", "distribution", "switcher", "computer", "encoder", "decoder",
                     "radio", "router", "network-switch", "injector", "monitor", "projector", "recorder"}  # fmt: skip
    header = next(csv.reader(io.StringIO(write_gear_csv(models))))
    assert header[:4] == ["id", "name", "kind", "about"] and "ports" in header


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "empty"),
        ("{", "not JSON"),
        ('{"format": "something"}', "not gear"),
        (
            '{"format": "humble-relay-gear", "models": [{"id": "x", "about": "", "device": {"id": "x"}}]}',
            "Model 1: device.name",
        ),
        ("name,kind\nCam,camera\n", "id is not among them"),
        ("id,name,kind,colour\nx,Cam,camera,red\n", "no column called colour"),
        ("id,name,kind\nx,Cam,spaceship\n", "Line 2: device.kind"),
        ('id,name,kind,ports\nx,Cam,camera,[{"id"\n', "Line 2: ports is not JSON"),
        ("id,name,kind,delay_ms\nx,Cam,camera,fast\n", "Line 2: device.delay_ms"),
    ],
)
def test_bad_gear_is_refused_with_the_line_and_what_to_change(text: str, said: str) -> None:
    with pytest.raises(UnreadableGear, match=said.replace(".", r"\.")):
        read_gear(text)


def test_a_plain_spreadsheet_line_is_enough_for_a_model() -> None:
    (model,) = read_gear('id,name,kind,about,delay_ms\nmy-cam,My camera,camera,"Mine, old",33\n')
    assert model == Model.model_validate(
        {
            "id": "my-cam",
            "about": "Mine, old",
            "device": {"id": "my-cam", "name": "My camera", "kind": "camera", "delay_ms": 33},
        }
    )


def test_a_cell_that_a_spreadsheet_would_run_is_guarded_and_comes_back_as_it_was() -> None:
    (model,) = read_gear("id,name,kind,about\nx,Cam,camera,=1+1\n")
    text = write_gear_csv([model])
    assert "'=1+1" in text and read_gear(text) == [model]


def test_the_cable_schedule_counts_every_cable_with_a_number_of_its_own() -> None:
    table = paper("cables")
    rows = {row[0]: dict(zip(table.columns, row, strict=True)) for row in table.rows}
    assert len(rows) == len(table.rows) == len(INDEX.cables)
    assert table.rows[0] == ("S01", "Slipway camera, SDI out", "Slipway", "Switcher, Input 1", "Boathouse", "SDI coax", "40 m",
                             "50 m", "1080p50", "91 m")  # fmt: skip
    assert rows["F01"]["Made of"] == "200 m"
    long = case_of(
        apply(
            DEMO.plan,
            [put("link", "slipway-run", "length_m", 154), put("link", "slipway-run", "repeaters", 1)],
        )
    )
    assert paper("cables", long).rows[0][7] == "100 + 100 m, 1 repeater"


def test_both_ends_of_every_cable_get_a_label_that_names_the_other() -> None:
    labels = paper("labels")
    assert labels.layout == "labels" and len(labels.rows) == 2 * len(INDEX.cables)
    (one, other) = (r for r in labels.rows if r[0] == "F01")
    assert (one[1], one[2]) == (other[2], other[1]) and one[3] == "Boathouse" and other[3] == "Weir Tower"


def test_the_patch_list_says_what_is_in_every_used_port() -> None:
    rows = [r for r in paper("patch").rows if r[0] == "Switcher"]
    assert ("Switcher", "Input 3", "", "from", "Deck camera, HDMI out", "H01", "1080p50") in rows
    assert ("Switcher", "Multi-view HDMI", "", "to", "Sound desk screen, HDMI in", "H06", "1080p50") in rows
    assert ("Browser laptop", "Network source 1", "", "from", "Slipway phone link", "stream", "") in paper(
        "patch"
    ).rows


def test_the_pull_list_brings_models_and_cables_and_says_what_is_missing() -> None:
    rows = {row[1]: row for row in paper("pull").rows}
    assert rows["Teasel Field camera"][0] == "2" and rows["Fibre cable, 200 m"][0] == "1"
    more = apply(DEMO.plan, [added(from_library("camera-field", f"more-{i}", "slipway")) for i in range(2)])
    held = (*demo_stock(), Holding(id="x", model="Teasel Field camera", count=1, lender="a school"))
    short = paper("pull", Case(more, DEMO.survey, NOW, Stock(holdings=held)))
    line = next(r for r in short.rows if r[1] == "Teasel Field camera")
    assert line == ("4", "Teasel Field camera", "1 from a school", "1 missing")
    assert json.dumps([t.model_dump() for t in papers(INDEX)]).count("salt-7Q2d") == 0
