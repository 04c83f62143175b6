"""From form 12 to form 13.

What is found and done is a log of its own. A plan no longer says which measurements are struck out, nor which tasks are done: its log
does. Plan and survey are seen together, once: `log` makes entries of them, which keep the ids that measurements and facts had.
"""

from collections.abc import Iterable, Iterator
from itertools import count
from typing import Any

from humble_relay.core.plan.upgrades.json_shape import Document


def plan(doc: Document) -> Document:
    """A plan of form 12, without what is in its log now."""
    rest = {k: v for k, v in doc.items() if k != "struck"}
    if isinstance(settings := doc.get("settings"), dict):
        rest["settings"] = {k: v for k, v in settings.items() if k != "done"}
    return rest


def log(plan: Document, measurements: Iterable[Document], facts: Iterable[Document]) -> Iterator[Document]:
    """The entries that a plan of form 12 and its survey come to. Each measurement and fact has an id."""
    taken = set()
    for kind, found in (("measurement", measurements), ("fact", facts)):
        for body in found:
            if not isinstance(body, dict):  # for validation to say what is wrong with it
                yield {"kind": kind, "body": body}
                continue
            taken.add(str(body.get("id")))
            said = {k: v for k, v in body.items() if k != "id"}
            yield {"id": body.get("id"), "at": body.get("at"), "kind": kind, "body": said}
    free = (f"e{n}" for n in count(1) if f"e{n}" not in taken)
    struck: Any = plan.get("struck")
    for id in struck if isinstance(struck, list) else ():
        yield {"id": next(free), "kind": "withdrawal", "body": {"of": id}}
    settings: Any = plan.get("settings")
    done = settings.get("done") if isinstance(settings, dict) else None
    for task in done if isinstance(done, list) else ():
        yield {"id": next(free), "kind": "task", "body": {"task": task}}


def as_entry(edit: Document) -> Document | None:
    """What an edit of form 12 said that an entry says now, without an id; None of an edit that still is one."""
    match edit:
        case {"kind": "strike-measurement", "measurement": of, "struck": struck}:
            return {"kind": "withdrawal", "body": {"of": of, "withdrawn": struck}}
        case {"kind": "mark-task", "task": task, "done": done}:
            return {"kind": "task", "body": {"task": task, "done": done}}
    return None
