"""Other sound ways to plan the same show: what a technician may also own, draw, leave out or ask for, each within physics and protocol.

Each changes a drawn show, or leaves it alone where it has no place for it. They know nothing of the checks.
"""
# fmt: off

import random
from collections.abc import Callable
from datetime import timedelta
from typing import NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.plan.edits import Remove
from humble_relay.core.plan.video import VideoFormat
from tests.build import START, edit_of, hd, leave_by, put, put_port
from tests.jobs import JOBS, Drawing

Variant = Callable[[Drawing], object]


def fibre_between_switches(d: Drawing) -> None:
    """A second switch at the far place, with an NDI camera on it, by fibre between optical sockets of the two."""
    d.box("switch-poe", "net-far", "far")
    mode = d.rng.choice(["single-mode", "multimode"])
    for net in ("net", "net-far"):
        d.edits.append(edit_of({"kind": "add-port", "device": net, "item": {"id": "sfp", "name": "SFP", "way": "both", "types": ["fibre"], "max_gbps": 1, "optic": mode}}))
    d.wire("net-far/sfp", "net/sfp", "fibre")
    d.edits.append(put("link", "net-far-sfp-net-sfp", "fibre_mode", mode))
    d.camera("camera-ndi", "trunk-cam", "far")
    d.wire("trunk-cam/lan", "net-far/lan-1", "ethernet")
    d.box("computer-mix", "trunk-mix", "desk")
    d.online("trunk-mix")
    for ref in ("trunk-cam/lan", "trunk-mix/lan"):
        d.edits.append(put_port(ref, "interface.network", "lan"))
    d.stream("trunk-cam", "trunk-mix", "ndi", hd(), 120, "net-1", codec="intra")
    d.push("trunk-mix", "linden")
    d.aim("linden", "source", "trunk-cam")


def laptop_that_passes_one(d: Drawing) -> None:
    """A camera by a capture box into a laptop that only sends it on: the source, or the laptop's program, as one likes."""
    d.camera("camera-compact", "talk-cam", "near", hd("30"))
    d.box("capture-hdmi", "talk-capture", "near")
    d.box("computer-stream", "talk-laptop", "near", produces=hd("30").model_dump(mode="json"))
    d.wire("talk-cam/hdmi", "talk-capture/hdmi", "hdmi")
    d.wire("talk-capture/usb", "talk-laptop/usb-1", "usb3")
    d.online("talk-laptop")
    d.push("talk-laptop", "rowan", 4, hd("30"))
    d.aim("rowan", *d.rng.choice([("source", "talk-cam"), ("program", "talk-laptop"), ("program", None)]))


def upright_phone(d: Drawing) -> None:
    """A phone held upright, into a browser source of its own size."""
    tall = VideoFormat(width=1080, height=1920, rate="30")
    d.camera("phone", "tall-phone", "near", tall)
    d.online("tall-phone", "wifi", wired=False)
    d.box("computer-stream", "tall-laptop", "desk", produces=hd("30").model_dump(mode="json"))
    d.online("tall-laptop")
    room = f"https://calls.cedar.example/?push=quay{d.rng.randint(1, 9)}"
    d.stream("tall-phone", "tall-laptop", "web", tall, 4, "net-1", address=room, view_address=room.replace("push", "view"))
    d.tried("tall-phone-to-tall-laptop")
    d.push("tall-laptop", "hazel", 4, hd("30"))
    d.aim("hazel")


