"""The picture and its sound followed from lens to screen: formats, delay, canvas, stock, and what boxes do to both."""

import networkx as nx
import pytest

from humble_relay.core.catalogue.cables import STOCK_LENGTHS, stock_lay
from humble_relay.core.catalogue.gear import from_library, library
from humble_relay.core.judging.working import Figures
from humble_relay.core.picture.canvas import canvas_of
from humble_relay.core.plan import ENDS, Cable, Device, FirmwareNeed, Plan, Software
from humble_relay.core.plan.edits import Edit, Remove, added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.plan.vocabulary import ends_of, is_source
from humble_relay.core.show.pull_list import lay_of, pieces
from humble_relay.core.signal.cabling.cable_reach import cable_reach, usb_load
from humble_relay.core.signal.flow.canvases import canvases
from humble_relay.core.signal.flow.conversion import conversion, refusal
from humble_relay.core.signal.flow.firmware import lacks_firmware
from humble_relay.core.signal.flow.propagation import flow, formats
from humble_relay.core.signal.flow.sound import sounds
from humble_relay.core.signal.flow.tracing import trace
from humble_relay.demo import demo_plan
from tests.build import case_of, hd, put, put_port, small_show
from tests.generate import patched

DEMO = demo_plan().plan
FIGURES = Figures({})
TALL = VideoFormat(width=1080, height=1920, rate="25")


@pytest.mark.parametrize("seed", [None, *range(500, 520)])
def test_what_arrives_where_is_what_a_graph_library_finds_reachable(seed: int | None) -> None:
    """Every box's sources are its ancestors in the graph of links (networkx), where no box picks among its inputs."""
    index = case_of(DEMO if seed is None else patched(seed))
    found = flow(index)
    graph = nx.DiGraph()
    graph.add_nodes_from(index.devices)
    graph.add_edges_from(ends_of(index.links[x]) for x in found.on_link)
    for id, arriving in found.arriving.items():
        above = {a for a in nx.ancestors(graph, id) if is_source(index.devices[a])}
        got = {s for signal in arriving.values() for s in signal.sources}
        assert got <= above
        passing = [
            a for a in nx.ancestors(graph, id) if index.devices[a].kind not in ("switcher", "computer")
        ]
        if all(graph.in_degree(a) <= 1 for a in passing):
            assert got == above, id


def test_a_source_of_the_demo_is_followed_to_every_end_with_its_delay_added_up() -> None:
    ways = {w.end: w for w in trace(case_of(DEMO), "slipway-phone").ways}
    assert set(ways) == {"card-recorder", "sound-screen", "loft-screen", "alder", "birch", "cedar"}
    loft = ways["loft-screen"]
    assert [h.what for h in loft.hops] == [
        "Browser 4 Mb/s",
        "HDMI 2 m",
        "SDI coax 1 m",
        "SDI coax 20 m",
        "HDMI 2 m",
    ]
    # Phone 80, browser link 300, laptop 150, switcher 40, splitter 0, converter 1.
    assert loft.delay.value == 80 + 300 + 150 + 40 + 0 + 1
    assert sum(s.value or 0 for s in loft.delay.steps[:-1]) == loft.delay.value
    assert [h.delay_ms for h in loft.hops] == [530, 570, 570, 571, 571]
    assert loft.hops[1].becomes == "25 made 50 frames/s: 1080p25 becomes 1080p50"
    assert [h.format for h in loft.hops] == ["1080p25", "1080p25", "1080p50", "1080p50", "1080p50"]
    assert ways["sound-screen"].hops[-1].carries == "multi-view"
    # RTMPS adds nothing of ours, the encoder 150 ms; viewers of the platform see it 3 s late at least (common practice, no source).
    assert ways["alder"].delay.value == 80 + 300 + 150 + 40 + 150 + 3000


def test_a_screen_is_followed_back_to_every_source_and_a_box_between_to_both() -> None:
    index = case_of(DEMO)
    fed = trace(index, "loft-screen")
    assert {w.source for w in fed.ways} == {
        "slipway-cam",
        "weir-cam",
        "deck-cam",
        "slipway-phone",
        "chandlery-phone",
        "commentary-laptop",
    }
    assert "weir-run" in fed.links and "multi-view" not in fed.links and "loft-converter" in fed.devices
    between = trace(index, "weir-fibre-rx")
    assert {w.source for w in between.ways} == {"weir-cam"} and between.nothing == ""
    assert any(w.end in ("alder", "loft-screen") for w in between.ways)
    loose = trace(index, "quay-cam")
    assert loose.ways == () and "reaches no screen" in loose.nothing
    router = trace(index, "boathouse-router")
    assert router.ways == () and "No picture reaches" in router.nothing


def test_a_broken_link_darkens_what_hangs_on_it_and_nothing_else() -> None:
    index = case_of(apply(DEMO, [put("link", "program", "broken", True)]))
    dark = {d.id for d in index.devices.values() if d.kind in ENDS and not flow(index).arriving[d.id]}
    assert dark == {"card-recorder", "loft-screen", "alder", "birch"}
    assert {w.end for w in trace(index, "slipway-cam").ways} == {"sound-screen", "cedar"}


