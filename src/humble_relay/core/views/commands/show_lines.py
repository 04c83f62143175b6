"""`start 19:30`, `1080p25`, `8 mb`: what is said of the show, or of all streams."""

import re
from collections.abc import Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.plan.edits import SetField
from humble_relay.core.plan.moments import typed_moment
from humble_relay.core.show.show_format import other_formats
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.quantities import format_in, rate_in


def show_said(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """The show's start and end, its picture format."""
    show = case.plan.show
    moment = re.fullmatch(r"(?:show )?(starts?|begins?|ends?|finish(?:es)?) (?:at )?(.+)", text)
    if moment:
        end = moment.group(1)[:3] in ("end", "fin")
        field, near = ("ends_at", show.ends_at or show.starts_at) if end else ("starts_at", show.starts_at)
        try:
            at = typed_moment(moment.group(2), show.clock, near.date() if near else None)
        except ValueError as why:
            yield Alternative(title=f"{why}", go="brief", page="show")
        else:
            yield Alternative(
                title=f"The show {'ends' if end else 'starts'} {said_moment(at)}",
                edits=(SetField(noun="show", field=field, value=at.isoformat()),),
                go="brief",
            )
    elif wanted := format_in(
        re.sub(r"^(?:set )?(?:all|everything|all gear|all devices|all cameras) (?:to )?", "", text)
    ):
        asked = SetField(noun="show", field="format", value=wanted.model_dump(mode="json"))
        plain = Alternative(title=f"The brief: picture {wanted.label}", edits=(asked,), go="brief")
        unlike = other_formats(case, wanted)
        count = len(unlike.devices) if unlike else 0
        title = f"The brief and {count} device{'s' * (count > 1)}: picture {wanted.label}"
        whole = [Alternative(title=title, edits=(asked, *unlike.edits), go="brief")] if unlike else []
        yield from (plain, *whole) if format_in(text) else (*whole, plain)
    elif recorded := re.fullmatch(
        r"(do not |don't |no )?record(?:ing|ed)?(?: the)?(?: show| program)?", text
    ):
        on = not recorded.group(1)
        yield Alternative(
            title=f"The brief: recorded {'yes' if on else 'no'}",
            edits=(SetField(noun="show", field="record", value=on),),
            go="brief",
        )
    elif streams := re.fullmatch(r"(?:all|every)(?: streams?)? (.+)", text):
        rate = rate_in(line.strip()[-len(streams.group(1)) :])
        if rate and rate > 0 and case.streams:
            edits = tuple(
                SetField(noun="link", id=s.id, field="video_mbps", value=rate) for s in case.streams
            )
            yield Alternative(
                title=f"Video bitrate of every stream: {rate:g} Mb/s", edits=edits, go="bandwidth"
            )
