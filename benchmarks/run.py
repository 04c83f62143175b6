"""Speed, as medians with their spread: `make bench`. Machines are noisy; compare runs on one machine only."""

import gc
import gzip
import itertools
import math
import os
import re
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import TypeVar

import httpx
from playwright.sync_api import Browser, sync_playwright

from humble_relay.core.catalogue.gear import from_library, library
from humble_relay.core.catalogue.stock import Holding, Stock, used
from humble_relay.core.cures.trial import cures_of
from humble_relay.core.judgement import answers, findings, proven
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
from humble_relay.core.plan.edits import AddDevice, SetField
from humble_relay.core.plan.edits.draft import apply, told
from humble_relay.core.plan.survey import Survey
from humble_relay.core.signal.diagram.content import signal_map
from humble_relay.core.signal.finder.alternatives import find_routes, reroute
from humble_relay.core.signal.finder.whole_show import patch_all
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.signal.flow.tracing import trace
from humble_relay.core.views.report import report, try_edits
from humble_relay.demo import demo_plan
from humble_relay.formats.plan_file import read_plan, write_plan
from humble_relay.store.changes import Edited
from humble_relay.store.database import open_database
from humble_relay.store.plans import Plans

T = TypeVar("T")
JSON = {"Content-Type": "application/json"}
NOW = datetime(2026, 9, 14, 10, tzinfo=UTC)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def spread(name: str, target: str, run: Callable[[], object], times: int = 15) -> float:
    """Prints median, quartiles and the target of one figure, in ms; the median comes back."""
    run()
    took = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        took.append((time.perf_counter() - start) * 1000)
    low, middle, high = statistics.quantiles(took, n=4)
    print(f"{name:<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f}; target {target})")
    return middle


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


def paths() -> None:
    plan = busy(25)
    size = f"{len(plan.devices)} devices, {len(plan.links)} links"
    spread(f"report on {size}", "300 ms (1000 devices: 1 s)", lambda: report(plan, Survey(), NOW), 9)
    loose = apply(plan, [AddDevice(item=from_library("camera-compact", "loose", "place-4", "Loose camera"))])
    for name, stock in (("nobody counts the stock", Stock()), ("counted stock", _stock(loose))):
        index = Case(loose, Survey(), NOW, stock)
        index.once(flow)
        spread(f"one route over it, {name}", "200 ms", lambda i=index: find_routes(i, "loose", "sw-3"), 9)
        spread(f"one re-route over it, {name}", "200 ms", lambda i=index: reroute(i, "l0"), 9)
    spread(
        "a whole patch of it to one switcher",
        "",
        lambda: patch_all(Case(loose, Survey(), NOW), "sw-3"),
        5,
    )
    map_plan = busy(17)
    spread(
        f"signal map of {len(map_plan.devices)} devices laid out", "1000 ms with the drawing",
        lambda: signal_map(Case(map_plan, Survey(), NOW)), 9,
    )  # fmt: skip


def _stock(plan: Plan) -> Stock:
    """As many of each model as the plan uses, and five more of everything that passes a picture on."""
    count = dict(used(plan))
    for model in library().values():
        if model.device.kind in ("converter", "radio", "decoder", "encoder"):
            count[model.device.model] = count.get(model.device.model, 0) + 5
    return Stock(
        holdings=tuple(Holding(id=f"h{i}", model=m, count=n) for i, (m, n) in enumerate(count.items()))
    )


def core() -> None:
    demo = demo_plan()
    spread("report on the demo plan", "20 ms", lambda: report(demo.plan, demo.survey, NOW), 40)
    costs = {}
    for size in (100, 300, 1000):
        plan = generated(size)
        target = "1000 ms" if size == 1000 else "close to linear"
        costs[size] = spread(f"report on {size} devices", target, lambda p=plan: report(p, Survey(), NOW), 9)
    print(f"{'cost a device, 1000 against 100 devices':<44} {costs[1000] / costs[100] / 10:8.2f} times")
    edit = SetField(noun="link", id="alder-feed", field="video_mbps", value=5.5)
    spread(
        "try one edit on the demo plan",
        "",
        lambda: try_edits(Case(demo.plan, demo.survey, NOW), [edit]),
        40,
    )