def test_what_boxes_do_to_a_picture_is_said_in_words() -> None:
    switcher = from_library("switcher-eight", "s", None)
    scaling, plain = switcher.ports[4], switcher.ports[0]
    assert (
        conversion(switcher, scaling, hd("25", scan="i"))
        == "deinterlaced, 25 made 50 frames/s: 1080i50 becomes 1080p50"
    )
    assert conversion(switcher, scaling, hd("50", 720)) == "scaled: 720p50 becomes 1080p50"
    assert conversion(switcher, scaling, hd()) == conversion(switcher, plain, hd("59.94")) == ""
    assert refusal(switcher, plain, hd("59.94")) == "does not scale and follows the system format, 1080p50"
    assert refusal(switcher, plain, hd()) is None and refusal(switcher, scaling, hd("59.94")) is None
    recorder = library()["recorder"].device
    assert "not 3840x2160" in (refusal(recorder, recorder.ports[0], hd("50", 2160)) or "")


def test_a_way_says_what_is_refused_and_what_else_is_on_the_picture() -> None:
    plan = apply(
        DEMO,
        [
            put("device", "slipway-cam", "produces", hd("59.94").model_dump(mode="json")),
            put_port("commentary-laptop/hdmi", "levels", "full"),
            put_port("commentary-laptop/hdmi", "protected", True),
            put_port("deck-cam/hdmi", "overlay", "on"),
        ],
    )
    index = case_of(plan)
    first = trace(index, "slipway-cam").ways[0].hops[0]
    assert first.becomes == "refused: it does not scale and follows the system format, 1080p50"
    assert trace(index, "commentary-laptop").ways[0].hops[0].carries == "full range, protected"
    deck = next(w for w in trace(index, "deck-cam").ways if w.end == "cedar")
    assert [h.carries for h in deck.hops] == ["menu overlay on", "program", "program"]


def test_a_loop_through_passes_what_comes_in_and_not_what_the_box_makes() -> None:
    plan = small_show(
        added(from_library("capture-sdi", "capture", "boathouse", "Capture")),
        added(from_library("monitor", "screen", "boathouse", "Screen")),
        Remove(noun="link", id="run"),
        added(Cable(id="a", from_port="camera/sdi", to_port="capture/sdi", cable="coax", length_m=40)),
        added(Cable(id="b", from_port="capture/loop", to_port="screen/sdi", cable="coax", length_m=2)),
        put("device", "capture", "produces", hd("25").model_dump(mode="json")),
    )
    found = formats(case_of(plan))
    assert (found["screen/sdi"].label, found["capture/usb"].label) == ("1080p50", "1080p25")


def test_two_outputs_of_a_camera_may_differ_and_protection_sticks() -> None:
    plan = small_show(
        put_port("camera/hdmi", "produces", hd("50", 720).model_dump(mode="json")),
        put_port("camera/hdmi", "protected", True),
        added(from_library("distribution-hdmi", "split", "slipway", "Split")),
        added(from_library("screen-large", "screen", "slipway", "Screen")),
        added(Cable(id="a", from_port="camera/hdmi", to_port="split/in", cable="hdmi", length_m=2)),
        added(Cable(id="b", from_port="split/out-2", to_port="screen/hdmi", cable="hdmi", length_m=2)),
    )
    arrived = flow(case_of(plan)).arriving
    signal = arrived["screen"]["hdmi"]
    assert signal.format and (signal.format.label, signal.protected) == ("720p50", "camera/hdmi")
    assert signal.through == ("split",) and arrived["encoder"]["sdi"].protected is None


def desk(*more: Edit) -> Plan:
    return small_show(
        added(from_library("sound-desk", "desk", "boathouse", "Desk")),
        added(from_library("switcher-eight", "switcher", "boathouse", "Switcher")),
        Remove(noun="link", id="run"),
        added(Cable(id="run", from_port="camera/sdi", to_port="switcher/in-1", cable="coax", length_m=40)),
        added(Cable(id="p", from_port="switcher/program", to_port="encoder/sdi", cable="coax", length_m=2)),
        *more,
    )


LINE = added(Cable(id="line", from_port="desk/out", to_port="switcher/sound", cable="audio", length_m=10))


@pytest.mark.parametrize(
    ("edits", "source", "channels", "also"),
    [
        ([], "none", "", ()),
        (
            [put("device", "camera", "microphone.muted", False)],
            "Camera (own microphone)",
            "as the camera sends it",
            (),
        ),
        ([LINE], "Desk", "left only", ()),
        ([LINE, put_port("switcher/sound", "both_sides", True)], "Desk", "mono on both sides", ()),
        ([LINE, put_port("desk/out", "sound", "stereo")], "Desk", "stereo", ()),
        ([LINE, put("device", "camera", "microphone.muted", False)], "Desk", "left only", ("Camera",)),
        ([LINE, put("link", "line", "broken", True)], "none", "", ()),
    ],
)
def test_where_the_sound_comes_from(
    edits: list[Edit], source: str, channels: str, also: tuple[str, ...]
) -> None:
    (heard,) = sounds(case_of(desk(*edits)))
    assert (heard.end, heard.source, heard.channels, heard.open) == ("alder", source, channels, also)
    assert ("as far as Switcher" in heard.delay) == (source == "Desk")


