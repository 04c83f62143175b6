"""Writes down the reference shows, a line each: `docs/examples.md`."""

from collections.abc import Iterator
from pathlib import Path

from humble_relay.examples import examples

HEAD = """# Reference shows

One show of each kind of job, as a technician would plan it, kept as plan files in `src/humble_relay/examples/`. Each opens from
the list of plans, as it is or as its broken twin; `tests/core/judgement/test_examples.py` holds each to what is said here. Made by
`make types`.

| show | what it shows | what it still waits for | its broken twin |
| --- | --- | --- | --- |"""


def lines() -> Iterator[str]:
    """The page, line by line."""
    yield HEAD
    for e in examples().values():
        waits = e.waits_for or "nothing: it is proven"
        yield f"| {e.title} (`{e.id}.json`) | {e.shows} | {waits} | {e.twin.title} |"


if __name__ == "__main__":
    Path("docs/examples.md").write_text("\n".join(lines()) + "\n", encoding="utf-8")
