"""What is there: the service as found, before anybody plans anything."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model

Raceway = Literal["", "cable", "emt", "imc", "rmc", "pvc40", "pvc80"]


class Existing(Model, frozen=True, kw_only=True):
    """The service as found; unknown is left empty. Conductors are written like "2 Cu" or "4/0 Al"."""

    meter_label_a: Annotated[float | None, Meta(description="ampere marking of the meter socket")] = None
    meter_lugs_most: Annotated[Line, Meta(description='largest conductor its lugs take, "250 kcmil Al"')] = ""
    underground: bool = False
    drop_a: Annotated[float | None, Meta(description="what the utility says its conductors carry")] = None
    riser_conductors: Annotated[Line, Meta(description="service-entrance conductors on the line side")] = ""
    load_conductors: Annotated[Line, Meta(description="from the meter to the disconnect or panel")] = ""
    insulation_c: Annotated[
        Literal[60, 75, 90] | None, Meta(description="temperature rating of their insulation, °C")
    ] = None
    wires: Annotated[int | None, Meta(description="wires of the service: two hots and a neutral are three")] = None
    raceway: Annotated[Raceway, Meta(description="of the line side; empty when not checked")] = ""
    trade_size: Annotated[Line, Meta(description='inches as written, "1-1/4"')] = ""
    knockouts: Annotated[
        Literal["", "plain", "concentric", "washers"],
        Meta(
            description="where service raceways enter: cut to size, concentric or eccentric rings left, reducing washers"
        ),
    ] = ""
    disconnect_a: Annotated[float | None, Meta(description="a disconnect ahead of the panel")] = None
    disconnect_aic_a: Annotated[float | None, Meta(description="its AIC rating")] = None
    disconnect_at: Annotated[Literal["", "outdoors", "indoors"], Meta(description="where it is, or comes")] = ""
    feeder_conductors: Annotated[Line, Meta(description="from the disconnect to the inside panel")] = ""
    feeder_wires: Annotated[int | None, Meta(description="wires of that feeder")] = None
    feeder_wiring: Annotated[
        Literal["", "se", "ser", "nm", "raceway"],
        Meta(description="SE with a bare neutral, SE with an insulated one, NM, conductors in raceway"),
    ] = ""
    utility_fault_a: Annotated[
        float | None, Meta(description="available fault current at the service, from the utility")
    ] = None
    transformer_kva: float | None = None
    transformer_percent_z: float | None = None

    @property
    def disconnect_there(self) -> bool:
        """Whether a disconnect ahead of the panel was found."""
        return self.disconnect_a is not None or self.disconnect_at != ""