def router_on_two_networks(d: Drawing) -> None:
    """The router as a box that stands on a second network too; no router of the plan repeats it."""
    d.add("network", id="cams", name="Cams", site="creek", range="192.168.30.0/24", gateway="192.168.30.1", pool_first="192.168.30.100", pool_last="192.168.30.199")
    d.box("router", "gate", "desk")
    for port, network, address in (("lan-1", "lan", "192.168.20.1"), ("lan-2", "cams", "192.168.30.1")):
        d.edits += [put_port(f"gate/{port}", f"interface.{f}", v) for f, v in (("network", network), ("addressing", "fixed"), ("address", address))]
    d.plug("gate/lan-1")
    d.camera("camera-ip", "cams-cam", "near", hd("25"))
    d.box("switch-poe", "cams-net", "near")
    d.wire("cams-cam/lan", "cams-net/lan-1", "ethernet")
    d.wire("cams-net/lan-2", "gate/lan-2", "ethernet")
    d.edits += [put_port("cams-cam/lan", f"interface.{f}", v) for f, v in (("network", "cams"), ("addressing", "fixed"), ("address", "192.168.30.40"))]
    d.asked_for("cams-cam")
    d.box("decoder", "cams-decoder", "desk")
    d.edits.append(put("device", "cams-decoder", "decoding.protocols", ["rtsp"]))
    d.online("cams-decoder")
    d.stream("cams-cam", "cams-decoder", "rtsp", hd("25"), 6)
    d.box("screen-large", "cams-screen", "desk")
    d.wire("cams-decoder/hdmi", "cams-screen/hdmi", "hdmi")
    d.aim("cams-screen", "source", "cams-cam")


def networks_left_to_the_cables(d: Drawing) -> None:
    """The network of wired senders left empty: their cables lead to the switch, and the site has one network."""
    if any(e.kind == "add-network" and e.item.site == "creek" and e.item.id != "lan" for e in d.edits):
        return
    for e in list(d.edits):
        if e.kind == "set-port" and e.field == "interface.network" and e.value == "lan" and e.port.endswith("/lan") and e.port.split("/")[0] in ("encoder", "recorder", "sender"):
            d.edits.append(put_port(e.port, "interface.network", None))


def monitor_with_a_button(d: Drawing) -> None:
    """One monitor with both its leads in, of which a button shows one."""
    if "switcher" in d.place_of and not any(e.kind == "add-link" and getattr(e.item, "from_port", "") == "switcher/clean" for e in d.edits):
        d.box("monitor", "two-leads", "desk")
        d.wire("switcher/clean", "two-leads/sdi", "coax")
        d.wire("switcher/program-hdmi", "two-leads/hdmi", "hdmi") if not any(getattr(getattr(e, "item", None), "from_port", "") == "switcher/program-hdmi" for e in d.edits) else None
        d.aim("two-leads", "clean")


def rtmp_where_the_platform_says_443(d: Drawing) -> None:
    """RTMP without TLS at port 443, as the platform's page says."""
    sender = next((b for b in ("encoder", "recorder", "laptop", "computer") if b in d.place_of), None)
    if sender and d.asked < 25:
        d.box("platform-wide", "aspen", None, ingest__protocols=["rtmp"])
        fmt = d.format_of(sender)
        d.push(sender, "aspen", 6 if fmt.rate == "50" and fmt.height == 1080 else 4, fmt, protocol="rtmp")


def two_names_on_a_server(d: Drawing) -> None:
    """Two action cameras that publish to one server under two names, each pulled by its own."""
    d.box("server-lan", "names", "desk")
    d.online("names")
    d.fixed("names", 60)
    d.box("computer-stream", "names-laptop", "desk", produces=hd("30").model_dump(mode="json"))
    d.online("names-laptop")
    for n, name in enumerate(("ebb", "flow")):
        d.camera("camera-tiny", name, "near", hd("30"))
        d.online(name, "wifi", wired=False)
        d.stream(name, "names", "rtmp", hd("30"), 4, address=f"rtmp://192.168.20.60/boats/{name}")
        d.tried(f"{name}-to-names")
        d.add("link", kind="stream", id=f"pull-{name}", name=f"Pull {name}", from_device="names", to_device="names-laptop", protocol="rtmp",
              format=hd("30").model_dump(mode="json"), video_mbps=4, input=f"net-{n + 1}", address=f"rtmp://192.168.20.60/boats/{name}")  # fmt: skip
    d.push("names-laptop", "maple", 4, hd("30"))
    d.aim("maple")


