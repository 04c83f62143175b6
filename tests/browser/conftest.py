"""The real application in headless Chromium: a server of its own, and a page on it."""

import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
expect.set_options(timeout=10_000)


class Server:
    """A served data folder that can be stopped and started again on the same port."""

    def __init__(self, folder: Path) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.folder, self.url = folder, f"http://127.0.0.1:{self.port}"
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [
            sys.executable,
            "-m",
            "humble_relay",
            "demo",
            "--data",
            str(self.folder),
            "--port",
            str(self.port),
        ]
        self._process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        for _ in range(200):
            try:
                httpx.get(f"{self.url}/api/plans", timeout=1)
                return
            except httpx.TransportError:
                time.sleep(0.05)
        raise AssertionError("the server did not start")

    def stop(self) -> None:
        if self._process:
            os.kill(self._process.pid, signal.SIGKILL)
            self._process.wait()
            self._process = None


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    found = Server(tmp_path / "data")
    found.start()
    yield found
    found.stop()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield found
        found.close()


@pytest.fixture
def page(browser: Browser, server: Server) -> Iterator[Page]:
    context = browser.new_context(
        viewport={"width": 1280, "height": 800},
        locale="en-GB",
        timezone_id="Europe/London",
        accept_downloads=True,
    )
    found = context.new_page()
    errors: list[str] = []
    outside: list[str] = []
    found.on("pageerror", lambda error: errors.append(str(error)))
    found.on(
        "request",
        lambda r: None if r.url.startswith((server.url, "data:", "blob:")) else outside.append(r.url),
    )
    yield found
    context.close()
    assert not errors and not outside
