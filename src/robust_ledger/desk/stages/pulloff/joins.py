"""Loads without a circuit and dedicated circuits without a load, with what each most likely belongs to."""

from __future__ import annotations

from robust_ledger.branch.links import Loose, not_joined
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.job.edits import link_load
from robust_ledger.ledger.place import Place

_LEFT_OVER = {"load": "load, no circuit", "circuit": "circuit, no load"}


class JoinsTable(LedgerTable):
    """Enter accepts what is proposed."""

    def __init__(self, store: JobStore) -> None:
        columns = [Column("Left over", 150), Column("What it is", 0), Column("Most likely (Enter joins)", 190)]
        super().__init__("Loads and circuits not linked", columns, row_height=22)
        self.store = store
        self.when_empty = "Every load has its circuit, and every 240 V circuit its load."
        self.loose: tuple[Loose, ...] = ()
        self.opened.connect(self._join)
        self.chosen.connect(self._chosen)

    def show_joins(self) -> None:
        self.loose = not_joined(self.store.job)
        self.show_rows(
            [
                Row(
                    str(number),
                    (_LEFT_OVER[one.about], one.words, one.proposal or "nothing proposed"),
                    "" if one.proposal else "faint",
                )
                for number, one in enumerate(self.loose)
            ]
        )

    def _chosen(self, key: str) -> None:
        one = self.loose[int(key)]
        self.store.choose_place(Place.load(one.load_id) if one.about == "load" else Place.circuit(one.tag))

    def _join(self, key: str) -> None:
        one = self.loose[int(key)]
        load = self.store.job.load(one.load_id)
        if load is None or one.tag is None:
            words = f"={one.load_id}" if one.load_id else "=, and the load's name,"
            self.store.notice(
                f"Nothing is proposed: write {words} in the line of the circuit that feeds it.", serious=True
            )
            return
        self.store.edit(f"feed {load.name} from tag {one.tag}", lambda job: link_load(job, load.id, one.tag))
