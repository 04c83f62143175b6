"""Whether what both ends of an SRT stream set can go together: the passphrase, and who calls."""

from functools import partial
from urllib.parse import parse_qs, urlsplit

from humble_relay.core.egress.outbound import stays
from humble_relay.core.hidden_text import HIDDEN, PASSPHRASE_LENGTH, passphrase_length
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails, holds
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Stream

SRT: SubjectKind[Stream] = SubjectKind(
    "SRT stream",
    lambda case: ((Thing("link", s.id, "srt"), s) for s in case.streams if s.protocol == "srt"),
)
_MODES = {"caller": ("sender", "receiver"), "listener": (), "rendezvous": ("rendezvous",)}
"""Who calls, by the mode that the address of the end that types it says."""


@check(
    "srt-settings", SRT, "addresses", "Can what both ends set of SRT go together: passphrase, and who calls?",
    "libsrt API (SRTO_PASSPHRASE); draft-sharabayko-srt", "standard",
)  # fmt: skip
def srt_settings(case: Case, stream: Stream) -> Verdict:
    """Whether the passphrase has a length that SRT takes, and the mode in the address is that of an end that calls, and that the
    stream id is said once. A stream without a passphrase that leaves its site is remarked."""
    settings = settings_in(stream.address)
    secret = stream.key or settings.get("passphrase", "")
    wrong = None if secret == HIDDEN else passphrase_length(secret) if secret else None
    if wrong:
        return fails(partial(_length, stream, wrong))
    mode = settings.get("mode", "")
    if mode and (mode not in _MODES or (stream.caller or "sender") not in _MODES[mode]):
        return fails(partial(_mode, stream, mode))
    asked = settings.get("streamid", "")
    if asked and stream.stream_id and asked not in (stream.stream_id, HIDDEN):
        return doubtful(partial(_two_ids, stream))
    if secret or stays(case, stream) or stream.key_withheld:
        return HOLDS
    return holds(
        remark=lambda: Words(
            f"{stream.name} goes to another site without a passphrase.",
            "Anyone on the path can watch it, and anyone who knows the port can send instead.",
            f"Set the same passphrase at both ends, {PASSPHRASE_LENGTH[0]} to {PASSPHRASE_LENGTH[1]} characters long.",
        )
    )


def settings_in(address: str) -> dict[str, str]:
    """The settings of an SRT address, by name; none where it cannot be read."""
    try:
        return {name: values[0] for name, values in parse_qs(urlsplit(address).query).items()}
    except ValueError:
        return {}


def _length(stream: Stream, wrong: str) -> Words:
    least, most = PASSPHRASE_LENGTH
    return Words(
        f"The passphrase of {stream.name} is too {wrong}: SRT takes {least} to {most} characters.",
        "The box refuses the setting, or connects to nobody.",
        f"Choose one of {least} to {most} characters, the same at both ends.",
    )


def _two_ids(stream: Stream) -> Words:
    return Words(
        f"In its address {stream.name} has another stream id than in its own field.",
        "Which of the two a box sends is its own affair: the listener may not know it, and refuses the call.",
        "Take it out of the address, and leave it in its field.",
    )


def _mode(stream: Stream, mode: str) -> Words:
    who = {"sender": "the sender calls", "receiver": "the receiver calls", "rendezvous": "both call at once"}[
        stream.caller or "sender"
    ]
    return Words(
        f"The address of {stream.name} says mode={mode}, and {who}.",
        "Two that listen wait for each other, and two that call find nobody.",
        "Type mode=caller at the end that calls, mode=listener at the other; mode=rendezvous at both, or at neither.",
    )


CHECKS = (srt_settings,)
