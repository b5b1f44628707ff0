"""How the packs are linked and share, and their data links."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.bank.data_links import data_chain
from weighty_axle.design.bank.links import TAKE_OFF_WORDS
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import conductor_words, show


def pages(on: PackPages) -> list[Any]:
    """How the packs are linked and share, and the data links port by port."""
    job, bank = on.design.job, on.design.bank
    shared = bank.sharing
    rows = [["String", "Share of the mean", "At full load", "Limit of one"]]
    for string in shared.strings:
        amps = show(string.share * bank.continuous_a.value, "A")
        rows.append(
            [
                " ".join(string.tags),
                f"{100 * string.of_mean:.1f} %" if string.share else "out",
                amps,
                show(job.bank.spec.discharge_a, "A"),
            ]
        )
    ports = [["Pack", "Address", "Port in", "Port out", "Cable to the next"]]
    ports += [
        [
            link.tag,
            f"{link.address}{' (master)' if link.master else ''}",
            link.port_in,
            link.port_out,
            show(link.cable_m, "m", on.system) if link.cable_m else "–",
        ]
        for link in data_chain(job.bank.packs)
    ]
    voltage = on.design.voltages
    return [
        on.text("Bank", on.head),
        on.text(voltage.reason),
        on.text(
            f"{len(job.bank.packs)} × {job.bank.spec.name}, {TAKE_OFF_WORDS[shared.take_off]}, links and leads of "
            f"{conductor_words(job.bank.links.size)}."
        ),
        on.table(rows, (0.3, 0.23, 0.23, 0.24)),
        on.text("Data links", on.head),
        on.table(ports, (0.12, 0.16, 0.28, 0.28, 0.16)),
    ]
