"""More ways to break a sound show: what is typed at two places and differs, what is left out, and what holds only in part.

Like `breaks`, but some leave a doubt and no stop: a technician would ask, and could not say that it fails. They know nothing of the checks.
"""
# fmt: off

from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Plan, Stream
from humble_relay.core.plan.edits import Edit, Remove
from tests.breaks import apart, cables, local, port_of, pushes, streams
from tests.build import edit_of, hd, put, put_port


class Slip(NamedTuple):
    """What was done, the ids of the things on which it is, and whether it is certain (`stops`), a doubt, or not known any more."""

    edits: list[Edit]
    on: set[str]
    least: str = "stops"


def _push(plan: Plan) -> Iterator[tuple[Stream, str]]:
    """Pushes by RTMPS to a platform whose host is known, with it."""
    hosts = {d.id: d.ingest.host for d in plan.devices if d.ingest}
    return ((s, hosts[s.to_device]) for s in pushes(plan) if s.protocol == "rtmps" and not s.address and hosts[s.to_device])


def host_pasted_whole(plan: Plan) -> Iterator[Slip]:
    for s, host in _push(plan):
        for typed in (f"rtmps://{host}/live", f"{host}/live", host.replace(".", "..", 1), f"{host} ", f"https://{host}", f"{host}:443"):
            yield Slip([put("device", s.to_device, "ingest.host", typed)], {s.id})


def host_mistyped(plan: Plan) -> Iterator[Slip]:
    for s, host in _push(plan):
        yield Slip([put("link", s.id, "address", f"rtmps://{host.replace('in.', 'im.', 1)}:443/live")], {s.id}, "risks")


def application_mistyped(plan: Plan) -> Iterator[Slip]:
    for s, host in _push(plan):
        yield Slip([put("link", s.id, "address", f"rtmps://{host}:443/life")], {s.id}, "risks")


def key_of_last_time(plan: Plan) -> Iterator[Slip]:
    for s, _ in _push(plan):
        yield Slip([put("link", s.id, "key_carried", True)], {s.id}, "risks")


def key_of_another_platform(plan: Plan) -> Iterator[Slip]:
    found = [s for s, _ in _push(plan)]
    for a, b in pairwise(found):
        if a.to_device != b.to_device:
            yield Slip([put("link", b.id, "key", a.key)], {a.id, b.id}, "risks")


def one_key_on_two_senders(plan: Plan) -> Iterator[Slip]:
    for s, _ in _push(plan):
        twin = s.model_copy(update={"id": "twin", "name": "Twin"}).model_dump(mode="json")
        yield Slip([edit_of({"kind": "add-link", "item": twin})], {"twin", s.id})


