"""What may mend the order of the day."""

from collections.abc import Iterator

from humble_relay.core.cures.cure import Cure, Cures
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.edits import MarkTask
from humble_relay.core.show.go_live_order import lead_time_missed, order


def _ticked(case: Case, thing: Thing) -> Iterator[Cure]:
    for task in order(case):
        if task.id.replace(":", "-") == thing.id:
            edit = MarkTask(task=task.id, done=True)
            yield Cure(title="It has been done: tick it off", edits=(edit,))


CURES: Cures = {lead_time_missed: _ticked}
