"""Ways to break a sound show: one change each that makes it fail by physics or by protocol, and on what.

Each looks for something it can be done to; it knows nothing of the checks. `on` names the things on which the fault is.
"""
# fmt: off

import random
from collections.abc import Callable, Iterator
from itertools import pairwise
from typing import NamedTuple

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Cable, Device, Plan, Port, Radio, Stream
from humble_relay.core.plan.edits import Edit, Remove
from tests.build import edit_of, hd, put, put_port


class Broken(NamedTuple):
    """What was done, and the ids of the things that are at fault: a link, a box, a line, a network, an aim."""

    edits: list[Edit]
    on: set[str]


Break = Callable[[Plan], Iterator[Broken]]
BREAKS: dict[str, Break] = {}


def breaking(of: Break) -> Break:
    BREAKS[of.__name__] = of
    return of


def port_of(plan: Plan, ref: str) -> tuple[Device, Port]:
    device, _, port = ref.partition("/")
    found = next(d for d in plan.devices if d.id == device)
    return found, next(p for p in found.ports if p.id == port)


def cables(plan: Plan, *kinds: str) -> list[Cable]:
    return [x for x in plan.links if isinstance(x, Cable) and x.cable in kinds]


def streams(plan: Plan) -> list[Stream]:
    return [x for x in plan.links if isinstance(x, Stream)]


def pushes(plan: Plan) -> list[Stream]:
    """Pushes to a platform from a box that stands somewhere."""
    kinds = {d.id: d for d in plan.devices}
    return [s for s in streams(plan) if kinds[s.to_device].ingest and kinds[s.from_device].place]


def local(plan: Plan, *protocols: str) -> list[Stream]:
    kinds = {d.id: d for d in plan.devices}
    return [s for s in streams(plan) if not kinds[s.to_device].ingest and s.protocol in protocols]


def apart(plan: Plan, cable: Cable) -> float:
    """The straight distance between the ends of a cable, in metres."""
    places = {p.id: p for p in plan.places}
    a, b = (places[port_of(plan, ref)[0].place or ""] for ref in (cable.from_port, cable.to_port))
    return float(((a.x_m - b.x_m) ** 2 + (a.y_m - b.y_m) ** 2) ** 0.5)  # type: ignore[operator]


def lengthened(kind: str, metres: float) -> Break:
    def of(plan: Plan) -> Iterator[Broken]:
        for cable in cables(plan, kind):
            yield Broken([put("link", cable.id, "length_m", metres)], {cable.id})

    return of


# Beyond what the kind carries: the standards' channel and USB lengths, and twice or half as much again where only practice says.
for kind, metres in (("coax", 300), ("hdmi", 40), ("ethernet", 180), ("usb3", 12), ("audio", 900)):
    BREAKS[f"a {kind} run of {metres} m"] = lengthened(kind, metres)


