"""How soon an entry of the log is where it is read: at forty bare listeners, and on the pages of twelve browsers."""

import statistics
import time

import httpx
from browser import FLAGS, JSON, SEEN, serving
from measured import YARDSTICK_MS
from playwright.sync_api import sync_playwright

from tests.build import entry
from tests.web.test_events import Listener

PLAN = "/plans/saltmere-lantern-regatta"
LISTENERS, BROWSERS, ROUNDS = 40, 12, 9


def told() -> None:
    """Medians of the last of all that are told, in ms and in yardsticks, with the worst round."""
    with serving() as url, sync_playwright() as playwright:
        Listener.plan = f"/api{PLAN}"
        listeners = [Listener(url) for _ in range(LISTENERS)]
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=FLAGS)
        pages = [chromium.new_context().new_page() for _ in range(BROWSERS)]
        for page in pages:
            page.goto(f"{url}{PLAN}/survey/log")
            page.wait_for_function(SEEN, arg=["main h2", "Log"], polling="raf")
        time.sleep(3)  # the stages that are loaded ahead
        for page in pages:
            page.evaluate(
                """path => { new EventSource(path).addEventListener('entry', () => { window.reached = Date.now() }) }""",
                f"/api{PLAN}/events",
            )
        time.sleep(1)
        bare, reached, drawn = list[float](), list[float](), list[float]()
        for n in range(ROUNDS):
            said = f"round {n}"
            for page in pages:
                page.evaluate(
                    """said => { window.seen = window.reached = null; const look = () => {
                        if (document.querySelector('main')?.textContent.includes(said)) window.seen = Date.now();
                        else requestAnimationFrame(look) }; look() }""",
                    said,
                )
            begun, sent = time.monotonic(), time.time()
            httpx.post(f"{url}/api{PLAN}/entries", json={"entries": [entry({"text": said})]}, headers=JSON).raise_for_status()  # fmt: skip
            while any(len(x.entries) <= n for x in listeners):
                time.sleep(0.001)
            bare.append((time.monotonic() - begun) * 1000)
            for page in pages:
                page.wait_for_function("() => window.seen")
            reached.append((max(page.evaluate("window.reached") for page in pages) / 1000 - sent) * 1000)
            drawn.append((max(page.evaluate("window.seen") for page in pages) / 1000 - sent) * 1000)
        chromium.close()
        for name, took in ((f"an entry told to {LISTENERS} bare listeners", bare), (f"an entry reaches {BROWSERS} browsers", reached), (f"and is drawn by all {BROWSERS}, on this machine", drawn)):  # fmt: skip
            middle = statistics.median(took)
            print(f"{name:<44} {middle:8.1f} ms   {middle / YARDSTICK_MS:6.1f} yardsticks, worst {max(took):.1f} ms (target 500 ms)")  # fmt: skip
        for listener in listeners:
            listener.over = True


if __name__ == "__main__":
    told()
