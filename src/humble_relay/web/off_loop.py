"""Routes that keep the loop free: bodies are read, and answers are written and packed, where nobody else waits for it.

The loop serves everybody. A small body is read on it, within milliseconds; a large one by a helper, in its turn. What an
endpoint gives is made JSON, and packed, on the thread that worked it out.
"""

import gzip
import inspect
from collections.abc import Callable, Coroutine
from functools import wraps
from typing import Any

from fastapi import Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.routing import APIRoute
from pydantic import BaseModel
from pydantic_core import from_json
from starlette.concurrency import run_in_threadpool

from humble_relay.web.heavy import SMALL_BODY
from humble_relay.web.helper import Misshapen
from humble_relay.web.request_patience import Patience

PACKED_FROM = 100_000
"""Bytes of an answer that is packed here; smaller ones are packed as they leave."""
Endpoint = Callable[..., Any]


class OffLoop(APIRoute):
    """A route that reads its body and writes its answer off the loop."""

    def __init__(self, path: str, endpoint: Endpoint, **more: Any) -> None:
        super().__init__(
            path, endpoint if inspect.iscoroutinefunction(endpoint) else self._answering(endpoint), **more
        )

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        """The handler of the route."""
        handle, model = super().get_route_handler(), self.body_field and self.body_field.field_info.annotation

        async def handler(request: Request) -> Response:
            if isinstance(model, type) and issubclass(model, BaseModel) and (body := await request.body()):
                request._json = await _read(model, body, request.state.patience)
            return await handle(request)

        return handler

    def _answering(self, call: Endpoint) -> Endpoint:
        @wraps(call)
        def answer(**given: Any) -> Any:
            patience, field = Patience.now(), self.response_field
            try:
                found = call(**given)
                if isinstance(found, Response):
                    return _packed(found, patience)
                if field is None:
                    return found
                value, wrong = field.validate(found, {}, loc=("response",))
                assert not wrong, wrong
                written = Response(
                    field.serialize_json(value), self.status_code or 200, media_type="application/json"
                )
                for said in given.values():
                    if isinstance(said, Response):
                        written.headers.raw.extend(said.headers.raw)
                return _packed(written, patience)
            finally:
                patience.give_back()

        return answer


def _packed(answer: Response, patience: Patience) -> Response:
    body = bytes(getattr(answer, "body", b""))
    if len(body) < PACKED_FROM or not patience.unpacks or "content-encoding" in answer.headers:
        return answer
    answer.body = gzip.compress(body, 4, mtime=0)
    answer.headers["Content-Length"] = str(len(answer.body))
    answer.headers["Content-Encoding"], answer.headers["Vary"] = "gzip", "Accept-Encoding"
    return answer


async def _read(model: type[BaseModel], body: bytes, patience: Patience) -> Any:
    """The body of a request: as JSON where it is small, and as what it must be where it is not. Raises RequestValidationError."""
    try:
        if len(body) < SMALL_BODY:
            return from_json(body, allow_inf_nan=False)
        return await run_in_threadpool(patience.read_body, model, body)
    except Misshapen as wrong:
        raise RequestValidationError(wrong.args[0]) from None
    except ValueError as error:
        said = f"This is not JSON, or more than can be read: {error}"
        raise RequestValidationError([{"type": "json_invalid", "loc": ("body", "json"), "msg": said}]) from None  # fmt: skip