@breaking
def a_lead_too_short_for_the_gap(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax", "hdmi", "ethernet"):
        if apart(plan, cable) > 10:
            yield Broken([put("link", cable.id, "length_m", apart(plan, cable) / 3)], {cable.id})


@breaking
def one_end_moved_to_another_town(plan: Plan) -> Iterator[Broken]:
    town = [edit_of({"kind": "add-site", "item": {"id": "elsewhere", "name": "Elsewhere"}}),
            edit_of({"kind": "add-place", "item": {"id": "there", "name": "There", "site": "elsewhere"}}),
            edit_of({"kind": "add-span", "item": {"id": "road", "a": "desk", "b": "there", "distance_m": 20_000}})]  # fmt: skip
    for cable in cables(plan, "coax", "hdmi", "usb3"):
        giver, taker = (port_of(plan, ref)[0] for ref in (cable.from_port, cable.to_port))
        if taker.place == "desk" and giver.kind == "camera":
            yield Broken([*town, put("device", giver.id, "place", "there")], {cable.id})


@breaking
def no_cable_can_go_there(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax"):
        giver, taker = (port_of(plan, ref)[0] for ref in (cable.from_port, cable.to_port))
        if giver.place != taker.place:
            span = {"id": "no-way", "a": giver.place, "b": taker.place, "cable": False}
            known = next((s.id for s in plan.spans if {s.a, s.b} == {giver.place, taker.place}), None)
            yield Broken([put("span", known, "cable", False) if known else edit_of({"kind": "add-span", "item": span})], {cable.id})


@breaking
def the_wrong_lead(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax", "hdmi"):
        yield Broken([put("link", cable.id, "cable", "usb3")], {cable.id})


@breaking
def a_lead_the_wrong_way_round(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax", "hdmi"):
        turned = cable.model_copy(update={"from_port": cable.to_port, "to_port": cable.from_port})
        yield Broken([Remove(noun="link", id=cable.id), edit_of({"kind": "add-link", "item": turned.model_dump()})], {cable.id})


@breaking
def a_broken_run(plan: Plan) -> Iterator[Broken]:
    for link in plan.links:
        yield Broken([put("link", link.id, "broken", True)], {link.id, getattr(link, "from_device", "")})


@breaking
def an_input_told_to_be_something_else(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax", "hdmi"):
        device, port = port_of(plan, cable.to_port)
        other = [t for t in port.types if t != port.assigned]
        if port.assigned and other:
            yield Broken([put_port(cable.to_port, "assigned", other[0])], {cable.id, device.id})


@breaking
def an_input_told_nothing(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax", "hdmi"):
        device, port = port_of(plan, cable.to_port)
        if port.assigned and len(port.types) > 1:
            yield Broken([put_port(cable.to_port, "assigned", None)], {cable.id, device.id})


@breaking
def a_network_source_on_no_input(plan: Plan) -> Iterator[Broken]:
    for stream in streams(plan):
        if stream.input:
            yield Broken([put("link", stream.id, "input", None)], {stream.id, stream.to_device})


@breaking
def a_camera_at_59_94_into_an_input_that_takes_50_only(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax"):
        (camera, _), (taker, port) = port_of(plan, cable.from_port), port_of(plan, cable.to_port)
        if camera.kind == "camera" and taker.kind == "switcher" and not port.scales:
            yield Broken([put("device", camera.id, "produces", hd("59.94").model_dump(mode="json"))], {taker.id})


@breaking
def a_2160p50_camera_on_3g(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax"):
        camera = port_of(plan, cable.from_port)[0]
        if camera.kind == "camera":
            yield Broken([put("device", camera.id, "produces", hd("50", 2160).model_dump(mode="json"))], {cable.id, camera.id, cable.to_port.split("/")[0]})


@breaking
def a_protected_picture_into_an_input_that_refuses_it(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "hdmi"):
        device, port = port_of(plan, cable.to_port)
        if port.takes_protected is False:
            yield Broken([put_port(cable.from_port, "protected", True)], {device.id})


@breaking
def a_radio_half_a_kilometre_away(plan: Plan) -> Iterator[Broken]:
    for link in plan.links:
        if isinstance(link, Radio):
            yield Broken([put("link", link.id, "distance_m", 500)], {link.id})


@breaking
def two_families_that_do_not_understand_each_other(plan: Plan) -> Iterator[Broken]:
    for link in plan.links:
        if isinstance(link, Radio):
            yield Broken([put("device", link.to_port.split("/")[0], "pairing.family", "Other")], {link.id})
    for stream in local(plan, "paired"):
        yield Broken([put("device", stream.from_device, "pairing.family", "Other")], {stream.id})


def set_on(each: Callable[[Plan], list[Stream]], field: str, value: object, taker: bool = False) -> Break:
    def of(plan: Plan) -> Iterator[Broken]:
        for s in each(plan):
            yield Broken([put("link", s.id, field, value)], {s.id, s.from_device, *([s.to_device] if taker else [])})

    return of


BREAKS |= {
    "a protocol that the platform does not take": set_on(pushes, "protocol", "rtsp"),
    "a codec that the platform does not take": set_on(lambda p: [s for s in pushes(p) if s.to_device in ("alder", "birch", "cedar")], "codec", "hevc"),
    "a raster that the platform does not take": set_on(lambda p: [s for s in pushes(p) if s.to_device in ("alder", "birch")], "format", hd("50", 2160).model_dump(mode="json")),
    "more bitrate than the platform takes": set_on(lambda p: [s for s in pushes(p) if s.to_device in ("alder", "birch")], "video_mbps", 19.9),
    "more bitrate than the line has": set_on(pushes, "video_mbps", 90),
    "no key": set_on(lambda p: [s for s in pushes(p) if s.protocol == "rtmps"], "key", None),
    "a push to this machine": set_on(lambda p: [s for s in pushes(p) if s.protocol == "rtmps"], "address", "rtmps://127.1:443/live"),
    "a push with the wrong scheme": set_on(lambda p: [s for s in pushes(p) if s.protocol == "rtmps"], "address", "https://in.alder.example/live"),
    "a push to a private address": set_on(lambda p: [s for s in pushes(p) if s.protocol == "rtmps"], "address", "rtmps://10.1.2.3:443/live"),
    "a push to a name of the local network": set_on(lambda p: [s for s in pushes(p) if s.protocol == "rtmps"], "address", "rtmps://nas.local:443/live"),
    "a push to no application": set_on(lambda p: [s for s in pushes(p) if s.protocol == "rtmps"], "address", "rtmps://in.alder.example:443"),
    "a blank within the address": set_on(lambda p: [s for s in pushes(p) if s.protocol == "rtmps"], "address", "rtmps://in.alder .example:443/live"),
    "a local stream in a protocol its taker has not": set_on(lambda p: local(p, "ndi", "rtsp"), "protocol", "paired", True),
    "a local address of this machine": set_on(lambda p: [s for s in local(p, "rtmp") if s.address], "address", "rtmp://localhost/live/pebble"),
    "a local address one octet off": set_on(lambda p: [s for s in local(p, "rtmp") if s.address], "address", "rtmp://192.168.21.45/live/pebble"),
}  # fmt: skip


@breaking
def the_host_of_the_platform_is_private(plan: Plan) -> Iterator[Broken]:
    for s in pushes(plan):
        if not s.address:
            yield Broken([put("device", s.to_device, "ingest.host", "192.168.1.5")], {s.id})


@breaking
def more_destinations_than_the_encoder_has(plan: Plan) -> Iterator[Broken]:
    for s in pushes(plan):
        more = [s.model_copy(update={"id": f"{s.id}-{n}", "name": f"More {n}"}).model_dump(mode="json") for n in range(9)]
        yield Broken([edit_of({"kind": "add-link", "item": item}) for item in more], {s.from_device})


@breaking
def more_pictures_than_the_encoder_has_channels(plan: Plan) -> Iterator[Broken]:
    for s in pushes(plan):
        device = next(d for d in plan.devices if d.id == s.from_device)
        if device.encoding and device.encoding.channels < device.encoding.destinations:
            more = [s.model_copy(update={"id": f"{s.id}-{n}", "name": f"More {n}", "video_mbps": 1 + n / 4}) for n in range(device.encoding.channels)]
            yield Broken([edit_of({"kind": "add-link", "item": item.model_dump(mode="json")}) for item in more], {device.id})


@breaking
def a_sender_on_no_network(plan: Plan) -> Iterator[Broken]:
    for s in (*pushes(plan), *local(plan, "ndi", "rtsp", "rtmp", "paired")):
        device = next(d for d in plan.devices if d.id == s.from_device)
        if not any({"mobile", "wifi"} & set(p.types) for p in device.ports):
            cut = [put_port(f"{device.id}/{p.id}", "interface", None) for p in device.ports if p.interface]
            gone = [Remove(noun="link", id=c.id) for c in cables(plan, "ethernet") if f"{device.id}/" in (c.from_port + c.to_port)]
            yield Broken([*cut, *gone], {s.id, device.id})


@breaking
def a_router_with_no_line(plan: Plan) -> Iterator[Broken]:
    for s in pushes(plan):
        yield Broken([put("router", "creek-router", "uplinks", [])], {s.from_device, s.id})


@breaking
def two_boxes_on_networks_that_nothing_joins(plan: Plan) -> Iterator[Broken]:
    island = {"id": "island", "name": "Island", "site": "creek", "range": "10.9.0.0/24"}
    for s in local(plan, "ndi", "rtsp", "rtmp", "paired"):
        if not any(p.network for d in plan.devices if d.id == s.to_device for p in d.ports):
            continue  # its cable tells: then it leads to either
        port = next((p for d in plan.devices if d.id == s.from_device for p in d.ports if p.network), None)
        if port:
            yield Broken([edit_of({"kind": "add-network", "item": island}), put_port(f"{s.from_device}/{port.id}", "interface.network", "island")], {s.id})


def fixed(plan: Plan, address: str, *more: Edit) -> Iterator[Broken]:
    for d in plan.devices:
        for p in d.ports:
            if p.network == "lan" and not p.address and d.kind != "router":
                at = [put_port(f"{d.id}/{p.id}", f"interface.{f}", v) for f, v in (("addressing", "fixed"), ("address", address))]
                yield Broken([*at, *more], {d.id})


BREAKS |= {
    "an address outside the subnet": lambda plan: fixed(plan, "192.168.21.30"),
    "the network's own address": lambda plan: fixed(plan, "192.168.20.0"),
    "the broadcast address": lambda plan: fixed(plan, "192.168.20.255"),
    "the gateway's address": lambda plan: fixed(plan, "192.168.20.1"),
    "an address that is none": lambda plan: fixed(plan, "192.168.20.300"),
}


@breaking
def one_address_twice(plan: Plan) -> Iterator[Broken]:
    on = [f"{d.id}/{p.id}" for d in plan.devices for p in d.ports if p.network == "lan" and not p.address]
    for a, b in pairwise(on):
        at = [put_port(ref, f"interface.{f}", v) for ref in (a, b) for f, v in (("addressing", "fixed"), ("address", "192.168.20.50"))]
        yield Broken(at, {a.split("/")[0], b.split("/")[0]})


def network(field: str, value: str) -> Break:
    return lambda plan: iter([Broken([put("network", "lan", field, value)], {"lan"})])


BREAKS |= {
    "a gateway elsewhere": network("gateway", "192.168.30.1"),
    "a gateway on the broadcast address": network("gateway", "192.168.20.255"),
    "a pool beyond the subnet": network("pool_last", "192.168.22.9"),
    "a range that is none": network("range", "192.168.20.0/40"),
}


BREAKS |= {
    "a far address that is private": set_on(lambda p: [s for s in streams(p) if s.to_device == "decoder" and s.protocol == "srt"], "address", "srt://10.4.0.9:9000"),
    "a local push to no application": set_on(lambda p: [s for s in local(p, "rtmp") if s.address], "address", "rtmp://192.168.20.45"),
}


@breaking
def the_far_site_has_no_line(plan: Plan) -> Iterator[Broken]:
    for router in plan.routers:
        if router.networks == ("hall-lan",):
            yield Broken([put("router", router.id, "uplinks", [])], {s.id for s in local(plan, "srt")})


@breaking
def an_injector_that_leads_nowhere(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "ethernet"):
        if cable.from_port == "injector/lan":
            yield Broken([Remove(noun="link", id=cable.id)], {"hide"})


@breaking
def a_camera_that_lives_on_its_cable_in_a_socket_without_power(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "ethernet"):
        device = port_of(plan, cable.from_port)[0]
        if device.power and device.power.by == ("poe",):
            yield Broken([put_port(cable.to_port, "poe_w", None)], {device.id})


@breaking
def a_smaller_picture_than_was_asked_for(plan: Plan) -> Iterator[Broken]:
    for aim in plan.aims:
        yield Broken([put("aim", aim.id, "lowest", hd("60", 2160).model_dump(mode="json"))], {aim.id})


@breaking
def no_sound_at_all(plan: Plan) -> Iterator[Broken]:
    mute = [put("device", d.id, "microphone", None) for d in plan.devices if d.microphone]
    desks = [Remove(noun="link", id=c.id) for c in cables(plan, "audio")]
    for aim in plan.aims:
        yield Broken([put("aim", aim.id, "sound", True), *mute, *desks], {aim.id})


@breaking
def nothing_into_the_encoder(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax", "hdmi"):
        taker = port_of(plan, cable.to_port)[0]
        if taker.kind == "encoder":
            yield Broken([Remove(noun="link", id=cable.id)], {taker.id, *(a.id for a in plan.aims)})


@breaking
def nothing_into_a_screen(plan: Plan) -> Iterator[Broken]:
    ends = {a.end: a.id for a in plan.aims}
    for cable in cables(plan, "coax", "hdmi"):
        end = cable.to_port.split("/")[0]
        if end in ends and sum(c.to_port.startswith(f"{end}/") for c in cables(plan, "coax", "hdmi")) == 1:
            yield Broken([Remove(noun="link", id=cable.id)], {end, ends[end]})


@breaking
def another_picture_than_was_asked_for(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "coax", "hdmi"):
        device, port = port_of(plan, cable.from_port)
        if port.carries == "program" and device.kind == "switcher" and port_of(plan, cable.to_port)[0].kind != "monitor":
            asked = {a.id for a in plan.aims}
            yield Broken([put_port(cable.from_port, "carries", "multi-view")], {device.id, *asked, *(a.end for a in plan.aims), *(s.id for s in pushes(plan))})


@breaking
def an_upright_canvas_that_the_encoder_cannot_compose(plan: Plan) -> Iterator[Broken]:
    for s in pushes(plan):
        device = next(d for d in plan.devices if d.id == s.from_device)
        if device.encoding and not device.encoding.vertical:
            tall = {"width": 1080, "height": 1920, "rate": "25", "scan": "p"}
            yield Broken([put("link", s.id, "format", tall), put("link", s.id, "layout", "fit")], {s.id, device.id})


@breaking
def a_firmware_older_than_the_feature_needs(plan: Plan) -> Iterator[Broken]:
    for s in streams(plan):
        for id in (s.from_device, s.to_device):
            device = next(d for d in plan.devices if d.id == id)
            if any(n.feature in (s.protocol, "network-input" if s.input and id == s.to_device else "") for n in device.needs):
                yield Broken([put("device", id, "software.firmware", "0.1")], {id})


@breaking
def no_mains_where_a_box_lives_on_it(plan: Plan) -> Iterator[Broken]:
    for d in plan.devices:
        used = any(d.id in (ref.split("/")[0] for ref in (x.from_port, x.to_port)) for x in plan.links if not isinstance(x, Stream))
        if used and d.place and d.power and d.power.by == ("mains",):
            yield Broken([put("place", d.place, "mains", False)], {e.id for e in plan.devices if e.place == d.place})


@breaking
def a_switch_that_feeds_less_than_hangs_on_it(plan: Plan) -> Iterator[Broken]:
    for cable in cables(plan, "ethernet"):
        device, giver = port_of(plan, cable.from_port)[0], port_of(plan, cable.to_port)[0]
        if device.power and device.power.by == ("poe",) and giver.kind == "network-switch":
            yield Broken([put("device", giver.id, "power.poe_budget_w", 2)], {giver.id})


@breaking
def a_conversation_over_a_way_of_seconds(plan: Plan) -> Iterator[Broken]:
    for aim in plan.aims:
        if any(s.to_device == aim.end for s in pushes(plan)):
            yield Broken([put("aim", aim.id, "liveness", "talked-back")], {aim.id})


@breaking
def a_stream_without_sound(plan: Plan) -> Iterator[Broken]:
    for s in pushes(plan):
        for aim in plan.aims:
            if aim.end == s.to_device:
                yield Broken([put("aim", aim.id, "sound", True), put("link", s.id, "audio_kbps", 0)], {aim.id})


@breaking
def a_radio_pair_turned_round(plan: Plan) -> Iterator[Broken]:
    for link in plan.links:
        if isinstance(link, Radio):
            turned = link.model_dump(mode="json") | {"from_port": link.to_port, "to_port": link.from_port}
            yield Broken([Remove(noun="link", id=link.id), edit_of({"kind": "add-link", "item": turned})], {link.id})


@breaking
def a_switch_that_leads_nowhere(plan: Plan) -> Iterator[Broken]:
    """The router as a box with another network switch on it, and no cable to the one that is used."""
    boxes = [from_library(m, id, "desk", id).model_dump(mode="json") for m, id in (("router", "gate"), ("switch-plain", "spare"))]
    lead = {"kind": "cable", "id": "lead", "from_port": "spare/lan-1", "to_port": "gate/lan-1", "cable": "ethernet", "length_m": 2}
    made = [*(edit_of({"kind": "add-device", "item": b}) for b in boxes), edit_of({"kind": "add-link", "item": lead}), put("router", "creek-router", "device", "gate")]
    for s in pushes(plan):
        if any(c.from_port.startswith(f"{s.from_device}/") for c in cables(plan, "ethernet")) and not any(d.id == "gate" for d in plan.devices):
            yield Broken(made, {s.id})


@breaking
def a_venue_that_lets_out_web_pages_only(plan: Plan) -> Iterator[Broken]:
    for s in pushes(plan):
        device = next(d for d in plan.devices if d.id == s.to_device)
        if device.ingest and "rtmp" in device.ingest.protocols and s.protocol == "rtmps":
            old = [put("link", s.id, "protocol", "rtmp"), put("link", s.id, "address", f"rtmp://{device.ingest.host}:1935/live"), put("device", device.id, "ingest.port", 1935)]
            yield Broken([*old, put("uplink", "fibre", "lets_out", "web")], {s.id})


BREAKS |= {
    "both sides of a call on one link": lambda plan: iter(Broken([put("link", s.id, "view_address", s.address)], {s.id}) for s in local(plan, "web")),
    "more than the socket's speed": lambda plan: iter(
        Broken([put_port(c.from_port, "max_gbps", 0.001)], {c.id}) for c in cables(plan, "ethernet") for s in streams(plan) if s.from_device == c.from_port.split("/")[0] and not c.from_port.endswith("/control")
    ),
    "an active lead of twice its promise": lambda plan: iter(
        Broken([put("link", c.id, f, v) for f, v in (("cable", "hdmi-active"), ("rated_m", 10), ("length_m", 21))], {c.id}) for c in cables(plan, "hdmi")
    ),
}  # fmt: skip


def broken(plan: Plan, name: str, seed: int) -> Broken | None:
    """The break of that name done to one of the things it can be done to; None where there is none."""
    found = list(BREAKS[name](plan))
    return random.Random(seed).choice(found) if found else None