def managed_switch(d: Drawing) -> None:
    """VLAN tags that differ, and the sockets of the switch set to the network of what is plugged in."""
    d.add("network", id="guests", name="Guests", site="creek", range="192.168.50.0/24", gateway="192.168.50.1", vlan=50)
    d.edits += [leave_by("guests", "fibre"), put("network", "lan", "vlan", 20)]
    for socket in range(1, min(d.sockets, 7) + 1):
        d.edits.append(put_port(f"net/lan-{socket}", "interface.network", "lan"))


def camera_twice_to_compare(d: Drawing) -> None:
    """One camera split: by cable and over a compressed radio kit, both into the switcher, to hold them beside each other."""
    if "switcher" not in d.place_of or "tx" in d.place_of or any(getattr(getattr(e, "item", None), "to_port", "") == "switcher/in-5" for e in d.edits):
        return
    cable = next((e.item for e in d.edits if e.kind == "add-link" and getattr(e.item, "to_port", "") == "switcher/in-1"), None)
    if cable is None:
        return
    d.edits.append(Remove(noun="link", id=cable.id))
    camera = cable.from_port.split("/")[0]
    place = d.place_of[camera]
    d.box("distribution-sdi", "split", place)
    d.wire(cable.from_port, "split/in", "coax")
    d.wire("split/out-1", "switcher/in-1", "coax")
    d.box("converter-sdi-hdmi", "to-hdmi", place)
    d.box("radio-light-tx", "hop-tx", place)
    d.box("radio-light-rx", "hop-rx", "desk")
    d.wire("split/out-2", "to-hdmi/in", "coax")
    d.wire("to-hdmi/out", "hop-tx/hdmi", "hdmi")
    d.add("link", kind="radio", id="hop", from_port="hop-tx/air", to_port="hop-rx/air", distance_m=d.gap("hop-tx", "hop-rx") + 1)
    d.tried("hop")
    d.wire("hop-rx/hdmi", "switcher/in-5", "hdmi")


def spare_of_another_carrier(d: Drawing) -> None:
    """A failover uplink by mobile data of another carrier, as large as it must be, tried and timed."""
    if "tether" in d.lines:
        return
    d.add("uplink", id="stick", name="Stick", site="creek", kind="mobile", carrier="Fenside", mobile={"unlimited": True})
    d.lines.append("stick")
    d.edits += [put("router", "creek-router", "uplinks", ["fibre", "stick"]), put("router", "creek-router", "switch_s", 12), put("uplink", "fibre", "carrier", "Fenside")]


def asked_from_earlier(d: Drawing) -> None:
    """A picture asked for an hour before the show, which was measured then too."""
    aim = next((e.item.id for e in d.edits if e.kind == "add-aim"), None)
    if aim:
        d.edits.append(put("aim", aim, "from_at", (START - timedelta(minutes=50)).isoformat()))


def recorded_in_a_box(d: Drawing) -> None:
    """The brief says recorded, and a box is said to record."""
    box = next((b for b in ("switcher", "recorder", "computer", "laptop", "cam-0", "hide", "window", "server") if b in d.place_of), None)
    if box:
        d.edits += [put("show", None, "record", True), put("device", box, "recording", {"records": True})]


def hevc_where_it_is_decoded(d: Drawing) -> None:
    """A network camera's HEVC, at ten bits, into a decoder that takes both."""
    d.camera("camera-ip", "deep", "near", hd("25", 2160))
    d.online("deep")
    d.fixed("deep", 70)
    d.edits += [put("device", "deep", f"encoding.{f}", v) for f, v in (("codecs", ["h264", "hevc"]), ("max_mbps", 40))]
    d.asked_for("deep")
    d.box("decoder", "deep-decoder", "desk")
    for field, value in (("protocols", ["rtsp"]), ("codecs", ["h264", "hevc"]), ("accepts", {"rasters": ["1920x1080", "3840x2160"]}), ("bit_depth", 10)):
        d.edits.append(put("device", "deep-decoder", f"decoding.{field}", value))
    d.online("deep-decoder")
    d.stream("deep", "deep-decoder", "rtsp", hd("25", 2160), 16, codec="hevc", bit_depth=10)
    d.box("screen-large", "deep-screen", "desk")
    d.edits += [put_port("deep-decoder/hdmi", "max_gbps", 18), put_port("deep-screen/hdmi", "max_gbps", 18), put_port("deep-screen/hdmi", "accepts", None)]
    d.wire("deep-decoder/hdmi", "deep-screen/hdmi", "hdmi")
    d.aim("deep-screen", "source", "deep")


