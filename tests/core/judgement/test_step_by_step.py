"""A technician's evening in edits: each step judged, each mistake found at the step that makes it."""

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Cable, Network, Place, Plan, Show, Site, Stream, Uplink
from humble_relay.core.plan.edits import Edit, added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Survey
from humble_relay.core.signal.finder.alternatives import find_routes, reroute
from tests.build import START, STEADY, case_of, leave_by, put, rules_of


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
        added(Site(id="creek", name="Creek")),
        added(Place(id="quay", name="Quay", site="creek", x_m=0, y_m=0)),
        added(Place(id="hut", name="Hut", site="creek", x_m=30, y_m=40)),
        added(Uplink(id="fibre", name="Fibre", site="creek")),
    )
    step(
        added(from_library("camera-compact", "camera", "quay", "Camera")),
        finds={"source-goes-nowhere"},
    )
    step(
        added(from_library("encoder-hdmi", "encoder", "hut", "Encoder")),
        added(from_library("platform-wide", "birch", None, "Birch")),
    )
    # 50 m as the crow flies, a tenth of slack: far too long for HDMI, whatever is typed by hand.
    hand = Cable(id="hand", from_port="camera/hdmi", to_port="encoder/hdmi", cable="hdmi", length_m=55)
    step(added(hand), finds={"cable-too-long", "source-goes-nowhere", "screen-gets-nothing"})
    way = reroute(case_of(plan), "hand").routes[0]
    assert "SDI coax 55 m" in way.title and way.cable_m == 59
    step(*way.edits, not_any_more={"cable-too-long"})
    offline = find_routes(case_of(plan), "encoder", "birch")
    assert offline.routes == () and "is on no network" in (offline.why_not or "")
    network = {"id": "lan", "name": "LAN", "site": "creek", "range": "10.0.0.0/24"}
    step(added(Network.model_validate(network)), leave_by("lan", "fibre"))
    push = find_routes(case_of(plan), "encoder", "birch").routes[0]
    assert any("no network socket near" in risk for risk in push.risks)
    step(
        *push.edits,
        finds={"key-missing"},
        not_any_more={"source-goes-nowhere", "screen-gets-nothing", "no-way-out"},
    )
    stream = next(x.id for x in plan.links if isinstance(x, Stream))
    step(
        put("device", "birch", "ingest.host", "ingest.birch.example"),
        put("link", stream, "key", "tide-table"),
        not_any_more={"key-missing"},
    )
    survey = STEADY
    step(not_any_more={"thin-evidence"})
    assert rules_of(plan, survey) == set()
    spare = from_library("encoder-one", "spare", "hut", "Spare")
    step(added(spare))
    twice = Cable(id="x", from_port="spare/sdi", to_port="spare/hdmi", cable="coax", length_m=1)
    step(added(twice), finds={"cable-against-the-signal", "connector-mismatch"})
