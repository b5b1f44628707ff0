"""The data links between packs: order, addresses, terminators, cables, port by port."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.job.models.bank import Pack

SLACK_M = 0.3
"""Added to each data cable over the way between the packs. Source: common practice, no source."""


class ChainLink(Struct, frozen=True, kw_only=True):
    """One pack in the chain: role, address on its switches, and where its ports lead.

    `cable_m` goes to the next pack, 0 at the end.
    """

    tag: str
    master: bool
    address: int
    port_in: str
    port_out: str
    cable_m: float


def data_chain(packs: tuple[Pack, ...]) -> tuple[ChainLink, ...]:
    """Packs in service in their order: the first is the master, speaks to the inverters and has the first terminator;
    the last has the other.

    Source: common practice, no source.
    """
    chain = [pack for pack in packs if not pack.out]
    links = []
    for index, pack in enumerate(chain):
        after = chain[index + 1] if index + 1 < len(chain) else None
        cable = 0.0
        if after is not None:
            cable = (
                sum(abs(getattr(pack.place, axis) - getattr(after.place, axis)) for axis in ("x_m", "y_m", "z_m"))
                + SLACK_M
            )
        links.append(
            ChainLink(
                tag=pack.tag,
                master=index == 0,
                address=pack.address if pack.address is not None else index + 1,
                port_in="inverters and monitor" if index == 0 else f"from {chain[index - 1].tag}, its port out",
                port_out=f"to {after.tag}, its port in" if after else "terminator",
                cable_m=math.ceil(cable * 10 - 1e-9) / 10,
            )
        )
    return tuple(links)
