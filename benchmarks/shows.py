"""Plans of every size to measure on, generated: the same ones each time."""

import itertools
from datetime import UTC, datetime

from humble_relay.core.catalogue.gear import from_library, library
from humble_relay.core.catalogue.stock import Holding, Stock, used
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import (
    ENDS,
    Aim,
    Cable,
    Device,
    Interface,
    Network,
    Place,
    Plan,
    Port,
    Router,
    Show,
    Site,
    Stream,
    Uplink,
)
from humble_relay.core.plan.edits import SetField
from humble_relay.core.plan.survey import Survey

NOW = datetime(2026, 9, 14, 10, tzinfo=UTC)


def generated(devices: int) -> Plan:
    """Cameras, converters and encoders in threes, spread over places, each chain cabled."""
    places = [Place(id=f"place-{n}", name=f"Place {n}", site="site", x_m=n * 10.0, y_m=0) for n in range(20)]
    made, links = [], []
    for n in range(devices // 3):
        place = f"place-{n % 20}"
        made += [
            from_library("camera-field", f"cam-{n}", place, f"Camera {n}"),
            from_library("converter-sdi-hdmi", f"box-{n}", place, f"Box {n}"),
            from_library("encoder-one", f"enc-{n}", "place-0", f"Encoder {n}"),
        ]
        links += [
            Cable(id=f"a-{n}", from_port=f"cam-{n}/sdi", to_port=f"box-{n}/in", cable="coax", length_m=20),
            Cable(
                id=f"b-{n}",
                from_port=f"box-{n}/out",
                to_port=f"enc-{n}/hdmi",
                cable="hdmi",
                length_m=3 + n % 10,
            ),
        ]
    site = (Site(id="site", name="Site"),)
    return Plan(
        show=Show(name="Generated"), sites=site, places=tuple(places), devices=tuple(made), links=tuple(links)
    )


def busy(groups: int) -> Plan:
    """Groups of 12 devices and 24 links: four NDI cameras also on SDI, a switcher, its splitter, encoder, recorder and
    screens, a computer that takes the NDI, and a network switch; one platform for all."""
    places = [
        Place(id=f"place-{n}", name=f"Place {n}", site="site", x_m=n * 20.0, y_m=(n % 3) * 15)
        for n in range(20)
    ]
    devices, links = [from_library("platform-wide", "alder", None, "Alder")], []

    def wire(a: str, b: str, kind: str, length: float) -> None:
        link = {"id": f"l{len(links)}", "from_port": a, "to_port": b, "cable": kind, "length_m": length}
        links.append(Cable.model_validate(link))

    def stream(a: str, b: str, protocol: str, into: str | None) -> None:
        fmt = {"width": 1920, "height": 1080, "rate": "50"}
        link = {
            "id": f"l{len(links)}",
            "name": f"{a} to {b}",
            "from_device": a,
            "to_device": b,
            "protocol": protocol,
        }
        more = {
            "format": fmt,
            "codec": "intra" if protocol == "ndi" else "h264",
            "video_mbps": 8,
            "input": into,
        }
        links.append(Stream.model_validate(link | more))

    for g in range(groups):
        here, hall = f"place-{g % 20}", f"place-{(g + 1) % 20}"
        for i in range(4):
            cam = f"cam-{g}-{i}"
            made = from_library("camera-ndi", cam, here, f"Camera {g} {i}")
            port = [
                p.model_copy(update={"interface": Interface(network="lan")}) if p.id == "lan" else p
                for p in made.ports
            ]
            devices.append(made.model_copy(update={"ports": tuple(port)}))
            wire(f"{cam}/sdi", f"sw-{g}/in-{i + 1}", "coax", 12)
            wire(f"{cam}/lan", f"net-{g}/lan-{i + 1}", "ethernet", 12)
            stream(cam, f"pc-{g}", "ndi", f"net-{i + 1}")
        for model, id in (
            ("switcher-eight", f"sw-{g}"), ("distribution-sdi", f"da-{g}"), ("encoder-four", f"enc-{g}"),
            ("recorder", f"rec-{g}"), ("monitor", f"mon-{g}"), ("screen-large", f"scr-{g}"),
            ("computer-mix", f"pc-{g}"), ("switch-poe", f"net-{g}"),
        ):  # fmt: skip
            devices.append(from_library(model, id, hall if id.startswith("scr") else here, id))
        wire(f"sw-{g}/program", f"da-{g}/in", "coax", 1)
        for n, (into, length) in enumerate([(f"enc-{g}/sdi", 2), (f"rec-{g}/sdi", 2), (f"mon-{g}/sdi", 3)]):
            wire(f"da-{g}/out-{n + 1}", into, "coax", length)
        wire(f"sw-{g}/multi", f"scr-{g}/hdmi", "hdmi", 5)
        for n, ref in enumerate([f"enc-{g}/lan", f"pc-{g}/lan", f"sw-{g}/control"]):
            wire(ref, f"net-{g}/lan-{n + 5}", "ethernet", 3)
        for _ in range(4):
            stream(f"enc-{g}", "alder", "rtmps", None)
    return Plan(
        show=Show(name="Busy"),
        sites=(Site(id="site", name="Site"),),
        places=tuple(places),
        uplinks=(Uplink(id="line", name="Line", site="site"),),
        networks=(Network(id="lan", name="LAN", site="site", range="10.0.0.0/16"),),
        routers=(Router(id="router", name="Router", site="site", networks=("lan",), uplinks=("line",)),),
        devices=tuple(devices),
        links=tuple(links),
    )


def asked(plan: Plan) -> Plan:
    """The plan with the program asked for at every screen, recorder and platform."""
    ends = [d.id for d in plan.devices if d.kind in ENDS]
    return plan.model_copy(update={"aims": tuple(Aim(id=id, end=id) for id in ends)})


def chain(boxes: int) -> Plan:
    """One camera through a long row of distribution amplifiers to a recorder."""
    names = ["cam", *(f"box-{n}" for n in range(boxes)), "rec"]
    models = {"cam": "camera-field", "rec": "recorder"}
    ports = {"cam": ("", "sdi"), "rec": ("sdi", "")}
    return Plan(
        show=Show(name="Chain"),
        sites=(Site(id="site", name="Site"),),
        places=(Place(id="place", name="Place", site="site", x_m=0, y_m=0),),
        devices=tuple(from_library(models.get(n, "distribution-sdi"), n, "place", n) for n in names),
        links=tuple(
            Cable(
                id=f"l{i}", from_port=f"{a}/{ports.get(a, ('in', 'out-1'))[1]}",
                to_port=f"{b}/{ports.get(b, ('in', 'out-1'))[0]}", cable="coax", length_m=1,
            )
            for i, (a, b) in enumerate(itertools.pairwise(names))
        ),
    )  # fmt: skip


def loose(cameras: int) -> Case:
    """Cameras that are plugged into nothing, and a switcher with an input for each."""
    inputs = tuple(
        Port(id=f"in-{n}", name=f"In {n}", way="in", types=("sdi",)) for n in range(min(cameras, 200))
    )
    plan = chain(1)
    made = tuple(from_library("camera-field", f"c-{n}", "place", f"Camera {n}") for n in range(cameras))
    switcher = Device(id="switcher", name="Switcher", kind="switcher", place="place", ports=inputs)
    return Case(plan.model_copy(update={"devices": (*made, switcher), "links": ()}), Survey(), NOW)


def renamed(plan: Plan, count: int) -> list[SetField]:
    devices = itertools.islice(itertools.cycle(plan.devices), count)
    return [SetField(noun="device", id=d.id, field="name", value=f"Name {n}") for n, d in enumerate(devices)]


def stock_of(plan: Plan) -> Stock:
    """As many of each model as the plan uses, and five more of everything that passes a picture on."""
    count = dict(used(plan))
    for model in library().values():
        if model.device.kind in ("converter", "radio", "decoder", "encoder"):
            count[model.device.model] = count.get(model.device.model, 0) + 5
    return Stock(
        holdings=tuple(Holding(id=f"h{i}", model=m, count=n) for i, (m, n) in enumerate(count.items()))
    )
