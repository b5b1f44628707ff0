"""What a year on the road is asked with: the draw of its weather, what is kept back, and what parts cost."""

from typing import Annotated

from msgspec import Meta

from weighty_axle.job.stated import Name, Share, Stated, Text


class Price(Stated, frozen=True, kw_only=True):
    """What a part costs: `part` is the name of its type, or a conductor's size; a conductor's is for one metre."""

    part: Annotated[Name, Meta(title="Part", description="name of its type, or size of a conductor")]
    amount: Annotated[float, Meta(ge=0, le=10_000_000, title="Price", description="of one; of a conductor, a metre")]


class Year(Stated, frozen=True, kw_only=True):
    """How the year is lived through.

    `seed` names the draw of its weather. Of the usable energy `reserve_share` is kept for what must run: below it the
    loads that may wait are switched off, in their order. `sleeps`: the inverters sleep while nothing runs.
    `generator_along`: generators that are stated go along wherever nothing is plugged in.
    """

    seed: Annotated[Name, Meta(title="Weather drawn", description="names the draw of the year's weather")] = "one year"
    reserve_share: Annotated[
        Share, Meta(title="Kept for what must run", description="of the usable energy: below it loads wait")
    ] = 0.15
    sleeps: Annotated[bool, Meta(title="Inverters sleep", description="while nothing on AC runs")] = False
    generator_along: Annotated[bool, Meta(title="Generator goes along", description="where nothing is plugged in")] = (
        True
    )
    most_generator_h: Annotated[
        float, Meta(ge=0, le=8760, title="Generator hours wanted", description="in the year, at most")
    ] = 10.0
    most_unmet_share: Annotated[
        Share, Meta(title="Energy that may be missing", description="share of what the loads ask for")
    ] = 0.01
    currency: Annotated[Text, Meta(title="Currency", description="of all prices")] = ""
    prices: Annotated[
        tuple[Price, ...], Meta(max_length=300, title="Prices", description="typed: none are shipped")
    ] = ()
