"""What is there: the service as found, before anybody plans anything."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said

RACEWAYS = {"emt": "EMT", "imc": "IMC", "rmc": "rigid", "pvc40": "PVC schedule 40", "pvc80": "PVC schedule 80"}
INSULATIONS_C = {None: "not read", 60: "60 °C (TW)", 75: "75 °C", 90: "90 °C"}  # of conductors that were found
SETS = {None: "one, or two", 1: "one", 2: "two", 3: "three", 4: "four"}  # in parallel
Raceway = Literal["", "cable", "emt", "imc", "rmc", "pvc40", "pvc80"]


class Existing(Model, frozen=True, kw_only=True):
    """The service as found; unknown is left empty. Conductors are written like "2 Cu" or "4/0 Al"."""

    meter_label_a: Annotated[
        float | None,
        said(
            "Meter label, A", "ampere marking of the meter socket", measured="the meter socket's label", hint="not read"
        ),
    ] = None
    meter_lugs_most: Annotated[Line, Meta(description='largest conductor its lugs take, "250 kcmil Al"')] = ""
    underground: Annotated[bool, said("underground lateral")] = False
    drop_a: Annotated[
        float | None,
        said("drop, A", "what the utility says its conductors carry", measured="the utility's conductors", hint="ask"),
    ] = None
    riser_conductors: Annotated[Line, Meta(description="service-entrance conductors on the line side")] = ""
    load_conductors: Annotated[Line, Meta(description="from the meter to the disconnect or panel")] = ""
    neutral: Annotated[Line, Meta(description="neutral of the service conductors")] = ""
    insulation_c: Annotated[
        Literal[60, 75, 90] | None,
        said(
            "insulation",
            "temperature rating of their insulation, °C",
            choices=INSULATIONS_C,
        ),
    ] = None
    wires: Annotated[int | None, said("wires", "wires of the service: two hots and a neutral are three", most=6)] = None
    raceway: Annotated[
        Raceway,
        said(
            "in",
            "of the line side; empty when not checked",
            choices={"": "not checked", "cable": "cable, no raceway", **RACEWAYS},
        ),
    ] = ""
    trade_size: Annotated[Line, said("Trade size", 'inches as written, "1-1/4"')] = ""
    knockouts: Annotated[
        Literal["", "plain", "concentric", "washers"],
        said(
            "knockouts",
            "where service raceways enter: cut to size, concentric or eccentric rings left, reducing washers",
            choices={"": "not checked", "plain": "cut to size", "concentric": "rings left", "washers": "washers"},
        ),
    ] = ""
    disconnect_a: Annotated[
        float | None, said("ahead, A", "a disconnect ahead of the panel", measured="the disconnect", hint="none")
    ] = None
    disconnect_aic_a: Annotated[float | None, said("Disconnect AIC", "its AIC rating")] = None
    disconnect_at: Annotated[
        Literal["", "outdoors", "indoors"],
        said(
            "Disconnect ahead",
            "where it is, or comes",
            choices={"": "not entered", "outdoors": "outdoors", "indoors": "indoors"},
        ),
    ] = ""
    utility_fault_a: Annotated[
        float | None,
        said(
            "Utility's figure, A",
            "available fault current at the service, from the utility",
            measured="the utility's fault current",
            reads="number",
            least=100,
            most=200000,
        ),
    ] = None
    transformer_kva: Annotated[
        float | None, said("Transformer, kVA", measured="the transformer's rating", least=1, most=1000)
    ] = None
    transformer_percent_z: Annotated[
        float | None, said("its impedance, %", measured="the transformer's impedance", least=0.2, most=10)
    ] = None

    @property
    def disconnect_there(self) -> bool:
        """Whether a disconnect ahead of the panel was found."""
        return self.disconnect_a is not None or self.disconnect_at != ""