def listener_set_alike(d: Drawing) -> None:
    """The passphrase and the port read off the far decoder: the same as in the plan."""
    if "hall" in d.at:
        d.edits.append(put("link", "encoder-to-decoder", "set_there", {"key": "lantern-boats", "port": 9000}))


def settings_in_the_address(d: Drawing) -> None:
    """Passphrase and stream id typed into the SRT address itself, and read off the far decoder alike."""
    if "hall" in d.at:
        said = "srt://203.0.113.20:9000?mode=caller&passphrase=lantern-boats&streamid=night"
        d.edits += [put("link", "encoder-to-decoder", "address", said), put("link", "encoder-to-decoder", "key", None)]
        d.edits.append(put("link", "encoder-to-decoder", "set_there", {"key": "lantern-boats", "port": 9000, "stream_id": "night"}))


def link_that_views_several(d: Drawing) -> None:
    """A browser link whose viewing end names two senders, this one among them."""
    if any(e.model_dump().get("item", {}).get("id") == "phone-to-laptop" for e in d.edits):
        for field, end in (("address", "?push=quay"), ("view_address", "?view=shore,quay")):
            d.edits.append(put("link", "phone-to-laptop", field, f"https://calls.cedar.example/{end}"))


def phone_tethered_to_a_box(d: Drawing) -> None:
    """A phone plugged into an encoder's USB, as its backup uplink."""
    if "encoder" in d.place_of and "spare-phone" not in d.place_of:
        usb = {"id": "usb", "name": "USB", "way": "both", "types": ["usb"]}
        d.edits.append(edit_of({"kind": "add-port", "device": "encoder", "item": usb}))
        d.box("phone-tether", "spare-phone", "desk")
        d.wire("spare-phone/usb", "encoder/usb", "usb2")


def rehearsed_the_day_before(d: Drawing) -> None:
    """A rehearsal at the hour of the show, the day before."""
    day = timedelta(days=1)
    d.edits.append(put("show", None, "sessions", [{"kind": "rehearsal", "starts_at": (START - day).isoformat(), "ends_at": (START - day + timedelta(hours=1)).isoformat()}]))


VARIANTS: tuple[Variant, ...] = (
    fibre_between_switches, laptop_that_passes_one, upright_phone, router_on_two_networks, networks_left_to_the_cables, monitor_with_a_button,
    rtmp_where_the_platform_says_443, two_names_on_a_server, managed_switch, camera_twice_to_compare, spare_of_another_carrier, asked_from_earlier,
    recorded_in_a_box, hevc_where_it_is_decoded, listener_set_alike, phone_tethered_to_a_box, rehearsed_the_day_before,
    settings_in_the_address, link_that_views_several,
)  # fmt: skip


class Sound(NamedTuple):
    """A sound show: its job, how it was varied, and its case."""

    job: str
    variants: tuple[str, ...]
    case: Case


def sound(seed: int) -> Sound:
    """The sound show of a seed: one of the jobs, and up to three of the variants, those that look at what is there last."""
    drawing, rng = Drawing(seed), random.Random(seed * 7 + 1)
    job = JOBS[seed % len(JOBS)]
    job(drawing)
    chosen = sorted(rng.sample(range(len(VARIANTS)), rng.randint(0, 3)), key=lambda n: VARIANTS[n] in (networks_left_to_the_cables, managed_switch))
    for n in chosen:
        VARIANTS[n](drawing)
    return Sound(job.__name__, tuple(VARIANTS[n].__name__ for n in chosen), drawing.case())
