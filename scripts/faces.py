"""A contract for import-linter: a room is entered by its face, the names in `__all__` of its `__init__`, and not by what lies behind it.

A name of the face is one that the `__init__` brings, or a module, `parts.house`; a package in it, `parts`, lets all of its modules in. Modules
rather than names keep the start quick: nothing is imported that nobody asked for."""

from __future__ import annotations

import ast
from pathlib import Path
from typing import Any

from grimp import ImportGraph
from importlinter import Contract, ContractCheck, fields, output

SOURCE = Path(__file__).parents[1] / "src"


def face_of(room: str) -> frozenset[str]:
    """The modules in a room's `__all__`, without the names that its `__init__` brings; none where it has no face."""
    shown: set[str] = set()
    brought: set[str] = set()
    for node in ast.parse((SOURCE / room.replace(".", "/") / "__init__.py").read_text("utf-8")).body:
        if isinstance(node, ast.ImportFrom):
            brought |= {one.asname or one.name for one in node.names}
        elif isinstance(node, ast.FunctionDef):
            brought.add(node.name)
        elif isinstance(node, ast.Assign) and any(isinstance(t, ast.Name) and t.id == "__all__" for t in node.targets):
            shown = set(ast.literal_eval(node.value))
    return frozenset(shown - brought)


def is_open(face: frozenset[str], name: str) -> bool:
    """Whether a module of the room, by its name from there down, is in the face, itself or by a package that it is in."""
    parts = name.split(".")
    return any(".".join(parts[:many]) in face for many in range(1, len(parts) + 1))


class FacesContract(Contract):
    """No room is imported past its face; and nothing stands in a face that no other room imports."""

    type_name = "faces"

    container = fields.StringField()

    def check(self, graph: ImportGraph, verbose: bool) -> ContractCheck:
        """Every import between two rooms against the face of the one that is imported."""
        container = str(self.container)
        rooms = [one for one in graph.find_children(container) if graph.find_children(one)]
        past: list[str] = []
        unused: list[str] = []
        for room in sorted(rooms):
            face, used = face_of(room), set()
            for module in graph.find_descendants(room):
                name = module.removeprefix(f"{room}.")
                importers = [
                    one
                    for one in graph.find_modules_that_directly_import(module)
                    if not f"{one}.".startswith(f"{room}.")
                ]
                if importers and not is_open(face, name):
                    past += [f"{one} imports {module}" for one in sorted(importers)]
                used |= {shown for shown in face if importers and is_open(frozenset((shown,)), name)}
            modules = {one.removeprefix(f"{room}.") for one in graph.find_descendants(room)}
            unused += [f"{room}: {name}" for name in sorted((face & modules) - used)]
        return ContractCheck(kept=not past and not unused, metadata={"past": past, "unused": unused})

    def render_broken_contract(self, check: ContractCheck) -> None:
        """Each import past a face, and each name of a face that nobody asks for."""
        found: dict[str, Any] = check.metadata
        for line in found["past"]:
            output.print_error(f"past the face: {line}")
        for line in found["unused"]:
            output.print_error(f"in the face, and imported by no other room: {line}")
