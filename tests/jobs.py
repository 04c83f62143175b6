"""Sound shows of every kind of job, drawn at random: planned as a technician would, within what physics and protocol allow.

It knows the trade (lengths, rates, who plugs into whom) and nothing of the checks. The same seed gives the same show.
"""
# fmt: off

import random
from collections.abc import Callable
from datetime import timedelta
from math import hypot
from typing import Any

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Plan, Show
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Fact, Measurement, Survey
from humble_relay.core.plan.video import VideoFormat
from tests.build import NOW, START, edit_of, hd, leave_by, put, put_port


class Drawing:
    """A show while it is drawn: a site with a desk, places around it, a network, and a line out."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.edits: list[Edit] = []
        self.seen: list[Fact] = []
        self.at: dict[str, tuple[str, int, int]] = {}
        self.place_of: dict[str, str] = {}
        self.sockets, self.asked, self.lines = 0, 0.0, ["fibre"]
        spots = {"desk": (0, 0), "near": (self.rng.randint(3, 5), 0), "far": (self.rng.randint(20, 60), self.rng.randint(0, 20))}
        self.add("site", id="creek", name="Creek")
        for id, (x, y) in spots.items():
            self.spot(id, "creek", x, y)
        self.add("uplink", id="fibre", name="Fibre", site="creek")
        self.add("network", id="lan", name="LAN", site="creek", range="192.168.20.0/24", gateway="192.168.20.1",
                 pool_first="192.168.20.100", pool_last="192.168.20.199")  # fmt: skip
        self.edits.append(leave_by("lan", "fibre"))
        self.box("switch-poe", "net", "desk")

    def add(self, noun: str, **item: Any) -> None:
        self.edits.append(edit_of({"kind": f"add-{noun}", "item": item}))

    def spot(self, id: str, site: str, x: int, y: int) -> None:
        self.add("place", id=id, name=id.capitalize(), site=site, x_m=x, y_m=y, mains=True)
        self.at[id] = (site, x, y)

    def box(self, model: str, id: str, place: str | None, **fields: Any) -> str:
        device = from_library(model, id, place, id.capitalize())
        if device.ingest:
            device = device.model_copy(update={"ingest": device.ingest.model_copy(update={"host": f"in.{id}.example", "port": 443})})
        self.add("device", **device.model_dump(mode="json"))
        self.edits += [put("device", id, field.replace("__", "."), value) for field, value in fields.items()]
        self.place_of[id] = place or ""
        return id

    def camera(self, model: str, id: str, place: str, fmt: VideoFormat | None = None) -> str:
        return self.box(model, id, place, produces=(fmt or hd()).model_dump(mode="json"))

    def gap(self, a: str, b: str) -> float:
        (_, x, y), (_, u, v) = (self.at[self.place_of[end.partition("/")[0]]] for end in (a, b))
        return hypot(x - u, y - v)

    def wire(self, a: str, b: str, cable: str) -> None:
        """A cable a quarter longer than the gap, in whole metres; 2 m between boxes of one place."""
        id = f"{a}-{b}".replace("/", "-")
        self.add("link", kind="cable", id=id, from_port=a, to_port=b, cable=cable, length_m=max(2, round(self.gap(a, b) * 1.25 + 0.5)))
        port = b.split("/")[1]
        if b.startswith(("switcher/", "sender/", "scaler/")) and port in ("in-4", "in-5", "in-7", "in-8", "in"):
            self.edits.append(put_port(b, "assigned", {"coax": "sdi", "hdmi": "hdmi"}[cable]))

    def online(self, box: str, port: str = "lan", wired: bool = True) -> None:
        """The box on the show's network, by a cable to the network switch unless it is on Wi-Fi."""
        if wired:
            self.plug(f"{box}/{port}")
        self.edits.append(put_port(f"{box}/{port}", "interface.network", "lan"))

    def plug(self, ref: str) -> None:
        """A cable to the network switch; to a second one on that, once it is full."""
        self.sockets += 1
        if self.sockets == 8:
            self.box("switch-poe", "net-2", "desk")
            self.wire("net-2/lan-8", "net/lan-8", "ethernet")
        full = self.sockets > 7
        self.wire(ref, f"net-2/lan-{self.sockets - 7}" if full else f"net/lan-{self.sockets}", "ethernet")

    def fixed(self, box: str, last: int) -> None:
        self.edits += [put_port(f"{box}/lan", "interface.addressing", "fixed"), put_port(f"{box}/lan", "interface.address", f"192.168.20.{last}")]

    def stream(self, a: str, b: str, protocol: str, fmt: VideoFormat, mbps: float, into: str | None = None, **more: Any) -> None:
        key = {"key": f"key-{a}-{b}"} if protocol.startswith("rtmp") and not self.place_of.get(b) else {}
        self.add("link", kind="stream", id=f"{a}-to-{b}", name=f"{a} to {b}", from_device=a, to_device=b, protocol=protocol,
                 format=fmt.model_dump(mode="json"), video_mbps=mbps, input=into, **key, **more)  # fmt: skip
        if into and b == "switcher":
            self.edits.append(put_port(f"{b}/{into}", "assigned", "network"))

    def push(self, a: str, b: str, mbps: float = 6, fmt: VideoFormat | None = None, leaves: bool = True, protocol: str = "rtmps", **more: Any) -> None:
        if b not in self.place_of:
            self.box("platform-tall" if b == "cedar" else "platform-wide", b, None)
        self.stream(a, b, protocol, fmt or hd(), mbps, **more)
        self.asked += mbps * 1.1 if leaves else 0

    def wall(self, switcher: str) -> None:
        """Its multi-view on a screen at the desk, for the operator."""
        self.box("screen-large", "wall", "desk")
        self.wire(f"{switcher}/multi", "wall/hdmi", "hdmi")

    def asked_for(self, camera: str, login: str = "") -> str:
        """An RTSP camera of which its path is known, and whether it wants a login; the start of its address."""
        self.edits += [put("device", camera, "encoding.main_path", "/main"), put("device", camera, "encoding.login", bool(login))]
        return f"rtsp://{login}@" if login else "rtsp://"

    def tried(self, link: str) -> None:
        """Somebody saw the link work, in the place, with people there."""
        self.seen.append(Fact(at=START - timedelta(days=6), noun="link", thing=link, quantity="works", value=True, conditions="busy"))

    def air(self, a: str, b: str) -> None:
        """A radio link from one side of a plasterboard wall to the other."""
        wall = {"kind": "wall", "material": "plasterboard", "thickness_m": 0.08}
        self.add("span", id="gap", a=self.place_of[a], b=self.place_of[b], between=[wall])
        self.add("link", kind="radio", id="air", from_port=f"{a}/air", to_port=f"{b}/air", distance_m=self.gap(a, b) + 1, walls=1)
        self.tried("air")

    def format_of(self, box: str) -> VideoFormat:
        """The picture that the box's pushes have."""
        return next(e.item.format for e in self.edits if e.kind == "add-link" and getattr(e.item, "from_device", "") == box and e.item.protocol == "rtmps")

    def aim(self, end: str, picture: str = "program", of: str | None = None) -> None:
        self.add("aim", id=f"at-{end}", picture=picture, end=end, of=of, sound=False)

    def case(self) -> Case:
        """The show with measurements of its line at every hour: about three times what is asked of it."""
        show = Show(name="Drawn", starts_at=START, ends_at=START + timedelta(hours=2), format=hd())
        ups = [(self.asked or 3) * self.rng.uniform(2.8, 3.4) for _ in range(16)]
        found = [
            Measurement(at=START + timedelta(days=-6 - 7 * (n % 6 // 2) - n % 2, minutes=-60 + 15 * n), uplink=line, up_mbps=up, rtt_ms=20, loss_pct=0, probes=1000, conditions="busy", connections=1)
            for line in self.lines
            for n, up in enumerate(ups)
        ]  # fmt: skip
        return Case(apply(Plan(show=show), self.edits), Survey(measurements=tuple(found), facts=tuple(self.seen)), NOW)


def mixed(d: Drawing, cameras: int = 2) -> None:
    """Cameras by SDI into a switcher, program to an encoder on the network."""
    d.box("switcher-eight", "switcher", "desk")
    for n in range(cameras):
        d.camera("camera-field", f"cam-{n}", d.rng.choice(["desk", "near", "far"]))
        d.wire(f"cam-{n}/sdi", f"switcher/in-{(1, 2, 6)[n]}", "coax")
    d.box("encoder-four", "encoder", "desk")
    d.wire("switcher/program", "encoder/sdi", "coax")
    d.online("encoder")
    d.wall("switcher")


def j1(d: Drawing) -> None:
    d.camera("phone", "phone", "near", hd("30"))
    d.online("phone", "wifi", wired=False)
    d.box("computer-stream", "laptop", "desk", produces=hd("30").model_dump(mode="json"))
    d.online("laptop")
    d.stream("phone", "laptop", "web", hd("30"), 4, "net-1", address="https://calls.cedar.example/in", view_address="https://calls.cedar.example/view")
    d.tried("phone-to-laptop")
    d.push("laptop", "alder", 5, hd("30"))
    d.aim("alder")


def j2(d: Drawing) -> None:
    mixed(d)
    d.camera("camera-field", "roving", "far")
    d.box("radio-fast-tx", "tx", "far")
    d.box("radio-fast-rx", "rx", "desk")
    d.wire("roving/sdi", "tx/sdi", "coax")
    d.air("tx", "rx")
    d.wire("rx/hdmi", "switcher/in-3", "hdmi")
    d.push("encoder", "alder")
    d.aim("alder")


def j3(d: Drawing) -> None:
    d.box("capture-desk", "box", "desk", produces=hd("30").model_dump(mode="json"))
    d.camera("camera-field", "cam-0", "far", hd("30"))
    d.camera("camera-compact", "cam-1", "near", hd("30"))
    d.wire("cam-0/sdi", "box/sdi", "coax")
    d.wire("cam-1/hdmi", "box/hdmi-1", "hdmi")
    d.box("sound-desk", "sound", "desk")
    d.wire("sound/out", "box/sound", "audio")
    d.box("computer-stream", "laptop", "desk", produces=hd("30", 720).model_dump(mode="json"))
    d.wire("box/usb", "laptop/usb-1", "usb3")
    d.online("laptop")
    d.push("laptop", "alder", 3, hd("30", 720))
    d.aim("alder")


def j4(d: Drawing) -> None:
    d.camera("camera-field", "cam-0", "far")
    d.box("encoder-field", "field", "far")
    d.wire("cam-0/sdi", "field/sdi", "coax")
    d.online("field")
    d.box("gateway-bonding", "eelgrass", None)
    d.stream("field", "eelgrass", "srt", hd(), 6, address="srt://in.eelgrass.example:9000")
    d.asked += 7
    d.push("eelgrass", "alder", leaves=False)
    d.aim("alder", "source", "cam-0")


def j5(d: Drawing) -> None:
    mixed(d)
    d.push("encoder", "alder")
    d.box("encoder-paired", "sender", "desk")
    d.wire("switcher/clean", "sender/in", "coax")
    d.online("sender")
    d.box("decoder", "decoder", "far")
    d.online("decoder")
    d.stream("sender", "decoder", "paired", hd(), 10)
    d.box("screen-large", "screen", "far")
    d.wire("decoder/hdmi", "screen/hdmi", "hdmi")
    d.edits.append(put_port("switcher/clean", "carries", "program"))
    d.aim("screen")
    d.aim("alder")


def j6(d: Drawing) -> None:
    d.box("switcher-all", "recorder", "desk")
    d.camera("camera-field", "cam-0", "far")
    d.camera("camera-compact", "cam-1", "near")
    d.camera("camera-ip", "cam-2", "far", hd("25"))
    d.wire("cam-0/sdi", "recorder/in-1", "coax")
    d.wire("cam-1/hdmi", "recorder/in-2", "hdmi")
    for box in ("cam-2", "recorder"):
        d.online(box)
    d.fixed("cam-2", 40)
    d.asked_for("cam-2")
    d.wall("recorder")
    d.stream("cam-2", "recorder", "rtsp", hd("25"), 6, "in-6")
    d.push("recorder", "alder")
    d.aim("alder")


def j7(d: Drawing) -> None:
    mixed(d)
    if d.rng.random() < 0.5:
        d.push("encoder", "alder")
        d.push("encoder", "birch")
    else:
        d.box("relay-cloud", "millrace", None)
        d.push("encoder", "millrace")
        for platform in ("alder", "birch"):
            d.push("millrace", platform, leaves=False)
    for platform in ("alder", "birch"):
        d.aim(platform)


def j8(d: Drawing) -> None:
    d.camera("camera-tiny", "pebble", "near", hd("30"))
    d.online("pebble", "wifi", wired=False)
    d.box("server-lan", "server", "desk")
    d.box("computer-stream", "laptop", "desk", produces=hd("30").model_dump(mode="json"))
    for box in ("server", "laptop"):
        d.online(box)
    d.stream("pebble", "server", "rtmp", hd("30"), 5, address="rtmp://192.168.20.45/live/pebble")
    d.fixed("server", 45)
    d.tried("pebble-to-server")
    d.stream("server", "laptop", "rtmp", hd("30"), 5, "net-1")
    d.push("laptop", "alder", 5, hd("30"))
    d.aim("alder")


def j9(d: Drawing) -> None:
    d.camera("camera-ip", "hide", "far", hd("25"))
    d.box("injector", "injector", "far")
    d.wire("hide/lan", "injector/poe", "ethernet")
    d.online("injector")
    d.edits += [put_port("injector/lan", "interface", None), put_port("hide/lan", "interface.network", "lan")]
    d.box("computer-stream", "laptop", "desk", produces=hd("25").model_dump(mode="json"))
    d.online("laptop")
    d.fixed("hide", 40)
    login = d.asked_for("hide", d.rng.choice(["", "viewer:mud%23lantern"]))
    d.stream("hide", "laptop", "rtsp", hd("25"), 6, "net-1", address=f"{login}192.168.20.40:554/main")
    d.push("laptop", "alder", 5, hd("25"))
    d.aim("alder")


def j10(d: Drawing) -> None:
    d.box("switcher-all", "recorder", "desk")
    d.camera("camera-field", "cam-0", "far")
    d.camera("camera-compact", "cam-1", "desk")
    d.wire("cam-0/sdi", "recorder/in-1", "coax")
    d.wire("cam-1/hdmi", "recorder/in-3", "hdmi")
    d.wall("recorder")
    d.box("screen-large", "screen", "near")
    d.wire("recorder/program", "screen/hdmi", "hdmi")
    d.online("recorder")
    d.push("recorder", "alder")
    d.push("recorder", "birch", 3, hd("25", 720))
    for end in ("alder", "birch", "screen"):
        d.aim(end)


def j11(d: Drawing) -> None:
    d.box("switcher-eight", "switcher", "desk")
    for n, place in enumerate(("near", "far")):
        d.camera("camera-studio", f"cam-{n}", place)
        d.wire(f"cam-{n}/sdi", f"switcher/in-{n + 1}", "coax")
    d.camera("camera-compact", "cam-2", "near")
    d.wire("cam-2/hdmi", "switcher/in-4", "hdmi")
    for port in ("control", "stream"):
        d.online("switcher", port)
    d.wall("switcher")
    d.push("switcher", "alder")
    d.box("recorder", "card", "desk")
    d.wire("switcher/program", "card/sdi", "coax")
    for end in ("alder", "card"):
        d.aim(end)


def j12(d: Drawing) -> None:
    mixed(d, 1)
    d.camera("camera-network", "roving", "far")
    d.online("roving")
    d.online("switcher", "stream")
    d.stream("roving", "switcher", "paired", hd(), 10, "in-7")
    d.push("encoder", "alder")
    d.aim("alder")


def j13(d: Drawing) -> None:
    d.camera("camera-compact", "cam-0", "far")
    d.box("radio-light-tx", "tx", "far")
    d.box("radio-light-rx", "rx", "near")
    d.wire("cam-0/hdmi", "tx/hdmi", "hdmi")
    d.air("tx", "rx")
    d.box("ndi-sender", "window", "near")
    d.wire("rx/hdmi", "window/in", "hdmi")
    d.edits.append(put_port("window/in", "assigned", "hdmi"))
    d.box("computer-mix", "computer", "desk")
    for box in ("window", "computer"):
        d.online(box)
    d.stream("window", "computer", "ndi", hd(), 120, "net-1", codec="intra")
    d.push("computer", "alder")
    d.aim("alder")


def j14(d: Drawing) -> None:
    mixed(d)
    d.add("uplink", id="tether", name="Phone tether", site="creek", kind="mobile", mobile={"cap_gb": 100})
    d.edits += [put("router", "creek-router", "uplinks", ["fibre", "tether"]), put("router", "creek-router", "switch_s", 15)]
    d.lines.append("tether")
    d.push("encoder", "alder")
    d.aim("alder")


def j15(d: Drawing) -> None:
    d.box("computer-mix", "computer", "desk")
    d.online("computer")
    for n in range(d.rng.randint(2, 5)):
        d.camera("camera-ndi", f"cam-{n}", d.rng.choice(["near", "far"]))
        d.online(f"cam-{n}")
        d.stream(f"cam-{n}", "computer", "ndi", hd(), 120, f"net-{n + 1}", codec="intra")
    for platform in ("alder", "birch"):
        d.push("computer", platform)
        d.aim(platform)


def j16(d: Drawing) -> None:
    mixed(d)
    d.push("encoder", "alder")
    d.aim("alder")
    d.add("site", id="town", name="Town")
    d.spot("hall", "town", 0, 0)
    d.add("uplink", id="hall-line", name="Hall line", site="town")
    d.lines.append("hall-line")
    d.add("network", id="hall-lan", name="Hall LAN", site="town", range="10.4.0.0/24", gateway="10.4.0.1")
    d.edits += [leave_by("hall-lan", "hall-line"), put("uplink", "hall-line", "outside", "public"),
                put("router", "town-router", "forwards", [{"transport": "udp", "port": 9000, "to_address": "10.4.0.20"}])]
    d.box("decoder", "decoder", "hall")
    d.edits += [put_port("decoder/lan", "interface.network", "hall-lan"), put_port("decoder/lan", "interface.addressing", "reserved"),
                put_port("decoder/lan", "interface.address", "10.4.0.20")]
    d.box("screen-large", "screen", "hall")
    d.wire("decoder/hdmi", "screen/hdmi", "hdmi")
    d.stream("encoder", "decoder", "srt", hd(), 6, address="srt://203.0.113.20:9000", key="lantern-boats")
    d.asked += 7
    d.aim("screen")


def j17(d: Drawing) -> None:
    mixed(d)
    d.push("encoder", "alder")
    d.aim("alder")
    d.box("ndi-sender", "program-ndi", "desk")
    d.wire("switcher/program-hdmi", "program-ndi/in", "hdmi")
    d.edits.append(put_port("program-ndi/in", "assigned", "hdmi"))
    d.online("program-ndi")
    for room in ("near", "far"):
        d.box("ndi-decoder", f"{room}-decoder", room)
        d.online(f"{room}-decoder")
        d.stream("program-ndi", f"{room}-decoder", "ndi", hd(), 120, codec="intra")
        d.box("projector", f"{room}-screen", room)
        d.wire(f"{room}-decoder/hdmi", f"{room}-screen/hdmi", "hdmi")
        d.aim(f"{room}-screen")


def j18(d: Drawing) -> None:
    mixed(d)
    d.push("encoder", "alder")
    d.box("encoder-tall", "upright", "desk")
    d.wire("switcher/program-hdmi", "upright/hdmi", "hdmi")
    d.online("upright")
    d.push("upright", "cedar", 4, VideoFormat(width=1080, height=1920, rate="25"), layout="fit")
    for end in ("alder", "cedar"):
        d.aim(end)


JOBS: tuple[Callable[[Drawing], None], ...] = (
    j1, j2, j3, j4, j5, j6, j7, j8, j9, j10, j11, j12, j13, j14, j15, j16, j17, j18,
)  # fmt: skip
