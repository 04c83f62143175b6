"""The real server in a process of its own, to be killed, stopped and started again on the same port."""

import multiprocessing
import os
import signal
import socket
import ssl
import tempfile
import time
from multiprocessing.context import ForkServerProcess
from pathlib import Path

import httpx

JSON = {"Content-Type": "application/json"}
STARTS_S = 20
LOADED = multiprocessing.get_context("forkserver")
"""Servers are forked from a process that has loaded the application once: three seconds fewer for each."""
LOADED.set_forkserver_preload(["tests.server", "humble_relay.demo", "humble_relay.store.backup", "humble_relay.web.app", "humble_relay.web.serving"])  # fmt: skip


def served(args: list[str], said: str) -> None:
    """Runs the command as a shell would: what it prints and logs goes to a file."""
    from humble_relay.cli import main

    out = os.open(said, os.O_WRONLY | os.O_TRUNC | os.O_APPEND)
    os.dup2(out, 1)
    os.dup2(out, 2)
    raise SystemExit(main(args))


class Server:
    """A served data folder."""

    def __init__(self, folder: Path, command: str = "demo", *more: str) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.folder, self.url = folder, f"http://127.0.0.1:{self.port}"
        self._args = [command, "--data", str(folder), "--port", str(self.port), *more]
        self._process: ForkServerProcess | None = None
        self._said = Path(tempfile.mkstemp(prefix="humble-relay-server-")[1])

    def start(self, trusted: ssl.SSLContext | None = None) -> "Server":
        """Starts it and waits until it answers; encrypted where certificates are trusted for it."""
        if trusted:
            self.url = self.url.replace("http:", "https:")
        self._process = LOADED.Process(target=served, args=(self._args, str(self._said)), daemon=True)
        self._process.start()
        until = time.monotonic() + STARTS_S
        while time.monotonic() < until and self._process.is_alive():
            try:
                httpx.get(f"{self.url}/api/plans", timeout=1, verify=trusted or True)
                return self
            except httpx.TransportError:
                time.sleep(0.05)
        raise AssertionError(f"the server did not start: {self._said.read_text()}")

    def code(self) -> str:
        """The code it showed when it began to listen beyond this machine."""
        for line in self._said.read_text().splitlines():
            if "The code to enter it with: " in line:
                return line.split(": ")[1].strip()
        raise AssertionError("no code was shown")

    @property
    def pid(self) -> int:
        """The number of its process."""
        assert self._process and self._process.pid
        return self._process.pid

    def kill(self) -> None:
        """As a power cut would."""
        self._end(signal.SIGKILL)

    def stop(self) -> float:
        """As an orderly stop would; how long it took, in s."""
        start = time.monotonic()
        self._end(signal.SIGTERM)
        return time.monotonic() - start

    def said(self) -> str:
        """All that it printed and logged; only once it has ended."""
        if process := self._process:  # it may be killed by one while another waits for it to stop
            process.join(30)
            assert not process.is_alive()
            self._process = None
        return self._said.read_text()

    def client(self, timeout: float = 10) -> httpx.Client:
        return httpx.Client(base_url=self.url, headers=JSON, timeout=timeout)

    def _end(self, number: int) -> None:
        process = self._process
        if process and process.pid and process.is_alive():
            os.kill(process.pid, number)
        self.said()
