"""The kinds of way a technician expects to be offered, each found and tried; and why there is none where there is none."""

import pytest

from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.case import Case
from humble_relay.core.papers.paper_tables import papers
from humble_relay.core.plan import Span
from humble_relay.core.plan.edits import Remove, added
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.reach.stream_uplinks import streams_by_uplink
from humble_relay.core.show.pull_list import pieces
from humble_relay.core.signal.finder.alternatives import find_routes
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.views.signal_view import links_view
from tests.build import case_of, hd, leave_by, put, small_show
from tests.core.signal.test_finder import stops
from tests.jobs import Drawing


def cables(case: Case) -> tuple[tuple[str, ...], ...]:
    """The rows of the cable schedule."""
    return next(t for t in papers(case) if t.id == "cables").rows


def test_a_length_that_nobody_measured_is_the_way_s_and_else_to_be_measured() -> None:
    """No figure is made up: the cable is as long as the way takes, once somebody has walked it."""
    far = small_show(put("place", "slipway", "x_m", None), Remove(noun="link", id="run"))
    case = case_of(far)
    way = find_routes(case, "camera", "encoder").routes[0]
    assert (way.title, way.cable) == ("SDI coax, length to measure to SDI in", "1 run to measure")
    after = case.after(way.edits)
    assert [row[6:8] for row in cables(after)] == [("measure", "measure")]
    assert {p.what for p in pieces(after)} == {"SDI coax cable, length to be measured"}
    assert "How far is it from Slipway to Boathouse?" in {
        a.want.question for a in answers(after).every if a.want
    }
    walked = after.after([added(Span(id="way", a="slipway", b="boathouse", distance_m=40))])
    assert [row[6] for row in cables(walked)] == ["44 m"]
    assert "cable-too-long" not in {f.rule for f in findings(walked)}


SITES = Drawing(1)
"""A desk with a line out; a kitchen in another town, and a second one whose house has a line of its own."""
for _id, _line in (("kitchen", ""), ("parlour", "house")):
    SITES.add("site", id=f"{_id}-home", name=f"{_id} home")
    SITES.spot(_id, f"{_id}-home", 0, 0)
    if _line:
        SITES.add("uplink", id=_line, name=_line, site=f"{_id}-home")
        SITES.add("network", id=f"{_line}-lan", name=f"{_line} LAN", site=f"{_id}-home")
        SITES.edits.append(leave_by(f"{_line}-lan", _line))
SITES.camera("phone", "guest", "kitchen", hd("30"))
SITES.camera("phone", "visitor", "near", hd("30"))
SITES.camera("camera-network", "far-cam", "parlour")
SITES.camera("camera-tiny", "pebble", "near")
SITES.camera("camera-field", "cam", "desk")
for _model, _name in (("computer-stream", "laptop"), ("decoder", "dec"), ("switcher-eight", "switcher"), ("encoder-four", "enc"),
                      ("monitor", "screen")):  # fmt: skip
    SITES.box(_model, _name, "desk")
SITES.online("laptop")
SITES.online("enc")
SITES.wire("cam/sdi", "switcher/in-1", "coax")
SITES.wire("switcher/program", "enc/sdi", "coax")
for _platform in ("alder", "birch"):
    SITES.box("platform-wide", _platform, None)
SITES.box("relay-cloud", "millrace", None)
SITES.stream("enc", "millrace", "rtmps", hd(), 2)

WAYS = [
    ("guest", "laptop", "Browser stream by mobile data to Network source 1"),
    ("visitor", "laptop", "Browser stream to Network source 1"),
    ("far-cam", "dec", "Paired stream"),
    ("pebble", "switcher", "RTMP stream to Input 7"),
    ("pebble", "switcher", "RTMP stream, Stream server, RTMP stream to Input 7"),
    ("switcher", "alder", "from Millrace, RTMPS stream"),
    ("switcher", "alder", "RTMPS stream"),
]


@pytest.mark.parametrize(
    ("source", "end", "title"), WAYS, ids=[f"{a}-{b}-{n}" for n, (a, b, _) in enumerate(WAYS)]
)
def test_every_kind_of_way_is_among_those_offered_and_none_stops_the_show(
    source: str, end: str, title: str
) -> None:
    case = SITES.case()
    found = {r.title: r for r in find_routes(case, source, end).routes}
    assert title in found and len(found) <= 5, list(found)
    after = case.after(found[title].edits)
    assert stops(after) <= stops(case) | {"upload-too-small:fibre"}
    assert any(source in s.sources or source in s.through for s in flow(after).arriving[end].values())
    if title == "from Millrace, RTMPS stream":  # one push leaves the site however many repeat it
        assert len(streams_by_uplink(after)["fibre"]) == len(streams_by_uplink(case)["fibre"])
    if "Stream server" in title:  # published and pulled: 3 to 4 s all the way (common practice, no source)
        assert 3000 <= found[title].delay_ms <= 4000


def test_no_way_names_the_condition_that_fails() -> None:
    case = SITES.case()
    said = {(a, b): find_routes(case, a, b).why_not or "" for a, b in (
        ("cam", "net"), ("screen", "laptop"), ("cam", "cam"))}  # fmt: skip
    assert said["cam", "net"].startswith("Net takes no picture: it has no video input, and shows no stream.")
    assert (
        said["screen", "laptop"]
        == "There is no way yet: no picture arrives at Screen for it to pass on. Get one there first."
    )
    assert said["cam", "cam"] == "Choose two different devices."


@pytest.mark.parametrize(
    ("brief", "sent", "said"),
    [
        (hd("30", 720), "720p30", ()),
        (hd("50", 2160), "1080p50", ("It sends 1080p50; the brief says 2160p50.",)),
    ],
)
def test_a_stream_offered_takes_the_briefs_picture_and_says_where_it_cannot(
    brief: VideoFormat, sent: str, said: tuple[str, ...]
) -> None:
    """No line and no frame is made up: a program of 1080p50 is sent smaller, never larger."""
    case = SITES.case().after([put("show", None, "format", brief.model_dump(mode="json"))])
    way = next(r for r in find_routes(case, "enc", "alder").routes if r.title == "RTMPS stream")
    assert (way.hops[0].format, way.risks) == (sent, said)
    assert {v.unlike_the_brief for v in links_view(case.after(way.edits)).links} <= {
        "",
        "the brief says 2160p50",
        "the brief says 720p30",
    }
