"""Whether the end that listens was set as the end that calls: passphrase, port, stream id."""

from collections.abc import Iterator

from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.endpoints.forwarded_ports import listening_port
from humble_relay.core.endpoints.srt_settings import settings_in
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, fails
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Stream
from humble_relay.core.plan.links import ListenerSettings

SET_THERE: SubjectKind[tuple[Stream, ListenerSettings]] = SubjectKind(
    "stream whose listener's settings were read off",
    lambda case: (
        (Thing("link", s.id, "ends"), (s, s.set_there))
        for s in case.streams
        if s.set_there and s.protocol in ("srt", "rtmp", "paired")
    ),
)


@check(
    "ends-differ", SET_THERE, "addresses", "Is the end that listens set as the end that calls?", "libsrt API; draft-sharabayko-srt", "plan"
)  # fmt: skip
def ends_differ(case: Case, what: tuple[Stream, ListenerSettings]) -> Verdict:
    """Whether the passphrase, the port and the stream id that were read off the listener are those of the plan. What nobody read there,
    or was left out of this copy, is not compared."""
    stream, there = what
    differ = list(_differences(case, stream, there))
    if not differ:
        return HOLDS
    listener = call_of(case, stream).listener.name
    return fails(
        lambda: Words(
            f"{stream.name}: {listener} was set to another {' and another '.join(differ)} than the plan has.",
            "The call is refused, or falls on a closed port: the caller tries for ever, and says nothing.",
            f"Set {listener} to what the plan has, or put into the plan what it has.",
        )
    )


def _differences(case: Case, stream: Stream, there: ListenerSettings) -> Iterator[str]:
    typed = settings_in(stream.address)  # an SRT address may say them itself
    key, id = stream.key or typed.get("passphrase", ""), stream.stream_id or typed.get("streamid", "")
    told = HIDDEN not in (key, there.key) and not stream.key_withheld
    if told and there.key is not None and key != there.key:
        yield "passphrase"
    asked = listening_port(case, call_of(case, stream))
    if there.port and asked and there.port != asked:
        yield f"port ({there.port} there, {asked} called)"
    if there.stream_id and HIDDEN not in (id, there.stream_id) and there.stream_id != id:
        yield "stream id"


CHECKS = (ends_differ,)
