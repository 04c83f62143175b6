"""What a helper process does: one piece of work after another, within bounds of memory and time.

The work and what it is given come pickled, and so does what it gives back, so that it is read on the thread that asked
and not by the loop that everybody waits for.
"""

import os
import pickle
import resource
from typing import Any

from anyio import BrokenWorkerProcess
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from humble_relay.formats.json_text import read_json

MEMORY_MB = 1000
"""What a helper may use: more than the largest plan with the largest survey takes, in any form."""
TIME_S = 25
"""Processor time of one piece of work, in s."""
FEW = 3
"""Errors that are told; the rest are counted."""


class Misshapen(Exception):
    """A body that is not what was asked for: its first errors, as a list of dictionaries."""


def run(job: bytes) -> bytes:
    """Does the work, in the helper; gives what came of it, or what it raised."""
    _bounded()
    try:
        work, given = pickle.loads(job)
        return pickle.dumps((True, work(*given)))
    except MemoryError:
        return pickle.dumps((False, _too_much()))
    except Exception as error:
        return _raised(error)


def given_back(answer: bytes) -> Any:
    """What came of the work. Raises what the work raised."""
    well, found = pickle.loads(answer)
    if not well:
        raise found
    return found


def plain(errors: BaseException) -> BaseException:
    """The one error that ended the work, out of the group it came in."""
    while isinstance(errors, BaseExceptionGroup):
        errors = errors.exceptions[0]
    killed = isinstance(errors, BrokenWorkerProcess) and "initialization" not in str(errors)
    return _too_much() if killed else errors


def read_body(model: type[BaseModel], body: bytes) -> BaseModel:
    """The body as what was asked for. Raises Misshapen with its first errors: more are not made."""
    try:
        return model.model_validate(read_json(body))
    except ValidationError as error:
        if error.error_count() > 2000:  # to name the first, all would have to be made
            said = f"{error.error_count()} values are not what they should be: is this made for Humble Relay?"
            raise Misshapen([{"type": "value_error", "loc": ("body",), "msg": said}]) from None
        raise Misshapen(errors_of(error)) from None
    except ValueError as error:
        raise Misshapen([{"type": "json_invalid", "loc": ("body",), "msg": f"This is not JSON, or more than can be read: {error}"}]) from None  # fmt: skip


def errors_of(error: ValidationError) -> list[dict[str, Any]]:
    """The first errors, as a request's errors are told: without what was typed."""
    found = error.errors(include_url=False, include_context=False, include_input=False)
    return [{**e, "loc": ("body", *e["loc"])} for e in found[:FEW]]


def _raised(error: Exception) -> bytes:
    try:
        whole = pickle.dumps((False, error))
        pickle.loads(whole)
        return whole
    except Exception:  # not every error can be carried over
        return pickle.dumps((False, RuntimeError(type(error).__name__)))


def _bounded() -> None:
    """Bounds on memory and on the time of the next piece; a helper stands back where others want the processor."""
    most = MEMORY_MB * 1_000_000
    resource.setrlimit(resource.RLIMIT_DATA, (most, resource.getrlimit(resource.RLIMIT_DATA)[1]))
    used = resource.getrusage(resource.RUSAGE_SELF)
    until = int(used.ru_utime + used.ru_stime) + TIME_S
    resource.setrlimit(resource.RLIMIT_CPU, (until, resource.getrlimit(resource.RLIMIT_CPU)[1]))
    if os.nice(0) < 5:
        os.nice(5)


def _too_much() -> HTTPException:
    return HTTPException(422, "This asks for more memory or time than there is for one question. Nothing was changed: is it the right file? Else do it in parts.")  # fmt: skip
