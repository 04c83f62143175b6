"""JSON as it comes from outside: read strictly, and no more of it than anything that is kept can hold."""

from typing import Any

from pydantic_core import from_json

MOST_VALUES = 4_000_000
"""Commas and brackets in a text: the largest plan with the largest survey has a third of that."""


def read_json(text: bytes | str) -> Any:
    """What the text holds. Raises ValueError with what is wrong: it is no JSON (RFC 8259: no NaN, no half of a character),
    it is nested too deep, or holds more values than anything that is kept.

    >>> read_json('{"up": 18.2}')
    {'up': 18.2}
    """
    data = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    values = sum(data.count(mark) for mark in (b",", b"[", b"{"))
    if values > MOST_VALUES:
        raise ValueError(f"it holds {values / 1e6:.0f} million values, more than any plan")
    return from_json(data, allow_inf_nan=False)
