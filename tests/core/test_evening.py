"""A technician's evening in edits: each step judged, each mistake found at the step that makes it."""

from humble_relay.core.edits import AddDevice, AddLink, AddNetwork, AddPlace, AddSite, AddUplink, Edit, apply
from humble_relay.core.gear import from_library
from humble_relay.core.plan import Cable, Network, Place, Plan, Show, Site, Uplink
from humble_relay.core.survey import Survey
from tests.build import START, STEADY, index_of, put, put_port, rules_of


def test_an_evening_from_nothing_to_a_plan_that_holds() -> None:
    plan, survey = Plan(show=Show(name="Harbour Talk")), Survey()

    def step(*edits: Edit, finds: set[str] = frozenset(), not_any_more: set[str] = frozenset()) -> None:  # type: ignore[assignment]
        nonlocal plan
        plan = apply(plan, edits)
        found = rules_of(plan, survey)
        assert finds <= found, finds - found
        assert not not_any_more & found, not_any_more & found

    step(finds={"no-start"})
    step(put("show", None, "starts_at", START.isoformat()), not_any_more={"no-start"})
    step(
        AddSite(item=Site(id="creek", name="Creek")),
        AddPlace(item=Place(id="quay", name="Quay", site="creek", x_m=0, y_m=0)),
        AddPlace(item=Place(id="hut", name="Hut", site="creek", x_m=30, y_m=40)),
        AddUplink(item=Uplink(id="fibre", name="Fibre", site="creek")),
    )
    step(
        AddDevice(item=from_library("camera-compact", "camera", "quay", "Camera")),
        finds={"source-goes-nowhere"},
    )
    step(
        AddDevice(item=from_library("encoder-hdmi", "encoder", "hut", "Encoder")),
        AddDevice(item=from_library("platform-wide", "birch", None, "Birch")),
    )
    # 50 m as the crow flies, a tenth of slack: far too long for HDMI.
    joint = joints(index_of(plan), "camera", "encoder")[0]
    assert joint.title == "hdmi cable, 55 m: HDMI out to HDMI in"
    step(*joint.edits, finds={"cable-too-long", "source-goes-nowhere"})
    push = joints(index_of(plan), "encoder", "birch")[0]
    step(
        *push.edits,
        finds={"no-way-out", "stream-address", "key-missing"},
        not_any_more={"source-goes-nowhere"},
    )
    stream = plan.links[-1].id
    step(
        put("device", "birch", "ingest.host", "ingest.birch.example"),
        put("link", stream, "key", "tide-table"),
        not_any_more={"stream-address", "key-missing"},
    )
    network = {"id": "lan", "name": "LAN", "site": "creek", "range": "10.0.0.0/24", "uplink": "fibre"}
    step(
        AddNetwork(item=Network.model_validate(network)),
        put_port("encoder/lan", "network", "lan"),
        finds={"no-measurement"},
        not_any_more={"no-way-out"},
    )
    survey = STEADY
    step(not_any_more={"no-measurement", "thin-evidence"})
    long = next(x for x in plan.links if isinstance(x, Cable))
    step(
        put("link", long.id, "length_m", 5),
        not_any_more={"cable-too-long"},
    )
    assert rules_of(plan, survey) == set()
    spare = from_library("encoder-one", "spare", "hut", "Spare")
    step(AddDevice(item=spare))
    twice = Cable(id="x", from_port="spare/sdi", to_port="spare/hdmi", cable="coax", length_m=1)
    step(AddLink(item=twice), finds={"cable-against-the-signal", "connector-mismatch"})
