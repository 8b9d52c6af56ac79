"""The contract of the rooms' faces, on a house of two rooms."""

from __future__ import annotations

import faces
import grimp
import pytest
from faces import FacesContract


@pytest.mark.parametrize(
    ("shown", "imported", "past", "unused"),
    [
        ({"sizing"}, "sizing", 0, 0),
        ({"sizing"}, "split", 1, 1),  # behind the face; and nobody asks for what is in it
        ({"parts"}, "parts.house", 0, 0),  # a package lets its modules in
        ({"parts.house"}, "parts.fit", 1, 1),
        (set(), "sizing", 1, 0),
    ],
)
def test_a_room_is_entered_by_its_face(monkeypatch, shown, imported, past, unused):
    graph = grimp.ImportGraph()
    inner = ("sizing", "split", "parts", "parts.house", "parts.fit")
    for module in (
        "house",
        "house.desk",
        "house.desk.page",
        "house.service",
        *(f"house.service.{one}" for one in inner),
    ):
        graph.add_module(module)
    graph.add_import(importer="house.desk.page", imported=f"house.service.{imported}")
    graph.add_import(importer="house.service.sizing", imported="house.service.split")  # its own affair
    monkeypatch.setattr(faces, "face_of", lambda room: frozenset(shown) if room == "house.service" else frozenset())
    contract = FacesContract("faces", {}, {"container": "house"})
    found = contract.check(graph, False)
    assert (len(found.metadata["past"]), len(found.metadata["unused"]), found.kept) == (past, unused, not past + unused)
