"""Rules of packs that are joined: voltages apart, addresses."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.bank.joining import joining
from weighty_axle.design.bank.data_links import data_chain
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.rules.registry import Hit, amps, hit, rule


@rule(
    "bank.join-apart",
    "stop",
    "{packs} must not be joined yet: {current} would flow at first, {allowed} is allowed.",
    "textbook relation: difference ÷ loop resistance",
)
def join_apart(design: Design) -> Iterator[Hit]:
    """Measured voltages too far apart."""
    if sum(pack.open_v is not None for pack in design.job.bank.packs) < 2:
        return
    apart = [pack for pack in joining(design).packs if not pack.joins]
    if apart:
        worst = max(apart, key=lambda pack: pack.current_a.value)
        yield hit(
            *(pack.tag for pack in apart),
            packs=", ".join(pack.tag for pack in apart),
            current=worst.current_a,
            allowed=amps(design.job.bank.join_a or design.job.bank.spec.charge_a),
        )


@rule("bank.address-twice", "stop", "{packs} have the same address {address}; each needs its own.", PRACTICE)
def address_twice(design: Design) -> Iterator[Hit]:
    """Two packs that answer to one address."""
    by_address: dict[int, list[str]] = {}
    for link in data_chain(design.job.bank.packs):
        by_address.setdefault(link.address, []).append(link.tag)
    for address, tags in by_address.items():
        if len(tags) > 1:
            yield hit(
                *tags,
                packs=" and ".join(tags),
                address=str(address),
                remedy=set_value(f"bank.packs[{tags[-1]}].address", None, f"{tags[-1]} gets the next address"),
            )
