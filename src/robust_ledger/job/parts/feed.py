"""The way of the current to a node: where it begins and by what, its conductors as planned and as found, and where they lie."""

from typing import Annotated, Literal

from robust_ledger.job.keys import MAIN
from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.existing import INSULATIONS_C, RACEWAYS, SETS
from robust_ledger.job.parts.said import said


class Feed(Model, frozen=True, kw_only=True):
    """The feeder of a node, or the service conductors that go on to it."""

    fed_from: Annotated[
        Line, said("Fed from", '"meter", "disconnect", "panel" for the main one, or the id of another panel')
    ] = MAIN
    fed_by: Annotated[
        Literal["breaker", "lugs", "tap", "same"],
        said(
            "by",
            "a breaker there, its feed-through lugs, a tap without a device, or the disconnect's enclosure is this panel itself",
            choices={
                "breaker": "a breaker there",
                "lugs": "feed-through lugs",
                "tap": "a tap, no breaker there",
                "same": "is that enclosure",
            },
        ),
    ] = "breaker"
    breaker_a: Annotated[float | None, said("Breaker, A", "of the feeder; its main where it is fed from the meter")] = (
        None
    )
    raceway: Annotated[
        Literal["", "emt", "imc", "rmc", "pvc40", "pvc80"],
        said(
            "Raceway",
            "kind of the feeder's raceway, where its conductors lie in one; empty: not entered",
            choices={"": "not entered", **RACEWAYS},
        ),
    ] = ""
    insulated: Annotated[
        bool | None, said("In insulation", "the cable runs within thermal insulation; None: not checked")
    ] = None
    ambient_c: Annotated[
        float | None,
        said(
            "Air, °F",
            "hottest air around its conductors; None: 30 °C as in the tables",
            hint="86",
        ),
    ] = None
    current_carrying: Annotated[
        int,
        said(
            "Together",
            "current-carrying conductors in its raceway or bundle; a neutral is none",
            least=1,
            most=60,
        ),
    ] = 2
    rooftop: Annotated[bool, said("its raceway in the sun on a roof", "less than 7/8 inch above a roof in the sun")] = (
        False
    )
    sets: Annotated[
        int | None,
        said(
            "In parallel",
            "conductors in parallel per leg; None: one where one carries it",
            choices=SETS,
        ),
    ] = None
    length_ft: Annotated[float | None, said("Length, ft")] = None
    conductors: Annotated[
        Line, said("Found wire", 'hots of a feeder that stays, "6 Al"; empty: not read', hint="not read")
    ] = ""
    found_neutral: Annotated[
        Line, said("Its neutral", 'neutral of a feeder that stays, "8 Al"; empty: not read', hint="not read")
    ] = ""
    found_ground: Annotated[
        Line, said("Its EGC", 'EGC of a feeder that stays, "8 Al"; empty: not read', hint="not read")
    ] = ""
    gec_ft: Annotated[
        float | None,
        said(
            "GEC's way, ft",
            "way of its GEC to its rods, or of its tap to the common GEC",
            hint="not measured",
            most=500,
        ),
    ] = None
    found_wiring: Annotated[
        Literal["", "se", "ser", "nm", "raceway"],
        said(
            "Found as",
            "what a feeder that was found is: SE with a bare neutral, SE with an insulated one, NM, conductors in raceway",
            choices={
                "": "not checked",
                "se": "SE, bare neutral",
                "ser": "SE, insulated",
                "nm": "NM",
                "raceway": "raceway",
            },
        ),
    ] = ""
    found_size: Annotated[
        Line, said("Trade size", 'of the raceway of a feeder that stays, "1-1/4"; empty: not read', hint="not read")
    ] = ""
    insulation_c: Annotated[
        Literal[60, 75, 90] | None,
        said(
            "Its insulation",
            "temperature rating of the insulation of conductors that were found, °C; None: not read, 75 °C counts",
            choices=INSULATIONS_C,
        ),
    ] = None
    wires: Annotated[
        int | None,
        said(
            "Wires",
            "wires of its feeder; None: four for a new one, not entered for one found",
            choices={None: "not counted", 4: "four", 3: "three"},
        ),
    ] = None


class MainFeed(Feed, frozen=True, kw_only=True):
    """The feeder of the main panel, where a disconnect, a panel or transfer equipment stands ahead of it; of a main panel at the meter only its
    main in a split service. Unsaid it goes straight on from what is ahead, in the metal and the insulation of the service conductors."""

    fed_from: Annotated[
        Line,
        said(
            "Fed from",
            "the id of the disconnect or panel that feeds the main panel; empty: the disconnect ahead of it, else the meter",
        ),
    ] = ""
    fed_by: Annotated[
        Literal["breaker", "lugs", "tap"],
        said(
            "by",
            "the load side or the feed-through lugs of what is ahead, a breaker in it, or a tap without a device",
            choices={
                "lugs": "lugs or load side",
                "breaker": "a breaker there",
                "tap": "a tap, no breaker there",
            },
        ),
    ] = "lugs"
    breaker_a: Annotated[
        float | None,
        said(
            "Breaker, A",
            "the breaker that feeds the main panel; at the meter, and at the end of a tap, its own main; None: not known",
        ),
    ] = None
    length_ft: Annotated[
        float | None,
        said(
            "Length, ft",
            "the way from the disconnect, or what else is ahead, to the panel",
            measured="length from the disconnect to the panel",
            hint="not known",
        ),
    ] = None
    metal: Annotated[
        Literal["", "cu", "al"],
        said("Metal", choices={"": "as the service", "al": "aluminum", "cu": "copper"}),
    ] = ""
    wiring: Annotated[
        Literal["", "thwn", "xhhw", "se", "nm"],
        said(
            "Wiring",
            "conductors in raceway, or the kind of cable; empty: in raceway, with the insulation of the service conductors",
            choices={
                "": "as the service",
                "thwn": "THWN-2 in raceway",
                "xhhw": "XHHW-2 in raceway",
                "se": "SE cable",
                "nm": "NM cable",
            },
        ),
    ] = ""
