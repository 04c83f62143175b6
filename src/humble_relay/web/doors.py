"""What every request passes first and every answer passes last: who may ask, how much, for how long; and the headers.

Pure ASGI, around everything else, so that errors, refusals and pages leave by the same door.
"""

import asyncio
import logging
import time
import traceback
from collections.abc import Awaitable, Callable, Collection, MutableMapping
from typing import Any
from urllib.parse import urlsplit

from starlette.concurrency import run_in_threadpool

from humble_relay.formats.plan_file import LARGEST_BYTES
from humble_relay.meter.far_ends import address_of, is_own
from humble_relay.store.crew import Crew
from humble_relay.web.access import Access, access_of, may
from humble_relay.web.code import Code
from humble_relay.web.heavy import BodyRoom, Share
from humble_relay.web.problems import problem
from humble_relay.web.request_patience import Patience

AsgiScope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]
App = Callable[[AsgiScope, Receive, Send], Awaitable[None]]

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; manifest-src 'self'; form-action 'none'; frame-ancestors 'none'; base-uri 'none'"
)
HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cross-origin-resource-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}
LARGEST_BODY = 5_000_000
_ROOM_BYTES = 2 * LARGEST_BYTES
"""Bytes of bodies that are held at once, of all who ask."""
_QUIET_S, _WHOLE_BODY_S = 5.0, 60.0
"""A body may pause this long, and take that long altogether."""
_HERE = ("127.0.0.1", "localhost", "::1")
_PASSED_ON = (b"forwarded", b"x-forwarded-for", b"x-real-ip", b"via")
"""Headers that a proxy adds to what it passes on (RFC 7239, RFC 9110 §7.6.3)."""
_log = logging.getLogger("humble_relay")


class Refused(Exception):
    """The request is answered at the door."""

    def __init__(self, status: int, detail: str) -> None:
        super().__init__(detail)
        self.status, self.detail = status, detail


