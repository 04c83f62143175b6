"""What the hand waits for: the served application in headless Chromium, on the demo and on shows of 100 to 1000 boxes.

For each action: from the key or click until its effect is on the screen, and the longest task that kept the browser busy
meanwhile (medians and the worst of all rounds, ms; the browser reports tasks from 50 ms on, shorter ones count as 0).
"""

import gzip
import os
import re
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
from measured import spread
from playwright.sync_api import Browser, Page, sync_playwright
from shows import asked, busy

from humble_relay.core.plan import Plan
from humble_relay.core.plan.survey import Survey
from humble_relay.demo import demo_plan
from humble_relay.formats.plan_file import write_plan

JSON = {"Content-Type": "application/json"}
FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip
ROUNDS = 5
WATCH = """window.tasks = []; new PerformanceObserver(found => {
    for (const task of found.getEntries()) window.tasks.push(task.duration) }).observe({type: 'longtask'})"""
PAINTED = "() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now()))))"


@contextmanager
def serving() -> Iterator[str]:
    """A server of its own on the demo; its address."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    url = f"http://127.0.0.1:{port}"
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "humble_relay", "demo", "--data", folder, "--port", str(port)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            for _ in range(200):
                try:
                    httpx.get(f"{url}/api/plans", timeout=1)
                    break
                except httpx.TransportError:
                    time.sleep(0.05)
            yield url
        finally:
            os.kill(server.pid, signal.SIGKILL)
            server.wait()


def api() -> None:
    """An edit kept and judged, through the API alone."""
    plan = "/api/plans/saltmere-lantern-regatta"
    with serving() as url, httpx.Client(base_url=url, headers=JSON) as client:
        version = client.get(plan).json()["version"]

        def edit() -> None:
            nonlocal version
            value = 4 + version % 5
            body = {"kind": "set", "noun": "link", "id": "alder-feed", "field": "video_mbps", "value": value}
            answer = client.post(
                f"{plan}/edits", json={"edits": [body]}, headers={"If-Match": f'"{version}"'}
            )
            version = answer.json()["version"]

        spread("edit to new report, through the API", "60 ms with the screen", edit, 40)


Did = Callable[[Page], object]


YARDSTICK = """() => {
  const start = performance.now();
  for (let n = 0, sum = 0; n < 5e6; n++) sum += (n * n) % 7;
  return performance.now() - start;
}"""


class Hand:
    """One page on one plan, and how long each thing it did took."""

    def __init__(self, browser: Browser, url: str) -> None:
        self.page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        self.page.add_init_script(WATCH)
        self.page.goto(f"{url}/brief")
        self.page.get_by_label("Raster, pixels").wait_for()
        self.page.wait_for_timeout(1500)  # the stages that are loaded ahead
        self.took: dict[str, list[tuple[float, float]]] = {}

    def times(self, name: str, does: Did, until: Did) -> None:
        """Does it, waits until its effect is painted, and lets the page come to rest."""
        page = self.page
        start = page.evaluate("() => { window.tasks = []; return performance.now() }")
        does(page)
        until(page)
        shown = page.evaluate(PAINTED) - start
        page.wait_for_timeout(400)
        longest = page.evaluate("() => Math.max(0, ...window.tasks)")
        self.took.setdefault(name, []).append((shown, longest))


# What is waited for is found by plain selectors, looked for at every frame: a locator's own wait looks every 500 ms after a while.
SEEN = """([selector, words]) => [...document.querySelectorAll(selector)].some(
    found => found.getClientRects().length && found.textContent.includes(words))"""


def there(selector: str, words: str = "") -> Did:
    return lambda page: page.wait_for_function(SEEN, arg=[selector, words], polling="raf")


def heading(words: str) -> Did:
    return there("h2", words)


def press(key: str) -> Did:
    return lambda page: page.keyboard.press(key)


def near(detail: int) -> Did:
    return lambda page: page.locator("fieldset[aria-label='How near'] button").nth(detail).click()


def clicked(selector: str) -> Did:
    return lambda page: page.locator(selector).first.click()


def version(page: Page) -> int:
    said = page.locator("header [role=status]").text_content() or ""
    return int(re.findall(r"\d+", said)[-1])


def kept(number: int) -> Did:
    return there("header [role=status]", f"Saved, version {number}")


def nothing(_: Page) -> None:
    pass


def calm(page: Page) -> None:
    """Lets go of the field, and of the dialog where one is open."""
    page.keyboard.press("Escape")
    page.locator("[role=dialog]").wait_for(state="detached")
    page.evaluate("document.activeElement.blur()")
    page.wait_for_timeout(300)


def through(hand: Hand) -> None:
    """Every stage opened, and what is done most in each."""
    page, bitrate, slider = hand.page, "input[type=range]", "input[type=range]"
    stages = [
        ("2", "Survey", there("main nav a[href*='survey/uplinks']")),
        ("3", "Gear", there("[aria-label='Find in this plan']")),
        ("5", "Addresses", heading("Connection traces")),
        ("7", "Set-up", there("nav[aria-label=Places]")),
        ("8", "Papers", there("main section h2")),
        ("1", "Brief", heading("What must arrive")),
        ("4", "Signal", there("g.box")),
    ]
    for key, name, seen in stages:
        hand.times(f"open {name}", press(key), seen)
    find = page.locator("[aria-label='Find on the map']")
    find.fill("camera")
    hand.times("follow a source on the map", lambda _: find.press("Enter"), there("g.box.chosen"))
    find.press("Escape")
    page.keyboard.press("Tab")
    page.locator("g.box.chosen").click()
    page.wait_for_timeout(600)
    hand.times("the map, every label", near(3), there("[data-detail=full] svg"))
    hand.times("the map, names", near(2), there("[data-detail=names] svg"))
    near(0)(page)
    calm(page)
    hand.times("open Bandwidth", press("6"), there("[data-drag]"))
    hand.times("pick an uplink", clicked("main h2 button"), there("#pane section h3"))
    calm(page)
    hand.times("open its streams", clicked("main nav a[href*='/streams']"), there(bitrate))
    field = page.locator("main input[type=text], main input:not([type])").first
    field.focus()
    now = version(page)
    hand.times("a key in a field", lambda _: field.press("7"), nothing)
    page.wait_for_timeout(900)
    field.fill(str(3 + now % 5))
    page.wait_for_timeout(900)
    hand.times("edit to screen", lambda _: field.press("Enter"), kept(now + 1))
    calm(page)
    page.locator(slider).first.focus()
    hand.times("drag a bitrate, one step", press("ArrowRight"), there("#pane p[aria-live]:not(:empty)"))
    calm(page)
    hand.times("undo in Bandwidth", press("u"), kept(now + 2))
    page.keyboard.press("4")
    there("g.box")(page)
    page.wait_for_timeout(1200)
    hand.times("redo in Signal", press("r"), kept(now + 3))
    hand.times("undo in Signal", press("u"), kept(now + 4))
    hand.times("history", press("h"), there("[role=dialog] tbody tr"))
    calm(page)
    hand.times("open the command bar", press("/"), there("[role=dialog] input"))
    page.keyboard.type("camera")
    page.wait_for_timeout(800)
    hand.times("a key in the command bar", lambda p: p.keyboard.type(" "), nothing)
    calm(page)
    page.keyboard.press("1")
    heading("What must arrive")(page)
    page.wait_for_timeout(500)


def table(rounds: int = ROUNDS) -> None:
    """Every action on every size, as one table."""
    demo = demo_plan()
    shows: list[tuple[str, Plan, Survey]] = [("demo", demo.plan, demo.survey)]
    shows += [(str(12 * n + 1), asked(busy(n)), Survey()) for n in (8, 25, 83)]
    with serving() as url, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=FLAGS)
        yardstick = statistics.median(browser.new_page().evaluate(YARDSTICK) for _ in range(9))
        print(f"one yardstick of the browser (a fixed piece of JavaScript): {yardstick:.2f} ms")
        found: dict[str, list[str]] = {}
        for _, plan, survey in shows:
            with httpx.Client(base_url=url, timeout=60, headers=JSON) as client:
                made = client.post("/api/plans/import", content=write_plan(plan, survey)).json()
            hand = Hand(browser, f"{url}/plans/{made['id']}")
            for _ in range(rounds):
                through(hand)
            hand.page.context.close()
            for action, took in hand.took.items():
                shown = statistics.median(ms for ms, _ in took)
                tasks = [task for _, task in took]
                cell = (
                    f"{shown:5.0f} {shown / yardstick:5.1f} {statistics.median(tasks):5.0f} {max(tasks):5.0f}"
                )
                found.setdefault(action, []).append(cell)
        print(f"{'to the screen, in yardsticks, longest task, worst':<50}" + "".join(f"{name:>26}" for name, *_ in shows))  # fmt: skip
        for action, cells in found.items():
            print(f"{action:<50}" + "".join(f"{cell:>26}" for cell in cells))
        cold(browser, f"{url}/plans/saltmere-lantern-regatta/bandwidth/streams")
        browser.close()


def cold(browser: Browser, url: str) -> None:
    """First paint with nothing kept from before."""
    paints = []
    for _ in range(9):
        page = browser.new_context().new_page()
        page.goto(url)
        page.get_by_label("Video bitrate", exact=True).first.wait_for()
        paints.append(page.evaluate("performance.getEntriesByName('first-contentful-paint')[0].startTime"))
        page.context.close()
    low, middle, high = statistics.quantiles(paints, n=4)
    print(f"{'first paint on a cold start':<44} {middle:8.1f} ms   (quartiles {low:.1f} to {high:.1f})")


def sizes() -> None:
    """What the first page loads, and all there is to load."""
    static = Path(__file__).parent.parent / "src/humble_relay/web/static"
    first = re.findall(r'(?:src|href)="/(assets/[^"]+)"', (static / "index.html").read_text())
    for kind, target in (("js", "150 kB"), ("css", "none")):
        named = [(static / f).read_bytes() for f in first if f.endswith(kind)]
        every = [f.read_bytes() for f in (static / "assets").glob(f"*.{kind}")]
        packed, whole = (sum(len(gzip.compress(f)) for f in files) / 1000 for files in (named, every))
        print(
            f"{'initial ' + kind + ', gzipped':<44} {packed:8.1f} kB   (target {target}; all of it {whole:.1f} kB)"
        )


if __name__ == "__main__":
    table(int(sys.argv[1]) if len(sys.argv) > 1 else ROUNDS)
