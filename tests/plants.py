"""Jobs of many shapes: several bars, banks and groups, converters, DC panels, built from the demos; names of a scenario
of our own.
"""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.models.bank import Bank, Pack
from weighty_axle.job.models.charging import Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import AcSide, Circuit, Group, Inlet, Inverter, Inverters, Panel
from weighty_axle.job.models.wiring import Bar, DcCircuit, DcPanel, DcSide, DcSwitch
from weighty_axle.job.stated import Place, Size
from weighty_axle.reference import tables
from weighty_axle.reference.vehicle_types import source_from


def typical(table, name):
    """A row of a table of typical parts."""
    return next(row for row in table.rows if row.name == name)


def at(x_m, y_m=0.3):
    """A place in a bay."""
    return Place(x_m=x_m, y_m=y_m, z_m=0.6)


BOX = Size(length_m=0.4, width_m=0.2, height_m=0.3)


def bar(tag, name, volts, bank=None, **more):
    """A bar with its board."""
    beside = at(3.0 if bank is None else 3.6)
    return Bar(tag=tag, name=name, volts=volts, bank=bank, place=beside, size=BOX, mass_kg=4.0, **more)


def old_bank(tag, count=2, series=1, role="kept"):
    """A lead-acid bank that was there."""
    return Bank(
        role=role,
        spec=typical(tables.packs(), "Lead-acid AGM 12 V 220 Ah"),
        series=series,
        packs=tuple(Pack(tag=f"{tag}{n + 1}", place=at(6.0 + 0.6 * n, -0.5)) for n in range(count)),
        usable_share=0.5,
        days_wanted=1.0,
    )


def converter(tag, name, start, end, **more):
    """A converter of a typical kind."""
    spec = typical(tables.converters(), name)
    return Converter(tag=tag, spec=spec, start=start, end=end, place=at(2.0 if tag == "DCY" else 2.5), **more)


def size(job, american, metric):
    """A conductor size of the job's practice."""
    return american if job.practice == "north_american" else metric


def dc_loads(job: Job, tags, **to) -> Job:
    """Some loads changed alike."""
    loads = tuple(replace(load, **to) if load.tag in tags else load for load in job.loads)
    return replace(job, loads=loads)


def two_groups(job: Job) -> Job:
    """A second inverter by itself on the house bar, with its own inlet, panel and circuit."""
    group = Group(
        tag="G2",
        name="Kitchen inverter",
        inverters=Inverters(
            spec=typical(tables.inverters(), "Inverter-charger 48 V 3 kVA 230 V"),
            stacking="single",
            units=(Inverter(tag="INVK", leg="AC", place=at(7.0)),),
            neutral_a=32.0,
            sources=(
                replace(source_from(next(row for row in tables.usual_sources().rows if row.tag == "P16")), tag="K16"),
            ),
        ),
        ac=AcSide(
            inlets=(Inlet(tag="INK", name="Kitchen inlet", amps=16.0, lines=1),),
            panels=(Panel(tag="PNK", name="Kitchen panel", size=size(job, "6 AWG", "10 mm2")),),
            circuits=(Circuit(tag="CKK", name="Kettle", panel="PNK", size=size(job, "12 AWG", "2.5 mm2")),),
        ),
    )
    changed = replace(job, groups=(group,))
    return dc_loads(changed, (_ac_load(job),), circuit="CKK", supply="AC")


def _volts(job):
    """Nominal voltage of the house bank."""
    return job.bank.spec.cells_in_series * job.bank.series * job.bank.spec.cell_nominal_v


def integrated(job: Job) -> Job:
    """The first inverter carries the first controller as an input of its own."""
    spec = replace(job.inverters.spec, solar_inputs=2, solar_charge_a=150.0, solar_w=9000.0)
    first, *others = job.roof.controllers
    roof = replace(job.roof, controllers=(replace(first, unit=job.inverters.units[0].tag), *others))
    return replace(job, inverters=replace(job.inverters, spec=spec), roof=roof)


def _ac_load(job):
    return next(load.tag for load in job.loads if not load.supply.startswith("DC"))


def _dc_load(job):
    return next(load.tag for load in job.loads if load.supply.startswith("DC"))


def staged(job: Job) -> Job:
    """A kept lead-acid bank on a 12 V bar for the DC loads, fed by a converter; an either-or switch for a panel."""
    kept = bar("DB12", "Old 12 V bar", 12, old_bank("LA"))
    fed = bar("DBF", "New 12 V bar", 12)
    panel = DcPanel(tag="DP1", name="Saloon DC panel", bar="DB12", size=size(job, "6 AWG", "16 mm2"))
    switch = DcSwitch(tag="DS1", name="Either-or switch", feeds="DP1", bars=("DB12", "DBF"), now="DB12")
    thin = size(job, "14 AWG", "2.5 mm2")
    circuits = (
        DcCircuit(tag="DK1", name="Reading lamps", panel="DP1", size=thin, length_m=2.5),
        DcCircuit(tag="DK2", name="Spare way", panel="DP1", size=thin),
    )
    changed = replace(
        job,
        bars=(kept, fed),
        converters=(
            *job.converters,
            converter("DCX", "Supply 48 to 12 V 30 A", "", "DBF", works="always"),
            converter("DCY", "Maintainer 48 to 12 V 5 A", "", "DB12", works="always"),
        ),
        dc=DcSide(panels=(panel,), circuits=circuits, switches=(switch,)),
    )
    return dc_loads(changed, (_dc_load(job),), circuit="DK1", supply="DC_12")


def transfer(job: Job) -> Job:
    """Two banks that help each other both ways."""
    second = bar("DB12", "12 V bar", 12, old_bank("LA", role="house"))
    both = converter(
        "DCT",
        "Transfer 12 and 48 V 15 A",
        "",
        "DB12",
        both_ways=True,
        works="voltage",
        on_v=_volts(job) * 1.02,
        off_v=_volts(job) * 0.98,
        back_on_v=14.6,
        back_off_v=14.0,
    )
    changed = replace(job, bars=(second,), converters=(*job.converters, both))
    return dc_loads(changed, (_dc_load(job),), on="DB12", supply="DC_12")


def no_inverters(job: Job) -> Job:
    """DC only: the house has no inverters at all."""
    loads = tuple(load for load in job.loads if load.supply.startswith("DC"))
    return replace(
        job,
        loads=loads,
        inverters=replace(job.inverters, stacking="single", units=(), sources=()),
        ac=AcSide(),
        stays=tuple(replace(stay, source="") for stay in job.stays),
    )


def second_system(job: Job) -> Job:
    """A bar with its own bank, inverter and controller: a system of its own."""
    bank = replace(
        job.bank, packs=tuple(replace(one, tag=f"Z{n}") for n, one in enumerate(job.bank.packs[:1])), series=1
    )
    own = bar("DBZ", "Trailer bar", 48, replace(bank, spec=typical(tables.packs(), "Rack pack 48 V 100 Ah")))
    group = replace(two_groups(job).groups[0], bar="DBZ")
    with_both = replace(two_groups(job), groups=(group,), bars=(own,))
    controllers = tuple(
        replace(one, bar="DBZ") if at == len(job.roof.controllers) - 1 else one
        for at, one in enumerate(job.roof.controllers)
    )
    return replace(with_both, roof=replace(job.roof, controllers=controllers))


SHAPES = {
    "two groups on one bank": two_groups,
    "a staged conversion": staged,
    "transfer both ways": transfer,
    "no inverters": no_inverters,
    "a second system": second_system,
    "an integrated unit": integrated,
}
