"""What is on hand of the material, and what it costs."""

from typing import Annotated

from msgspec import Meta, field

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said

Amount = Annotated[float, Meta(ge=0)]


class Stock(Model, frozen=True, kw_only=True):
    """By the key of the item: how many are on hand, and the price of one. What is not in it is not on hand, and its price is not known."""

    on_hand: dict[Line, Amount] = field(default_factory=dict)
    prices: dict[Line, Amount] = field(default_factory=dict)
    waste_percent: Annotated[
        float, said("Waste, %", "added to lengths that are cut", reads="share", hint="", most=50, ge=0, le=50)
    ] = 5.0
    door: Annotated[Line, said("Door", "size of the panel's door that the directory is cut for")] = "letter"
    qr: Annotated[bool, said("QR code", "the directory carries its own text as a QR code", tick="&QR code")] = False
    label_stock: Annotated[Line, said("Labels", "sheet of labels that wire tags are printed on")] = "plain"
    page: Annotated[
        Line, said("Paper", 'paper of the sheets: "letter" or "a4"', choices={"letter": "letter", "a4": "A4"})
    ] = "letter"
