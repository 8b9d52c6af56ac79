"""Nothing of a plan or a sheet moves unnoticed: both shipped jobs line by line, forty generated ones by a digest of every part."""

from __future__ import annotations

import pytest
from golden_text import DEMOS, DIGESTS, HERE, demo_text, generated, generated_lines


@pytest.mark.parametrize("name", DEMOS)
def test_a_shipped_job_reads_as_its_golden_text_does(qapp, name):
    assert demo_text(name).splitlines() == (HERE / f"{name}.txt").read_text("utf-8").splitlines()


def test_forty_generated_jobs_come_out_as_they_did(qapp):
    """A line that differs names the job and the part; writing the text of that job before and after shows what moved."""
    jobs = generated()
    assert len(jobs) == 40
    lines = [line for number, job in enumerate(jobs, 1) for line in generated_lines(number, job)]
    assert lines == DIGESTS.read_text("utf-8").splitlines()
