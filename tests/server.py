"""The real server in a process of its own, to be killed, stopped and started again on the same port."""

import signal
import socket
import ssl
import subprocess
import sys
import threading
import time
from pathlib import Path

import httpx

JSON = {"Content-Type": "application/json"}


class Server:
    """A served data folder."""

    def __init__(self, folder: Path, command: str = "demo", *more: str) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.folder, self.url, self._args = folder, f"http://127.0.0.1:{self.port}", (command, more)
        self._process: subprocess.Popen[bytes] | None = None
        self._said, self._listening = "", threading.Lock()

    def start(self, trusted: ssl.SSLContext | None = None) -> "Server":
        """Starts it and waits until it answers; encrypted where certificates are trusted for it."""
        if trusted:
            self.url = self.url.replace("http:", "https:")
        name, more = self._args
        command = [
            sys.executable,
            "-m",
            "humble_relay",
            name,
            "--data",
            str(self.folder),
            "--port",
            str(self.port),
        ]
        self._process = subprocess.Popen([*command, *more], stdout=subprocess.PIPE, stderr=subprocess.PIPE)
        for _ in range(400):
            try:
                httpx.get(f"{self.url}/api/plans", timeout=1, verify=trusted or True)
                return self
            except httpx.TransportError:
                if self._process.poll() is not None:
                    break
                time.sleep(0.05)
        raise AssertionError(f"the server did not start: {self.said()}")

    def code(self) -> str:
        """The code it showed when it began to listen beyond this machine."""
        assert self._process and self._process.stdout
        for line in iter(self._process.stdout.readline, b""):
            if b"The code to enter it with: " in line:
                return line.decode().split(": ")[1].strip()
        raise AssertionError("no code was shown")

    @property
    def pid(self) -> int:
        """The number of its process."""
        assert self._process
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
        with self._listening:  # it may be killed by one while another waits for it to stop
            if self._process:
                out, err = self._process.communicate(timeout=30)
                self._process, self._said = None, (out + err).decode()
            return self._said

    def client(self, timeout: float = 10) -> httpx.Client:
        return httpx.Client(base_url=self.url, headers=JSON, timeout=timeout)

    def _end(self, number: int) -> None:
        process = self._process
        if process and process.returncode is None:
            process.send_signal(number)
        self.said()
