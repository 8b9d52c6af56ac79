"""Whether the tests notice when the arithmetic is wrong: a sample of small changes to the core, each tried against the tests of its room.
`mutation.py [SEED] [HOW_MANY] [MODULE…]`; a change that no test notices is printed with its place."""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
GOLDEN = ("tests/test_golden.py::test_a_shipped_job_reads_as_its_golden_text_does",)
# A module and the tests that are to notice: those of its room and the text of the three shipped jobs, not the whole suite.
EDGES = "tests/edges"
SAMPLE = {
    "load/neutral.py": ("tests/load", "tests/service", *GOLDEN),
    "load/optional.py": ("tests/load", *GOLDEN),
    "load/standard.py": ("tests/load", *GOLDEN),
    "load/existing.py": ("tests/load", *GOLDEN),
    "load/legs.py": ("tests/load", *GOLDEN),
    "load/nameplates.py": ("tests/load", *GOLDEN),
    "branch/breaker.py": ("tests/branch", *GOLDEN),
    "branch/ampacity.py": ("tests/branch", *GOLDEN),
    "branch/demand.py": ("tests/branch", *GOLDEN),
    "service/sizing.py": ("tests/service", "tests/tree", *GOLDEN),
    "service/fault.py": ("tests/service", *GOLDEN),
    "service/bonding.py": ("tests/service", "tests/survey", *GOLDEN),
    "panel/geometry.py": ("tests/panel", *GOLDEN),
    "changeover/volts.py": ("tests/changeover", *GOLDEN),
    "job/conductors.py": ("tests/job", "tests/service", *GOLDEN),
    "findings/catalogue.py": ("tests/findings", *GOLDEN),
}
# Changes that change nothing, by a part of their line, and why: they are not tried.
SAME = {
    ("changeover/volts.py", 'name = "A" if a < b else "B"'): "two lost legs alike are no voltage, judged before",
    (
        "changeover/volts.py",
        "GONE_V <= ab < 0.9 * most",
    ): "a leg above 30 V and leg to leg that make up the other leave no more",
    ("load/neutral.py", "key=lambda one: one[1] or 0"): "a season that is not known was chosen before",
    ("service/fault.py", "float(resistance or 0), float(reactance or 0)"): "what is not known is not used",
    ("service/sizing.py", "area_cmil(codebook, "): "a size comes from the table, which has its area",
    ("branch/demand.py", "(load.motor_hp or _hp(load) or 0) <= 1"): "what 250% leaves below 20 A is below 6 A",
}
OTHER: dict[Any, Any] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.Is: ast.IsNot,
    ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult,
    ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip


def changes(tree: ast.Module) -> Iterator[tuple[int, str]]:
    """Every small change that can be made, by its number: the line, and what it does. Walking the tree again in the same order finds it."""
    for node in ast.walk(tree):
        line = getattr(node, "lineno", 0)
        if isinstance(node, ast.Compare):
            yield line, f"{type(node.ops[0]).__name__} turned"
        elif (isinstance(node, ast.BinOp) and type(node.op) in OTHER) or isinstance(node, ast.BoolOp):
            yield line, f"{type(node.op).__name__} turned"
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
            yield line, f"{node.value} made {node.value + 1}"
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            yield line, "not taken out"


def changed(source: str, number: int) -> str:
    """The module with its change of that number."""
    tree, seen = ast.parse(source), -1
    every: Iterator[Any] = ast.walk(tree)
    for node in every:
        if isinstance(node, ast.Compare):
            seen += 1
            if seen == number:
                node.ops[0] = OTHER[type(node.ops[0])]()
        elif isinstance(node, (ast.BinOp, ast.BoolOp)) and type(node.op) in OTHER:
            seen += 1
            if seen == number:
                node.op = OTHER[type(node.op)]()
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
            seen += 1
            if seen == number:
                node.value += 1
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            seen += 1
            if seen == number:
                node.operand = ast.UnaryOp(ast.Not(), node.operand)
        if seen == number:
            break
    return ast.unparse(tree)


def noticed(tree: Path, module: str, number: int) -> bool:
    """Whether a test of the module's room fails with the change; `tree` is a copy that this lane has to itself."""
    path = tree / "src/robust_ledger" / module
    source = path.read_text("utf-8")
    try:
        path.write_text(changed(source, number), "utf-8")
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:randomly", "-p", "no:cacheprovider"]
        environment = {**os.environ, "PYTHONPATH": str(tree / "src"), "QT_QPA_PLATFORM": "offscreen"}
        for tests in ((EDGES,), SAMPLE[module]):  # a second for the edges, a minute for the room
            done = subprocess.run(
                [*command, *tests], cwd=tree, env=environment, capture_output=True, timeout=600, check=False
            )
            if done.returncode not in (0, 1):
                raise RuntimeError(done.stdout.decode() + done.stderr.decode())
            if done.returncode == 1:
                return True
        return False
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(source, "utf-8")


def of_module(module: str) -> Iterator[tuple[str, int, int, str]]:
    """Every change of a module that is worth trying: the module, its number, its line, and what it does."""
    source = (ROOT / "src/robust_ledger" / module).read_text("utf-8")
    lines = source.splitlines()
    same = [part for name, part in SAME if name == module]
    for number, (line, what) in enumerate(changes(ast.parse(source))):
        if not any(part in lines[line - 1] for part in same):
            yield module, number, line, what


def main(seed: int, many: int, modules: list[str]) -> None:
    """A sample over all modules, or over some, tried in two lanes; the share that was noticed, and what was not."""
    every = [change for module in modules or SAMPLE for change in of_module(module)]
    chosen = random.Random(seed).sample(every, min(many, len(every)))
    left: list[str] = []
    with tempfile.TemporaryDirectory(prefix="robust-ledger-mutation-") as folder:
        trees = [Path(folder) / str(lane) for lane in range(2)]
        for tree in trees:
            for part in ("src", "tests", "examples", "docs", "scripts"):
                shutil.copytree(ROOT / part, tree / part, ignore=shutil.ignore_patterns("__pycache__"))
            shutil.copy(ROOT / "pyproject.toml", tree)

        def lane(number: int) -> None:
            for module, change, line, what in chosen[number::2]:
                if not noticed(trees[number], module, change):
                    left.append(f"{module}:{line} {what}")
                    print(f"not noticed: {left[-1]}", flush=True)

        with ThreadPoolExecutor(2) as lanes:
            list(lanes.map(lane, range(2)))
    share = 1 - len(left) / len(chosen)
    print(
        f"{len(chosen)} of {len(every)} changes tried in {len(modules or SAMPLE)} modules: {share:.0%} noticed (seed {seed})."
    )


if __name__ == "__main__":
    given = [int(one) for one in sys.argv[1:3]]
    main(given[0] if given else 1, given[1] if len(given) > 1 else 60, sys.argv[3:])