def judging() -> None:
    """How many answers there are and of which states, and what judging and proving them costs."""
    demo, large = demo_plan(), asked(busy(25))
    for name, plan, survey, target in (
        ("the demo", demo.plan, demo.survey, "15 ms"),
        (f"{len(large.devices)} devices", large, Survey(), "100 ms"),
        ("1000 devices", generated(1000), Survey(), "350 ms"),
    ):
        states = Counter(a.state for a in answers(Case(plan, survey, NOW)).every)
        said = ", ".join(f"{n} {state}" for state, n in states.most_common())
        print(f"answers on {name}: {sum(states.values())} ({said})")
        spread(f"judging {name}", target, lambda p=plan, s=survey: answers(Case(p, s, NOW)), 15)
        spread(f"findings of {name} in words", "", lambda p=plan, s=survey: findings(Case(p, s, NOW)), 15)
        spread(
            f"proofs of {name} ({len(plan.aims)} aims)",
            "",
            lambda p=plan, s=survey: proven(Case(p, s, NOW)),
            9,
        )
    late = apply(large, [SetField(noun="link", id="l0", field="length_m", value=140)])
    case = Case(late, Survey(), NOW)
    findings(case)
    spread(
        "cures of a cable too long on 301 devices", "500 ms", lambda: cures_of(case, "cable-too-long:l0"), 5
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


def costs() -> None:
    """How the cost of what one request may ask for grows with its size: the exponent of a power of the size."""
    grows("trace from the head of a chain, boxes", (200, 400, 800), chain, lambda p: trace(Case(p, Survey(), NOW), "cam"))  # fmt: skip
    grows("trace in the middle of a chain, boxes", (200, 400, 800), chain, lambda p: trace(Case(p, Survey(), NOW), "box-90"))  # fmt: skip
    grows("patch all, cameras (60 at a time)", (100, 200, 400), loose, lambda i: patch_all(i, "switcher"))
    large = generated(999)
    grows("edits made and told on 1000 devices", (100, 400, 1600), lambda n: renamed(large, n), lambda e: told(large, e))  # fmt: skip
    grows(
        "plan file read, devices", (300, 900, 2700), lambda n: write_plan(generated(n), Survey()), read_plan
    )
    grows("report, devices", (300, 900, 2700), generated, lambda p: report(p, Survey(), NOW))


def grows(name: str, sizes: tuple[int, ...], make: Callable[[int], T], run: Callable[[T], object]) -> None:
    """Prints the median cost at each size and the exponent from the first to the last."""
    medians = []
    for size in sizes:
        made, took = make(size), []
        for _ in range(5):
            start = time.perf_counter()
            run(made)
            took.append((time.perf_counter() - start) * 1000)
        medians.append(statistics.median(took))
    exponent = math.log(medians[-1] / medians[0]) / math.log(sizes[-1] / sizes[0])
    shown = ", ".join(f"{n}: {ms:.0f} ms" for n, ms in zip(sizes, medians, strict=True))
    print(f"{name:<44} {shown}; cost grows with size^{exponent:.2f}")


def kept() -> None:
    """What a plan of 300 devices costs to keep: its edits, its history, its room on the disk."""
    with tempfile.TemporaryDirectory() as folder:
        plans, plan = Plans(open_database(Path(folder))), busy(25)
        plans.create(plan, Survey(), "busy", "began")
        version = 1
        took = []
        for n in range(500):
            device = plan.devices[n % len(plan.devices)].id
            edit = SetField(noun="device", id=device, field="delay_ms", value=n)
            start = time.perf_counter()
            version = plans.make("busy", version, Edited([edit])).version
            took.append((time.perf_counter() - start) * 1000)
        low, middle, high = statistics.quantiles(took, n=4)
        size = sum(f.stat().st_size for f in Path(folder).glob("*.sqlite")) / 1e6
        print(f"{'edit kept on ' + str(len(plan.devices)) + ' devices, not judged':<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f})")  # fmt: skip
        spread("history of 500 revisions listed", "100 ms", lambda: plans.history("busy"), 9)
        print(f"{'500 revisions of it on the disk':<44} {size:8.1f} MB   (target 30 MB)")


def served() -> None:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    url, plan = f"http://127.0.0.1:{port}", "/api/plans/saltmere-lantern-regatta"
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "humble_relay", "demo", "--data", folder, "--port", str(port)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            for _ in range(200):
                try:
                    httpx.get(url + plan, timeout=1)
                    break
                except httpx.TransportError:
                    time.sleep(0.05)
            with httpx.Client(base_url=url, headers=JSON) as client:
                version = client.get(plan).json()["version"]

                def edit() -> None:
                    nonlocal version
                    body = {
                        "kind": "set",
                        "noun": "link",
                        "id": "alder-feed",
                        "field": "video_mbps",
                        "value": 4 + version % 5,
                    }
                    answer = client.post(
                        f"{plan}/edits", json={"edits": [body]}, headers={"If-Match": f'"{version}"'}
                    )
                    version = answer.json()["version"]

                spread("edit to new report, through the API", "100 ms with the screen", edit, 40)
            painted(url)
        finally:
            os.kill(server.pid, signal.SIGKILL)
            server.wait()


def painted(url: str) -> None:
    page_url = f"{url}/plans/saltmere-lantern-regatta/bandwidth"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        paints, page = [], browser.new_page()
        for _ in range(7):
            page.context.close()
            page = browser.new_context().new_page()
            page.goto(page_url)
            page.get_by_label("Video bitrate", exact=True).first.wait_for()
            paints.append(
                page.evaluate("performance.getEntriesByName('first-contentful-paint')[0].startTime")
            )
            field = page.get_by_label("Video bitrate", exact=True).first
        low, middle, high = statistics.quantiles(paints, n=4)
        print(
            f"{'first paint of the built front end':<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f})"
        )
        took = []
        for n in range(12):
            field.fill(str(4 + n % 4))
            start = time.perf_counter()
            field.press("Enter")
            page.get_by_text(f"video {4 + n % 4}").first.wait_for()
            took.append((time.perf_counter() - start) * 1000)
        low, middle, high = statistics.quantiles(took[1:], n=4)
        print(
            f"{'edit kept to screen, in the browser':<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f}; target 100 ms)"
        )
        mapped(browser, url)
        browser.close()


def mapped(browser: Browser, url: str) -> None:
    """To the last box of the map on the screen: from the key that opens the stage, and from a cold start."""
    plan = busy(17)
    with httpx.Client(base_url=url, timeout=30, headers=JSON) as client:
        made = client.post("/api/plans/import", content=write_plan(plan, Survey()))
        page_url = f"{url}/plans/{made.json()['id']}"
    keyed, cold = [], []
    for _ in range(7):
        page = browser.new_context().new_page()
        page.goto(f"{page_url}/signal")
        page.locator("g[data-of=alder]").wait_for()
        cold.append(page.evaluate("performance.now()"))
        page.keyboard.press("1")
        page.get_by_label("Raster, pixels").wait_for()
        page.wait_for_timeout(500)
        start = page.evaluate("performance.now()")
        page.keyboard.press("4")
        page.locator("g[data-of=alder]").wait_for()
        keyed.append(page.evaluate("performance.now()") - start)
        boxes = page.locator("svg g[role=button]").count()
        page.close()
    for name, took in (("from the key", keyed), ("from a cold start", cold)):
        low, middle, high = statistics.quantiles(took, n=4)
        what = f"map of {len(plan.devices)} devices ({boxes} boxes), {name}"
        target = "target 1000 ms" if took is keyed else "program and plan loaded too"
        print(f"{what:<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f}; {target})")


def sizes() -> None:
    """What the first page loads, and all there is to load."""
    static = Path(__file__).parent.parent / "src/humble_relay/web/static"
    first = re.findall(r'(?:src|href)="/(assets/[^"]+)"', (static / "index.html").read_text())
    for kind, target in (("js", "150 kB"), ("css", "none")):
        named = {f: (static / f).read_bytes() for f in first if f.endswith(kind)}
        every = [f.read_bytes() for f in (static / "assets").glob(f"*.{kind}")]
        packed, whole = (
            sum(len(gzip.compress(f)) for f in files) / 1000 for files in (named.values(), every)
        )
        print(
            f"{'initial ' + kind + ', gzipped':<44} {packed:8.1f} kB   (target {target}; all of it {whole:.1f} kB)"
        )


if __name__ == "__main__":
    gc.collect()
    gc.freeze()  # as the server does
    judging()
    costs()
    kept()
    core()
    paths()
    served()
    sizes()
