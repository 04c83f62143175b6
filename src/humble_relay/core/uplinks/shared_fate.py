"""Lines that look like two and fail like one: of one carrier, on one mast, or behind one line."""

from humble_relay.core.egress.outbound import line_behind
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, doubtful, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import check
from humble_relay.core.uplinks.failover import SPARES, Spare


@check(
    "spare-shares-fate", SPARES, "bandwidth", "Does the failover uplink stand when what takes the first one down comes?",
    "common practice, no source", "plan",
)  # fmt: skip
def spare_shares_fate(case: Case, spare: Spare) -> Verdict:
    """Whether a line and its failover uplink have a carrier, a mast, or the line that both hang behind in common."""
    first, next_ = case.uplinks[spare.first], case.uplinks[spare.next]
    roots = [line_behind(case, line.id) for line in (first, next_)]
    if roots[0] == roots[1]:
        return doubtful(lambda: _one_line(case, spare, roots[0]), compared=roots)
    if first.kind != "mobile" or next_.kind != "mobile":
        return HOLDS
    unsaid = next((line for line in (first, next_) if not line.carrier.strip()), None)
    if unsaid:
        asked = f"Which carrier is {unsaid.name} with? Two of one carrier go down together."
        return wants(Want(Thing("uplink", unsaid.id), "carrier", asked))
    if first.carrier.strip().lower() != next_.carrier.strip().lower():
        return HOLDS
    masts = [line.mobile.mast.strip().lower() if line.mobile else "" for line in (first, next_)]
    mast = ", and on one mast" if masts[0] and masts[0] == masts[1] else ""

    def say() -> Words:
        return Words(
            f"{first.name} and {next_.name} are both with {first.carrier}{mast}: what takes the one down takes the other.",
            "They look like two lines and fail like one.",
            "Put a card of another carrier into the failover uplink.",
        )

    return doubtful(say, compared=(first.carrier, mast))


def _one_line(case: Case, spare: Spare, root: str) -> Words:
    return Words(
        f"{case.uplinks[spare.first].name} and {case.uplinks[spare.next].name} both go out by {case.uplinks[root].name}.",
        "When that line drops, both are gone: the spare is another cable, on the same uplink.",
        "Have a line of another carrier ready, such as a phone by USB.",
    )


CHECKS = (spare_shares_fate,)
