"""Write the JSON Schema of the job file."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from robust_ledger.job.schema import job_schema


def schema_text() -> str:
    """The schema as published: indented, one final newline."""
    return json.dumps(job_schema(), indent=2, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(schema_text(), encoding="utf-8")
