"""What the whole suite has to have seen: every kind of finding raised by some test. A plugin of the tests: it counts while they run,
in one process or in several, and fails the run at its end where nothing was left out of it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest

from robust_ledger.findings import Findings, catalogue
from robust_ledger.ledger.entry import Finding


class Raised:
    """Counts the kinds of findings that are made."""

    def __init__(self, whole: bool) -> None:
        self.whole = whole
        self.names: set[str] = set()

    def count(self) -> None:
        """Look on at the one maker of findings."""
        make, names = Findings.find, self.names

        def find(maker: Findings, name: str, /, **values: Any) -> Finding:
            names.add(name)
            return make(maker, name, **values)

        Findings.find = find

    @pytest.hookimpl(wrapper=True)
    def pytest_sessionfinish(self, session: pytest.Session) -> Iterator[None]:
        """A worker hands its names on; who collects them says what is missing."""
        if (given := getattr(session.config, "workeroutput", None)) is not None:
            given["raised"] = sorted(self.names)
        elif self.whole and session.testsfailed == 0 and (missing := set(catalogue()) - self.names):
            print(f"\nNo test raises: {', '.join(sorted(missing))}")
            session.exitstatus = pytest.ExitCode.TESTS_FAILED
        return (yield)

    def pytest_testnodedown(self, node: Any) -> None:
        """What a worker has seen."""
        self.names |= set(getattr(node, "workeroutput", {}).get("raised", ()))


def pytest_configure(config: pytest.Config) -> None:
    """Only a run of everything is judged."""
    said = config.getoption
    whole = not (said("keyword") or said("markexpr") or said("collectonly")) and not _told_where(config)
    plugin = Raised(whole)
    plugin.count()
    config.pluginmanager.register(plugin, "kinds raised")


def _told_where(config: pytest.Config) -> bool:
    """Whether the run was told where to look."""
    return config.args_source is not pytest.Config.ArgsSource.TESTPATHS
