"""Speed, as medians with their spread: `make bench`. Machines are noisy; compare runs on one machine only."""

import gzip
import os
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import httpx
from playwright.sync_api import sync_playwright

from humble_relay.core.edits import SetField
from humble_relay.core.gear import from_library
from humble_relay.core.plan import Cable, Place, Plan, Show, Site
from humble_relay.core.report import report, try_edits
from humble_relay.core.survey import Survey
from humble_relay.demo import demo_plan

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


def core() -> None:
    demo = demo_plan()
    spread("report on the demo plan", "20 ms", lambda: report(demo.plan, demo.survey, NOW), 40)
    costs = {}
    for size in (100, 300, 1000):
        plan = generated(size)
        target = "1000 ms" if size == 1000 else "close to linear"
        costs[size] = spread(f"report on {size} devices", target, lambda p=plan: report(p, Survey(), NOW), 9)
    print(f"{'cost a device, 1000 against 100 devices':<44} {costs[1000] / costs[100] / 10:8.2f} times")
    edit = SetField(noun="link", id="slipway-feed", field="video_mbps", value=5.5)
    spread("try one edit on the demo plan", "", lambda: try_edits(demo.plan, demo.survey, [edit], NOW), 40)


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
            with httpx.Client(base_url=url) as client:
                version = client.get(plan).json()["version"]

                def edit() -> None:
                    nonlocal version
                    body = {
                        "kind": "set",
                        "noun": "link",
                        "id": "slipway-feed",
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
        paints = []
        for _ in range(7):
            page = browser.new_context().new_page()
            page.goto(page_url)
            page.get_by_label("Video bitrate", exact=True).wait_for()
            paints.append(
                page.evaluate("performance.getEntriesByName('first-contentful-paint')[0].startTime")
            )
            field = page.get_by_label("Video bitrate", exact=True)
        low, middle, high = statistics.quantiles(paints, n=4)
        print(
            f"{'first paint of the built front end':<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f})"
        )
        took = []
        for n in range(12):
            field.fill(str(4 + n % 4))
            start = time.perf_counter()
            field.press("Enter")
            page.get_by_text(f"video {4 + n % 4}").wait_for()
            took.append((time.perf_counter() - start) * 1000)
        low, middle, high = statistics.quantiles(took[1:], n=4)
        print(
            f"{'edit kept to screen, in the browser':<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f}; target 100 ms)"
        )
        browser.close()


def sizes() -> None:
    assets = Path(__file__).parent.parent / "src/humble_relay/web/static/assets"
    for kind in ("js", "css"):
        files = [f.read_bytes() for f in assets.glob(f"*.{kind}")]
        packed = sum(len(gzip.compress(f)) for f in files) / 1000
        target = "250 kB" if kind == "js" else ""
        print(f"{'initial ' + kind + ', gzipped':<44} {packed:8.1f} kB   (target {target or 'none'})")


if __name__ == "__main__":
    core()
    served()
    sizes()
