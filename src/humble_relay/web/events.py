"""What happens to a plan, told to every page that shows it as it happens: server-sent events (HTML Living Standard §9.2).

Nothing is told before it is committed. One watcher looks for what is new in the folder: at once after a commit of this process,
and twice a second for those of others.
"""

import asyncio
import logging
from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Header, Query, Request
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter
from sse_starlette.event import ServerSentEvent
from sse_starlette.sse import EventSourceResponse
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Slug
from humble_relay.core.hidden_text import Put
from humble_relay.core.log.entries import AnyEntry, Entry
from humble_relay.store.database import Database
from humble_relay.store.news import Changes, news
from humble_relay.store.trouble import StoreTrouble
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Patience

router = APIRouter(prefix="/api/plans", tags=["events"])
_LOOKS_S, _BEATS_S, _AGAIN_MS = 0.5, 10, 1000
"""How often the watcher looks for what others wrote, and a heartbeat is sent, in s; how soon a browser calls again, in ms."""
_MOST_LISTENERS, _MOST_WAITING = 400, 2000
_ENTRY: TypeAdapter[AnyEntry] = TypeAdapter(Entry)
_log = logging.getLogger("humble_relay")
EventQueue = asyncio.Queue[ServerSentEvent | None]


class Events:
    """Who listens to which plan, and the watcher that tells them."""

    listening = 0
    """How many connections of this process are open only to be told."""

    def __init__(self, database: Database, put: Put) -> None:
        self._database, self._put = database, put
        self._listeners: dict[str, set[EventQueue]] = {}
        self._versions: dict[str, int] = {}
        self._last = 0
        self._starting = asyncio.Lock()
        self._loop: asyncio.AbstractEventLoop | None = None
        self._woken = asyncio.Event()
        self._watcher: asyncio.Task[None] | None = None

    def committed(self) -> None:
        """Has the watcher look at once; called from any thread after a commit."""
        if self._loop and self._listeners:
            self._loop.call_soon_threadsafe(self._woken.set)

    def full(self) -> bool:
        """Whether as many listen as can be told in time."""
        return sum(len(each) for each in self._listeners.values()) >= _MOST_LISTENERS

    async def listen(self, id: str, after: int | None) -> AsyncIterator[ServerSentEvent]:
        """The version the plan is at, its entries behind a place in the log, and then what happens. Ends where the server stops, the
        plan is gone, or the listener falls too far behind: it calls again, and is told what it missed."""
        mine: EventQueue = asyncio.Queue(_MOST_WAITING)
        self._loop = asyncio.get_running_loop()
        self._listeners.setdefault(id, set()).add(mine)
        Events.listening += 1
        try:
            await self._watch()
            found = await run_in_threadpool(news, self._database, self._put, [id], after)
            if id not in found.versions:
                yield ServerSentEvent(event="gone", data="")
                return
            yield ServerSentEvent(
                event="version", data=str(found.versions[id]), retry=_AGAIN_MS, id=str(found.last)
            )
            for entry in found.entries.get(id, ()):
                yield _told(entry)
            said = found.last
            while not Patience.stopping:
                try:
                    event = await asyncio.wait_for(mine.get(), _LOOKS_S)
                except TimeoutError:
                    continue
                if event is None:
                    return
                if event.event != "entry" or int(event.id or 0) > said:
                    yield event
        finally:
            Events.listening -= 1
            self._listeners[id].discard(mine)
            if not self._listeners[id]:
                del self._listeners[id]

    def look_at(self, id: str, what: "DeskPick") -> None:
        """Tells who listens what a desk has picked. It is kept nowhere."""
        event = ServerSentEvent(event="pick", data=what.model_dump_json())
        for queue in self._listeners.get(id, ()):
            if not queue.full():
                queue.put_nowait(event)

    def close(self) -> None:
        """Ends the watcher."""
        if self._watcher:
            self._watcher.cancel()

    async def _watch(self) -> None:
        async with self._starting:
            if self._watcher is None or self._watcher.done():
                self._last = (await run_in_threadpool(news, self._database, self._put, [], None)).last
                self._versions = {}
                self._watcher = asyncio.create_task(self._tell())

    async def _tell(self) -> None:
        changes = Changes(self._database)
        try:
            while self._listeners and not Patience.stopping:
                try:
                    if changes.any() or self._woken.is_set():
                        self._woken.clear()
                        await self._look()
                except StoreTrouble as trouble:
                    _log.warning("nothing can be told just now: %s", trouble)
                try:
                    await asyncio.wait_for(self._woken.wait(), _LOOKS_S)
                except TimeoutError:
                    continue
        finally:
            changes.close()

    async def _look(self) -> None:
        found = await run_in_threadpool(news, self._database, self._put, [*self._listeners], self._last)
        self._last = found.last
        for id, listeners in self._listeners.items():
            told = [_told(entry) for entry in found.entries.get(id, ())]
            version = found.versions.get(id)
            if version is None:
                told = [ServerSentEvent(event="gone", data="")]
            elif self._versions.get(id, version) != version:
                told.append(ServerSentEvent(event="version", data=str(version)))
            for queue in listeners:
                for event in told:
                    try:
                        queue.put_nowait(event)
                    except asyncio.QueueFull:
                        while not queue.empty():
                            queue.get_nowait()
                        queue.put_nowait(None)
                        break
        self._versions = found.versions


def _told(entry: AnyEntry) -> ServerSentEvent:
    return ServerSentEvent(event="entry", id=str(entry.sequence), data=_ENTRY.dump_json(entry).decode())


class DeskPick(BaseModel):
    """What a desk has picked, as the address of its page says it; empty where it has let go."""

    model_config = ConfigDict(extra="forbid")
    desk: Slug
    pick: Annotated[str, Field(max_length=200, pattern=r"^([a-z]+:[^\x00-\x1f]*)?$")]


@router.post("/{id}/picks", status_code=204, responses=documented(422))
async def tell_pick(id: Slug, what: DeskPick, request: Request) -> None:
    """Tells the other desks what this one has picked."""
    events: Events = request.app.state.events
    events.look_at(id, what)


@router.get("/{id}/events", include_in_schema=False)
async def listen(
    id: Slug,
    request: Request,
    after: Annotated[int | None, Query(ge=0, le=2**60)] = None,
    last: Annotated[str, Header(alias="Last-Event-ID", max_length=30)] = "",
) -> EventSourceResponse:
    """What happens to the plan, from a place in its log on."""
    events: Events = request.app.state.events
    if events.full():
        raise HTTPException(503, "More pages listen than can be told in time. Close some.")
    since = int(last) if last.isascii() and last.isdigit() else after
    return EventSourceResponse(events.listen(id, since), ping=_BEATS_S, send_timeout=30)
