"""Papers on the spine."""

from __future__ import annotations

from robust_ledger.desk.kit.spec import PageSpec, StageSpec, opens_with

SPEC = StageSpec(
    "papers",
    "Papers",
    7,
    (
        PageSpec("sheets", "&Sheets", ("heading", "stock:page", "stock:door", "stock:label_stock", "stock:qr")),
        PageSpec(
            "office",
            "&Office",
            (
                "heading:company",
                "heading:contact",
                "heading:ahj",
                "heading:stands",
                "utility:order_form",
                "utility:fault_table",
                "profile",
            ),
        ),
        PageSpec("material", "&Material", ("stock", "material")),
        PageSpec("exchange", "E&xchange", ("table",)),
    ),
    opening=opens_with("findings"),
    pictured=True,
)
