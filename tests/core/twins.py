"""Twins: the smallest plan where a question is answered well, and the same plan with one thing changed so that it is not.

Each row names every finding that comes, so that a check that says too much is caught like one that says nothing.
"""

from typing import Any, NamedTuple

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.cures.trial import cures_of
from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import (
    Edit,
    SetFigure,
    added,
)
from tests.build import (
    case_of,
    hd,
    put,
    put_port,
    small_show,
)
from tests.shows import SHOWS

UPRIGHT = {"width": 1080, "height": 1920, "rate": "25", "scan": "p"}
SMALL = hd("50", 720).model_dump(mode="json")


def fmt(rate: str = "50", height: int = 1080, scan: str = "p") -> dict[str, Any]:
    """A format as an edit carries it."""
    return hd(rate, height, scan).model_dump(mode="json")  # type: ignore[arg-type]


def again(id: str, **other: Any) -> Edit:
    """One more push of the encoder to Alder."""
    plain = {
        "from_device": "encoder",
        "to_device": "alder",
        "protocol": "rtmps",
        "format": fmt(),
        "video_mbps": 8,
    }
    return added(
        Stream.model_validate({"id": id, "name": id.capitalize(), "key": "low-tide", **plain, **other})
    )


class Twin(NamedTuple):
    """A sound show, what breaks it, every finding that comes, a part of what is said, and the cure offered first."""

    show: str
    breaks: list[Edit]
    comes: str
    said: str
    cure: str = ""


EACH = "address-and-port-dependent"
OPEN = {"transport": "udp", "port": 9000, "to_address": "10.4.0.20"}
SECOND = added(from_library("camera-compact", "second", "boathouse", "Second"))
NORTH = {"name": "North", "host": "ingest.alder.example", "latitude": 60, "longitude": 25}
SOUTH = {"name": "South", "host": "south.alder.example", "latitude": 51, "longitude": 1}
ZONES = [
    put("site", "creek", "latitude", 51),
    put("site", "creek", "longitude", 0),
    put("device", "alder", "ingest.zones", [NORTH, SOUTH]),
]
TWO_PATHS = [
    put("device", "hide", "encoding.main_path", "/full"),
    put("device", "hide", "encoding.sub_path", "/sub?n=2"),
]
BY_NAME_FOUND = [
    put("link", "watch", "protocol", "ndi"),
    put("device", "hide", "encoding.protocols", ["ndi"]),
    put("device", "decoder", "decoding.protocols", ["ndi"]),
]
FLOOD = [put("link", "watch", "multicast", True), put("link", "watch", "video_mbps", 80), put("device", "hide", "encoding.max_mbps", 120),
         put_port("decoder/lan", "max_gbps", 1), put("network", "lan", "snoops", False), SetFigure(figure="lan-share", value=0.75), put_port("hide/lan", "max_gbps", 0.1)]  # fmt: skip
TWICE: list[Edit] = [
    added(Stream(id="again", name="Again", from_device="sender", to_device="decoder", protocol="srt", format=hd("25"), video_mbps=4, key="stern-lantern", address="srt://203.0.113.20:9000")),
    put("device", "sender", "encoding.destinations", 2), put("device", "decoder", "decoding.at_once", 2), put("uplink", "fibre", "others_mbps", 0)]  # fmt: skip
OPEN_AIR = put("span", "gap", "between", [{"kind": "water"}])


def ids(case: Case) -> set[str]:
    """Every finding of a case, with its severity."""
    return {f"{f.id} {f.severity}" for f in findings(case)}


GATE: list[Edit] = [added(from_library("router", "gate", "boathouse", "Gate")), put_port("gate/lan-1", "interface.network", "lan"),
                    put_port("gate/lan-1", "interface.address", "192.168.20.1"), put_port("gate/lan-1", "interface.addressing", "fixed")]  # fmt: skip


def hold(twin: Twin) -> None:
    """Every finding that comes is as the row says, and is cured as it says."""
    case = case_of(small_show(*SHOWS[twin.show], *twin.breaks))
    assert ids(case) == set(twin.comes.split(", "))
    found = next(f for f in findings(case) if f.id == twin.comes.split()[0])
    assert (
        twin.said in found.wrong
        and found.means
        and found.do
        and "!" not in found.wrong + found.means + found.do
    )
    cures = [tried.cure for tried in cures_of(case, found.id)]
    said = [f"Run it another way: {c.how}" if c.title.startswith("Run it") else c.title for c in cures]
    assert said[0].startswith(twin.cure) if twin.cure else not cures, said
    assert all(len(c.title.split()) <= 8 or c.title.startswith("Use ") for c in cures), said
    for cure in cures:
        after = case.after(cure.edits)
        assert found.id not in {f.id for f in findings(after)}
        assert {i for i in ids(after) if i.endswith("stops")} <= ids(case)


def named(twins: list[Twin]) -> list[str]:
    """A name for each row: its first finding."""
    return [f"{t.comes.split()[0]}-{n}" for n, t in enumerate(twins)]
