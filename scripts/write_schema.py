"""Write the JSON Schema of the job file."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from robust_ledger.job.job import Job


def schema_text() -> str:
    """The schema as published: indented, one final newline."""
    return json.dumps(Job.model_json_schema(), indent=2, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(schema_text(), encoding="utf-8")