def test_a_centre_crop_keeps_nine_sixteenths_squared_and_a_shrunk_picture_takes_as_much() -> None:
    found = canvas_of(hd(), TALL, FIGURES)
    assert found.kept.value == found.share.value == round((9 / 16) ** 2 * 100, 1) == 31.6  # arithmetic
    assert (found.crop.width, found.crop.height) == (607.5, 1080) and found.crop.x == (1920 - 607.5) / 2
    assert (found.fit.width, found.fit.height, found.fit.y) == (1080, 607.5, (1920 - 607.5) / 2)
    # SMPTE ST 2046-1 and EBU R 95: action safe 93 %, graphics safe 90 % of each side.
    assert (found.action.width, found.graphics.height) == (
        pytest.approx(0.93 * 1080),
        pytest.approx(0.9 * 1920),
    )
    same = canvas_of(hd(), hd("25", 720), FIGURES)
    assert same.kept.value == same.share.value == 100 and same.fit.y == 0
    flat = canvas_of(TALL, hd(), FIGURES)  # an upright picture on a flat canvas
    assert flat.kept.value == 100 and flat.share.value == 100 and flat.fit.width == 607.5


def test_the_demo_composes_its_upright_canvas_in_a_second_encoder() -> None:
    (found,) = canvases(case_of(DEMO))
    assert (found.stream, found.encoder, found.composes, found.layout) == (
        "cedar-feed",
        "Vertical encoder",
        True,
        "fit",
    )
    other = canvases(case_of(apply(DEMO, [put("device", "vertical-encoder", "encoding.vertical", False)])))
    assert not other[0].composes


@pytest.mark.parametrize(
    ("kind", "need", "lengths"),
    [
        ("coax", 44, (50,)),
        ("coax", 50, (50,)),
        ("coax", 50.5, (100,)),
        ("coax", 154, (100, 100)),
        ("coax", 130, (100, 30)),
        ("hdmi", 0.5, (1,)),
        ("hdmi", 16, (15, 1)),
        ("fibre", 154, (200,)),
        ("usb3", 7, (3, 3, 1)),
    ],
)
def test_runs_are_made_of_stock_lengths(kind: str, need: float, lengths: tuple[float, ...]) -> None:
    lay = stock_lay(kind, need)  # type: ignore[arg-type]
    assert lay.lengths == lengths and lay.joints == len(lengths) - 1 and lay.total_m >= need
    assert all(x in STOCK_LENGTHS[kind] for x in lengths)  # type: ignore[index]


def test_couplers_take_reach_and_repeaters_give_it_back() -> None:
    plain = cable_reach("coax", hd(), FIGURES).value
    assert cable_reach("coax", hd(), FIGURES, joints=2).value == plain - 2 * FIGURES["joint-cost"]
    assert cable_reach("coax", hd(), FIGURES, repeaters=1).value == 2 * plain
    assert cable_reach("fibre", hd(), FIGURES, joints=3).value == FIGURES["fibre-reach"]
    assert cable_reach("hdmi", hd(), FIGURES, joints=9).value == 0
    repeated = Cable(id="x", from_port="a/b", to_port="c/d", cable="coax", repeaters=1)
    assert lay_of(repeated, 154).lengths == (100, 100)
    what = {p.what: p.number for p in pieces(case_of(small_show(put("link", "run", "length_m", 130))))}
    assert what == {"SDI coax cable, 100 m": 1, "SDI coax cable, 30 m": 1, "SDI coax coupler": 1}


def test_usb_is_asked_for_sixteen_bits_a_pixel() -> None:
    # 8-bit 4:2:2 (USB Video Class): 1920 × 1080 × 60 × 16; more than USB 2.0's 480 Mb/s, less than 5 Gb/s.
    assert usb_load(hd("60"), "raw", Figures({})).value == pytest.approx(
        1920 * 1080 * 60 * 16 / 1e9, abs=0.01
    )
    # The published worked figures: 640 × 480 at 30 raw is 18.4 MB/s and fits one USB 2 stream; 1080p30 raw, 124 MB/s, does not.
    vga = VideoFormat(width=640, height=480, rate="30")
    assert [round(usb_load(f, "raw", Figures({})).value * 125, 1) for f in (vga, hd("30"))] == [18.4, 124.4]


@pytest.mark.parametrize(
    ("has", "needs", "lacks"),
    [
        ("7.0", "7.1", True),
        ("7.1", "7.1", False),
        ("7.10", "7.9", False),
        ("7", "7.0", False),
        ("6.9.9", "7", True),
        (None, "9", False),
    ],
)
def test_firmware_is_compared_number_by_number(has: str | None, needs: str, lacks: bool) -> None:
    need = (FirmwareNeed(feature="srt", version=needs),)
    device = Device(id="x", name="X", kind="decoder", software=Software(firmware=has, needs=need))
    assert bool(lacks_firmware(device, "srt")) == lacks and lacks_firmware(device, "ndi") is None
