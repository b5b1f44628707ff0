"""Changes to the bank: how many packs, and of what type."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.bank import Pack, PackSpec
from weighty_axle.job.models.document import Job
from weighty_axle.job.tags import next_tag

# ---- bank --------------------------------------------------------------------------------------

GAP_M = 0.02
"""Room between two units put side by side [m]."""


def set_pack_count(count: int) -> Edit:
    """Bank of `count` packs: the last ones go, new ones stand in line behind the last."""

    def apply(job: Job) -> Job:
        packs = job.bank.packs[:count]
        while len(packs) < count:
            last = packs[-1].place
            place = replace(last, x_m=round(last.x_m + job.bank.spec.size.length_m + GAP_M, 3))
            grown = replace(job, bank=replace(job.bank, packs=packs))
            packs = (*packs, Pack(tag=next_tag(grown, "pack"), place=place))
        return replace(job, bank=replace(job.bank, packs=packs))

    return Edit(f"Bank of {count} packs", apply)


def set_pack(spec: PackSpec, series: int) -> Edit:
    """Other pack type; the packs keep their tags and first place and close up to the new length."""

    def apply(job: Job) -> Job:
        bank = job.bank
        parallel = max(1, len(bank.packs) // bank.series)
        first = bank.packs[0].place
        count = parallel * series
        line = replace(job, bank=replace(bank, spec=spec, series=series, packs=bank.packs[:1]))
        packs = set_pack_count(count).apply(line).bank.packs
        kept = [pack.tag for pack in bank.packs[:count]]
        packs = tuple(replace(pack, tag=kept[i] if i < len(kept) else pack.tag) for i, pack in enumerate(packs))
        return replace(job, bank=replace(line.bank, packs=(replace(packs[0], place=first), *packs[1:])))

    return Edit(f"Bank of {spec.name}", apply)