def letter_for_a_digit(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtmp", "rtsp"):
        for a, b in (("0", "O"), ("1", "l"), (".", ",")):
            if s.address and a in s.address.split("@")[-1].split("/")[-3 if "//" in s.address.split("@")[-1] else 0]:
                scheme, _, rest = s.address.partition("://")
                login, at, there = rest.rpartition("@")
                host, slash, path = there.partition("/")
                yield Slip([put("link", s.id, "address", f"{scheme}://{login}{at}{host.replace(a, b, 1)}{slash}{path}")], {s.id})


def bare_hash_in_a_password(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtsp"):
        if "%23" in s.address:
            yield Slip([put("link", s.id, "address", s.address.replace("%23", "#"))], {s.id})


def login_left_out(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtsp"):
        typed = s.address.rpartition("@")[2]
        yield Slip([put("device", s.from_device, "encoding.login", True), put("link", s.id, "address", f"rtsp://{typed.removeprefix('rtsp://')}" if typed else "")], {s.id})


def path_nobody_knows(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtsp"):
        yield Slip([put("device", s.from_device, "encoding.main_path", ""), put("link", s.id, "address", "")], {s.id, s.from_device}, "not known")


def login_nobody_knows(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtsp"):
        if "@" not in s.address:
            yield Slip([put("device", s.from_device, "encoding.login", None)], {s.id, s.from_device}, "not known")


def pulled_under_another_name(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtmp"):
        server = next(d for d in plan.devices if d.id == s.from_device)
        if server.kind == "distribution" and s.address.count("/") > 3:
            yield Slip([put("link", s.id, "address", f"{s.address}s")], {s.id})
            yield Slip([put("link", s.id, "address", s.address.replace("boats", "boat"))], {s.id})


def published_and_pulled_by_nobody(plan: Plan) -> Iterator[Slip]:
    pulls = [s for s in local(plan, "rtmp") if s.id.startswith("pull-")]
    for s in pulls:
        yield Slip([Remove(noun="link", id=s.id)], {f"{s.id[5:]}-to-names", s.id[5:]}, "risks")


def passphrase_of_nine_or_eighty(plan: Plan) -> Iterator[Slip]:
    for s in streams(plan):
        if s.protocol == "srt" and s.to_device == "decoder":
            yield from (Slip([put("link", s.id, "key", "k" * n)], {s.id}) for n in (9, 80))


def other_end_set_otherwise(plan: Plan) -> Iterator[Slip]:
    for s in streams(plan):
        if s.protocol == "srt" and s.to_device == "decoder":
            for wrong in ({"key": "lantern-boat"}, {"port": 9001}, {"stream_id": "shore"}):
                yield Slip([put("link", s.id, "set_there", wrong)], {s.id})


def other_end_set_otherwise_than_the_address(plan: Plan) -> Iterator[Slip]:
    for s in streams(plan):
        if "passphrase=" in s.address:
            yield Slip([put("link", s.id, "set_there.key", "lantern-boat")], {s.id})
            yield Slip([put("link", s.id, "address", s.address.replace("streamid=night", "streamid=day"))], {s.id})


def view_link_of_another_sender(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "web"):
        if "view=" in s.view_address:
            yield Slip([put("link", s.id, "view_address", f"{s.view_address.partition('view=')[0]}view=mole")], {s.id}, "risks")


def published_under_no_name(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtmp"):
        if s.id.endswith("-to-names"):
            yield Slip([put("link", s.id, "address", ""), put("link", s.id, "key", None)], {s.id, f"pull-{s.from_device}"}, "not known")


def view_link_of_another_service(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "web"):
        yield Slip([put("link", s.id, "view_address", "https://talk.birch.example/view")], {s.id}, "risks")


def phone_turned(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "web"):
        sender = next(d for d in plan.devices if d.id == s.from_device)
        assert sender.produces
        turned = sender.produces.model_copy(update={"width": sender.produces.height, "height": sender.produces.width})
        yield Slip([put("device", sender.id, "produces", turned.model_dump(mode="json"))], {s.id}, "risks")


def rates_that_do_not_divide(plan: Plan) -> Iterator[Slip]:
    for s in pushes(plan):
        if s.format.rate == "50" and s.protocol == "rtmps" and s.format.height < s.format.width:
            yield Slip([put("link", s.id, "format", s.format.model_copy(update={"rate": "30"}).model_dump(mode="json"))], {s.id}, "risks")


def gateway_other_than_the_router(plan: Plan) -> Iterator[Slip]:
    for d in plan.devices:
        for p in d.ports:
            if d.kind == "router" and p.network == "lan" and p.address:
                yield Slip([put("network", "lan", "gateway", "192.168.20.254")], {"lan"}, "risks")


def one_vlan_twice(plan: Plan) -> Iterator[Slip]:
    tagged = [n for n in plan.networks if n.vlan]
    for n in tagged[1:]:
        yield Slip([put("network", n.id, "vlan", tagged[0].vlan)], {n.id, tagged[0].id}, "risks")


def socket_of_another_network(plan: Plan) -> Iterator[Slip]:
    for c in cables(plan, "ethernet"):
        device, port = port_of(plan, c.to_port)
        mine = port_of(plan, c.from_port)
        if device.kind == "network-switch" and port.network == "lan" and any(n.id == "guests" for n in plan.networks) and mine[1].network == "lan":
            yield Slip([put_port(c.to_port, "interface.network", "guests")], {device.id, mine[0].id}, "risks" if mine[0].kind == "router" else "stops")


def second_dhcp_server(plan: Plan) -> Iterator[Slip]:
    for d in plan.devices:
        for p in d.ports:
            if p.network == "lan" and d.kind != "router":
                yield Slip([put_port(f"{d.id}/{p.id}", "interface.serves_dhcp", True)], {d.id}, "risks")


def pool_of_one(plan: Plan) -> Iterator[Slip]:
    waiting = [d for d in plan.devices for p in d.ports if p.network == "lan" and p.addressing == "dhcp"]
    if len(waiting) > 1:
        yield Slip([put("network", "lan", "pool_last", "192.168.20.100")], {"lan"})


def switch_plugged_into_itself(plan: Plan) -> Iterator[Slip]:
    free = [p.id for p in next(d for d in plan.devices if d.id == "net").ports if not any(f"net/{p.id}" in (c.from_port, c.to_port) for c in cables(plan, "ethernet"))]
    copper = [p for p in free if p.startswith("lan")]
    if len(copper) > 1:
        yield Slip([edit_of({"kind": "add-link", "item": {"kind": "cable", "id": "own", "from_port": f"net/{copper[0]}", "to_port": f"net/{copper[1]}", "cable": "ethernet", "length_m": 1}})], {"own"})


def optics_of_two_kinds(plan: Plan) -> Iterator[Slip]:
    for c in cables(plan, "fibre"):
        optic = port_of(plan, c.from_port)[1].optic
        if optic:
            other = "multimode" if optic == "single-mode" else "single-mode"
            yield Slip([put_port(c.from_port, "optic", other)], {c.id})
            yield Slip([put("link", c.id, "fibre_mode", other)], {c.id})


def lead_missing_at_the_far_router(plan: Plan) -> Iterator[Slip]:
    if any(r.id == "town-router" for r in plan.routers) and any(d.id == "decoder" for d in plan.devices):
        boxes = [from_library(m, id, "hall", id).model_dump(mode="json") for m, id in (("router", "hall-gate"), ("switch-plain", "hall-net"), ("switch-plain", "hall-other"))]
        wires = [("decoder/lan", "hall-net/lan-1"), ("hall-other/lan-1", "hall-gate/lan-1")]
        made = [edit_of({"kind": "add-link", "item": {"kind": "cable", "id": f"hall-{n}", "from_port": a, "to_port": b, "cable": "ethernet", "length_m": 2}}) for n, (a, b) in enumerate(wires)]
        yield Slip([*(edit_of({"kind": "add-device", "item": b}) for b in boxes), *made, put("router", "town-router", "device", "hall-gate")], {"encoder-to-decoder"})


def injector_taken_for_a_repeater(plan: Plan) -> Iterator[Slip]:
    for c in cables(plan, "ethernet"):
        if c.to_port == "injector/poe":
            other = next(x for x in cables(plan, "ethernet") if x.from_port == "injector/lan")
            yield Slip([put("link", c.id, "length_m", 80), put("link", other.id, "length_m", 90)], {c.id, other.id})


def spare_of_the_same_carrier(plan: Plan) -> Iterator[Slip]:
    for r in plan.routers:
        if r.id == "creek-router" and len(r.uplinks) > 1:
            both = [put("uplink", line, f, v) for line in r.uplinks for f, v in (("kind", "mobile"), ("carrier", "Fenside"), ("mobile", {"unlimited": True}))]
            yield Slip(both, set(r.uplinks), "risks")


def asked_from_six_hours_earlier(plan: Plan) -> Iterator[Slip]:
    for a in plan.aims:
        if any(s.to_device == a.end for s in pushes(plan)):
            yield Slip([put("aim", a.id, "from_at", "2026-09-19T13:00:00+00:00")], {"fibre"}, "not known")


def desk_plugged_into_nothing(plan: Plan) -> Iterator[Slip]:
    desk = from_library("sound-desk", "lonely-desk", "desk", "Lonely desk").model_dump(mode="json")
    yield Slip([edit_of({"kind": "add-device", "item": desk})], {"lonely-desk"}, "risks")


def cable_of_just_the_straight_line(plan: Plan) -> Iterator[Slip]:
    for c in cables(plan, "coax", "hdmi", "ethernet", "fibre"):
        if apart(plan, c) > 4:
            yield Slip([put("link", c.id, "length_m", round(apart(plan, c), 1))], {c.id}, "risks")


def recorded_by_nothing(plan: Plan) -> Iterator[Slip]:
    none = [put("device", d.id, "recording", {"records": False}) for d in plan.devices if d.kind != "recorder"]
    if not any(d.kind == "recorder" for d in plan.devices):
        yield Slip([put("show", None, "record", True), *none], {"show"})


def cutting_blind(plan: Plan) -> Iterator[Slip]:
    fed = [c for c in cables(plan, "hdmi", "coax", "usb3") if c.to_port.split("/")[0] == "switcher"]
    if any(d.id == "wall" for d in plan.devices) and len(fed) > 1:
        computers = {d.id for d in plan.devices if d.kind == "computer"}
        reached = {c.to_port.split("/")[0] for c in cables(plan, "hdmi", "usb3")} & computers
        if not reached and not any(p.network for d in plan.devices if d.id == "switcher" for p in d.ports):
            yield Slip([Remove(noun="device", id="wall")], {"switcher"}, "risks")


def a_codec_that_the_decoder_has_not(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtsp", "srt"):
        taker = next(d for d in plan.devices if d.id == s.to_device)
        if taker.decoding:
            yield Slip([put("link", s.id, "codec", "hevc"), put("device", s.from_device, "encoding.codecs", ["h264", "hevc"]), put("device", taker.id, "decoding.codecs", ["h264"])], {s.id})


def a_raster_nobody_said_it_decodes(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "rtsp"):
        if s.format.height == 1080:
            yield Slip([put("link", s.id, "format", hd("25", 2160).model_dump(mode="json")), put("device", s.to_device, "decoding.accepts", None)], {s.id, s.to_device}, "not known")


def decoder_cabled_to_its_sender_alone(plan: Plan) -> Iterator[Slip]:
    for s in local(plan, "paired", "ndi"):
        ends = [next((f"{d}/{p.id}" for p in next(x for x in plan.devices if x.id == d).ports if p.network and "ethernet" in p.types), "") for d in (s.from_device, s.to_device)]
        theirs = [c for c in cables(plan, "ethernet") if {c.from_port, c.to_port} & set(ends)]
        if all(ends) and len(theirs) == 2:
            lead = {"kind": "cable", "id": "straight", "from_port": ends[0], "to_port": ends[1], "cable": "ethernet", "length_m": 90}
            yield Slip([*(Remove(noun="link", id=c.id) for c in theirs), edit_of({"kind": "add-link", "item": lead})], {s.from_device, s.to_device, s.id}, "risks")


def hdmi_to_another_site(plan: Plan) -> Iterator[Slip]:
    for c in cables(plan, "hdmi"):
        giver = port_of(plan, c.from_port)[0]
        if giver.kind == "camera" and port_of(plan, c.to_port)[0].place != giver.place:
            far = [edit_of({"kind": "add-site", "item": {"id": "abroad", "name": "Abroad"}}), edit_of({"kind": "add-place", "item": {"id": "yonder", "name": "Yonder", "site": "abroad", "mains": True}})]
            yield Slip([*far, put("device", giver.id, "place", "yonder")], {c.id})


SLIPS = {of.__name__: of for of in (
    host_pasted_whole, host_mistyped, application_mistyped, key_of_last_time, key_of_another_platform, one_key_on_two_senders, letter_for_a_digit,
    bare_hash_in_a_password, login_left_out, path_nobody_knows, login_nobody_knows, pulled_under_another_name, published_and_pulled_by_nobody,
    passphrase_of_nine_or_eighty, other_end_set_otherwise, other_end_set_otherwise_than_the_address,
    view_link_of_another_sender, published_under_no_name, view_link_of_another_service, phone_turned, rates_that_do_not_divide,
    gateway_other_than_the_router, one_vlan_twice, socket_of_another_network, second_dhcp_server, pool_of_one, switch_plugged_into_itself,
    optics_of_two_kinds, lead_missing_at_the_far_router, injector_taken_for_a_repeater, spare_of_the_same_carrier, asked_from_six_hours_earlier,
    desk_plugged_into_nothing, cable_of_just_the_straight_line, recorded_by_nothing, cutting_blind, a_codec_that_the_decoder_has_not,
    a_raster_nobody_said_it_decodes, decoder_cabled_to_its_sender_alone, hdmi_to_another_site,
)}  # fmt: skip
"""Every slip, by its name."""
