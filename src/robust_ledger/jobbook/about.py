"""Which Robust Ledger this is. The version has three numbers: the generation of the product, the job format that it writes, and the release
within it; so a job of format 5 opens in every 1.5.x and later."""

from __future__ import annotations

from robust_ledger.job.job import VERSION


def own_version() -> str:
    """The version as it was installed; "from its source" where it was not."""
    from importlib.metadata import PackageNotFoundError, version  # only here: it costs the desk's start

    try:
        return version("robust-ledger")
    except PackageNotFoundError:
        return "from its source"


def about() -> str:
    """The version in words, with the job format."""
    return f"Robust Ledger {own_version()}, job format {VERSION}"