class Doors:
    """Middleware around the whole application."""

    def __init__(
        self,
        app: App,
        crew: Crew,
        hosts: Collection[str] = (),
        code: Code | None = None,
        behind_proxy: bool = False,
    ) -> None:
        self._app, self._code, self._crew, self._behind_proxy = app, code, crew, behind_proxy
        self._room = BodyRoom(_ROOM_BYTES)
        self._hosts = {*_HERE, *(h.lower().strip("[]") for h in hosts)}

    async def __call__(self, scope: AsgiScope, receive: Receive, send: Send) -> None:
        """Answers one request."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        begun = False

        async def sent(message: MutableMapping[str, Any]) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                message["headers"] = _headed(scope["path"], message.get("headers", []))
            await send(message)

        watch: asyncio.Task[Any] | None = None
        patience = Patience(unpacks=b"gzip" in dict(scope["headers"]).get(b"accept-encoding", b""))
        scope.setdefault("state", {})["patience"] = patience
        scope["state"]["here"] = not self._behind_proxy and _from_here(scope)
        room = self._room.share()
        try:
            scope["state"]["access"] = await self._let_in(scope)
            body = await _whole_body(scope, receive, room)
            watch = asyncio.create_task(_gone(receive, patience))
            await self._app(scope, _replay(body, watch), sent)
        except Refused as refused:
            await problem(refused.status, refused.detail)(scope, receive, sent)
        except Exception as error:
            # The text of an error may hold what was typed; where it came from does not.
            _log.error(
                "%s in %s\n%s",
                type(error).__name__,
                scope["method"],
                "".join(traceback.format_tb(error.__traceback__)),
            )
            if begun:
                raise ConnectionAbortedError("the answer broke off") from None
            detail = "The server could not do this, through a fault of its own. Nothing was changed."
            await problem(500, detail)(scope, receive, sent)
        finally:
            patience.give_back()
            room.leave()
            if watch:
                watch.cancel()

    async def _let_in(self, scope: AsgiScope) -> Access | None:
        """Who asks. Raises Refused for a request that is not to be answered."""
        headers = {k.decode("latin-1").lower(): v.decode("latin-1") for k, v in scope["headers"]}
        host = headers.get("host", "")
        if _name(host) not in self._hosts:
            raise Refused(400, "Humble Relay is not called by this name here. Say with --name, when starting it, by which it may be called.")  # fmt: skip
        path, changes = scope["path"], scope["method"] not in ("GET", "HEAD", "OPTIONS")
        if path.startswith("/api/") or changes:
            site, origin = headers.get("sec-fetch-site", "none"), headers.get("origin")
            foreign = origin is not None and urlsplit(origin).netloc.lower() != host.lower()
            if site not in ("none", "same-origin") or (foreign and changes):
                raise Refused(403, "This is answered to Humble Relay's own pages only.")
        kind = headers.get("content-type", "").split(";")[0].strip().lower()
        if scope["method"] in ("POST", "PUT", "PATCH") and kind != "application/json":
            raise Refused(415, "Changes are taken as JSON only: send Content-Type: application/json.")
        if not path.startswith("/api/"):
            return None
        cookies = headers.get("cookie", "")
        access = (
            access_of(cookies, self._code, self._crew)
            if self._code is None or self._code.is_in(cookies)
            else await run_in_threadpool(access_of, cookies, self._code, self._crew)
        )
        if not may(access, scope["method"], path):
            if access is None:
                raise Refused(401, "Enter the code that is shown where Humble Relay was started.")
            raise Refused(
                403, "The crew reads its plan and writes into its log. This is for who plans the show."
            )
        return access


def _from_here(scope: AsgiScope) -> bool:
    """Whether the request is from this machine itself: from one of its addresses, and passed on by nobody."""
    if any(name in _PASSED_ON for name, _ in scope["headers"]):
        return False
    try:
        return is_own(address_of(scope["client"][0]))
    except (KeyError, TypeError, ValueError):
        return False


def _name(host: str) -> str:
    """The name or address in a Host header, without its port."""
    if host.startswith("["):
        return host[1:].partition("]")[0].lower()
    return host.rpartition(":")[0].lower() if ":" in host else host.lower()


def _headed(path: str, headers: Collection[tuple[bytes, bytes]]) -> list[tuple[bytes, bytes]]:
    """The headers of an answer with those that every answer carries."""
    there = {k.lower() for k, _ in headers}
    more = HEADERS | ({"cache-control": "no-store"} if path.startswith("/api/") else {})
    return [*headers, *((k.encode(), v.encode()) for k, v in more.items() if k.encode() not in there)]


async def _whole_body(scope: AsgiScope, receive: Receive, room: Share) -> bytes:
    """The body, whole, so that nothing is begun that has to be stopped halfway. Raises Refused."""
    if scope["method"] in ("GET", "HEAD", "OPTIONS"):
        return b""
    largest = LARGEST_BYTES if scope["path"] == "/api/plans/import" else LARGEST_BODY
    said = dict(scope["headers"]).get(b"content-length", b"")
    size = int(said) if said.isdigit() else largest
    if size <= largest and not await room.take(size):
        raise Refused(503, "Several large files are being read just now. Nothing was changed: send it again in a moment.")  # fmt: skip
    body, came, more, until = bytearray(), 0, True, time.monotonic() + _WHOLE_BODY_S
    while more:
        wait = min(_QUIET_S, until - time.monotonic())
        try:
            message = await asyncio.wait_for(receive(), max(wait, 0.001))
        except TimeoutError:
            raise Refused(
                408, "The rest of this did not arrive. Nothing was changed: send it again."
            ) from None
        if message["type"] == "http.disconnect":
            raise Refused(408, "The connection ended before all of this had arrived. Nothing was changed.")
        part, more = message.get("body", b""), message.get("more_body", False)
        came += len(part)
        if came <= largest and size <= largest:
            body += part
        elif came > 3 * largest or not more:  # who sends reads no answer before all is sent, or much of it
            raise Refused(413, f"That is more than {largest / 1e6:.0f} MB. Is it the right file?")
        else:
            body.clear()
    return bytes(body)


async def _gone(receive: Receive, patience: Patience) -> None:
    while (await receive())["type"] != "http.disconnect":
        pass
    patience.gone = True


def _replay(body: bytes, watch: "asyncio.Task[Any]") -> Receive:
    """What the application receives: the body, and in the end that the asker has gone."""
    parts = iter([{"type": "http.request", "body": body, "more_body": False}])

    async def receive() -> MutableMapping[str, Any]:
        part = next(parts, None)
        if part is not None:
            return part
        await asyncio.wait([watch])
        return {"type": "http.disconnect"}

    return receive
