"""What can be found: words, severity and rules of every finding as data beside this, and the one maker of them."""

from robust_ledger.findings.catalogue import CatalogueError, Kind, catalogue
from robust_ledger.findings.maker import Findings

__all__ = ["CatalogueError", "Findings", "Kind", "catalogue"]
