"""What may mend a finding: a title, what it needs or costs, and the edits that do it."""

from collections.abc import Callable, Iterator, Mapping

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Check
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import Edit, SetField


class Cure(Frozen):
    """A fix of a finding: in about six words, and how it is done where there is more to it."""

    title: str
    how: str = ""
    needs: str = ""
    edits: tuple[Edit, ...]


MakeCures = Callable[[Case, Thing], Iterator[Cure]]
"""The cures that come to mind for what a check found wrong with a thing, best first; none is tried yet."""
Cures = Mapping[Check, MakeCures]
"""By the check that a finding comes from."""


def set_link(link: str, field: str, value: object) -> SetField:
    """An edit of one field of a link."""
    return SetField.model_validate({"noun": "link", "id": link, "field": field, "value": value})


def stream_of(case: Case, thing: Thing) -> Stream:
    """The stream that a finding is of."""
    found = case.links[thing.id]
    assert isinstance(found, Stream)
    return found
