"""Variants: several designs over one survey, each whole, with a name of its own."""

from typing import Annotated

from msgspec import Meta

from weighty_axle.job.models.brief import Supply
from weighty_axle.job.models.parts import DesignParts
from weighty_axle.job.stated import Name, Stated, Tag, Text


class FedAs(Stated, frozen=True, kw_only=True):
    """How a design feeds a load: its supply, circuit, bar or group, and what it charges."""

    load: Annotated[Tag, Meta(title="Load")]
    supply: Annotated[Supply, Meta(title="Supply")]
    circuit: Annotated[Text, Meta(title="Circuit")] = ""
    on: Annotated[Text, Meta(title="On")] = ""
    charges: Annotated[Text, Meta(title="Charges")] = ""


class Variant(DesignParts, frozen=True, kw_only=True):
    """A design beside the one that is worked on: everything a design is made of, and how it feeds the loads."""

    name: Annotated[Name, Meta(title="Name")]
    why: Annotated[Text, Meta(title="Why", description="what it is to show")] = ""
    feeds: Annotated[tuple[FedAs, ...], Meta(max_length=400, title="Loads fed so")] = ()
