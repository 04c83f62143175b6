"""Listening: on this machine or beyond it, dropping what is only half sent, and stopping when told to."""

import asyncio
import gc
import ipaddress
import os
import secrets
import signal
import ssl
import sys
import threading
from collections.abc import Collection
from pathlib import Path
from types import FrameType
from typing import Any, NamedTuple

import uvicorn
from fastapi import FastAPI
from uvicorn.protocols.http.h11_impl import H11Protocol

from humble_relay.web.events import Events
from humble_relay.web.request_patience import Patience

_HEAD_S = 5.0
"""How long the head of a request may take to arrive."""
_STOPS_S = 2.5
_QUIET_TICKS = 30
_STEP_S = 0.0005
"""How long a thread works on while others wait: who only reads a line from the database waits for this each time."""
_CLEAR = "23456789abcdefghjkmnpqrstuvwxyz"
"""Letters and digits that are not taken for one another when read aloud."""


def is_here(host: str) -> bool:
    """Whether an address to listen on can only be reached from this machine."""
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return False


def names_for(host: str, names: Collection[str]) -> list[str]:
    """The names the application answers to. Raises ValueError where it listens everywhere and none was given."""
    try:
        everywhere = ipaddress.ip_address(host.strip("[]")).is_unspecified
    except ValueError:
        everywhere = False
    if everywhere and not names:
        raise ValueError(
            f"{host} means every address of this machine: say with --name by which name or address others will call it, such as --name 192.168.20.5."
        )
    return [*names] if everywhere else [host, *names]


def new_code() -> str:
    """A code to read aloud: 12 characters, about 59 bits."""
    letters = [secrets.choice(_CLEAR) for _ in range(12)]
    return "-".join("".join(letters[i : i + 4]) for i in (0, 4, 8))


class Tls(NamedTuple):
    """The certificate to show, with those that vouch for it, and its key, as PEM files."""

    cert: Path
    key: Path

    def check(self) -> None:
        """Raises ValueError with what to change where the two cannot be used."""
        for file in self:
            if not file.is_file():
                raise ValueError(
                    f"{file} is not there: say with --cert and --key where the certificate and its key are."
                )
        try:
            ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(self.cert, self.key, password="")
        except (
            OSError,
            ValueError,
        ):  # a key that is itself locked asks for a password: there is nobody to ask
            raise ValueError(
                f"{self.cert} and {self.key} do not go together, or are no certificate and key in PEM without a password."
            ) from None


def serve(app: FastAPI, host: str, port: int, tls: Tls | None = None, proxies: Collection[str] = ()) -> None:
    """Serves until SIGTERM or Ctrl+C, and then ends within 3 s. Who asks is believed from the headers of these proxies alone."""
    config = uvicorn.Config(
        app, host=host.strip("[]"), port=port, log_level="warning", http=Punctual, ws="none", server_header=False,
        timeout_keep_alive=30, timeout_graceful_shutdown=1,
        ssl_certfile=tls and tls.cert, ssl_keyfile=tls and tls.key,
        proxy_headers=bool(proxies), forwarded_allow_ips=[*proxies],
    )  # fmt: skip
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: None)  # what the server leaves behind: it has stopped by then
    collect_seldom()
    sys.setswitchinterval(_STEP_S)
    _Server(config).run()


def collect_seldom() -> None:
    """Leaves what is loaded out of collections, and a full one, which holds everybody up, to when nobody asks."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 500)


class _Server(uvicorn.Server):
    async def on_tick(self, counter: int) -> bool:
        """Ten times a second: collects what nothing refers to any more, once nobody has asked for a while."""
        asked = self.server_state.total_requests
        if asked != self._asked:
            self._asked, self._quiet = asked, 0
        elif len(self.server_state.tasks) <= Events.listening:
            self._quiet += 1
            if self._quiet == _QUIET_TICKS:
                gc.collect()
        return await super().on_tick(counter)

    _asked = _quiet = 0

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """Ends all long work too, and the process itself should anything hang."""
        Patience.stopping = True
        last = threading.Timer(_STOPS_S, os._exit, (0,))
        last.daemon = True
        last.start()
        super().handle_exit(sig, frame)


class Punctual(H11Protocol):
    """HTTP/1.1 where a request that is begun is also finished, or the connection is closed."""

    _waits: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """A new connection: its first request is due."""
        super().connection_made(transport)
        self._look()

    def data_received(self, data: bytes) -> None:
        """More of a request."""
        super().data_received(data)
        self._look()

    def connection_lost(self, exc: Exception | None) -> None:
        """The connection is over."""
        self._stop_waiting()
        super().connection_lost(exc)

    def _look(self) -> None:
        """Waits for the rest of a head that has not arrived whole."""
        if self.cycle is not None and not self.cycle.response_complete:
            self._stop_waiting()
        elif self._waits is None:
            self._waits = self.loop.call_later(_HEAD_S, self._drop)

    def _drop(self) -> None:
        self._waits = None
        if self.cycle is None or self.cycle.response_complete:
            self.transport.close()

    def _stop_waiting(self) -> None:
        if self._waits:
            self._waits.cancel()
            self._waits = None
