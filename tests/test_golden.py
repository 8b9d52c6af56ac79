"""Nothing of a plan or a sheet moves unnoticed: both shipped jobs line by line, forty generated ones by a digest of every part."""

from __future__ import annotations

import pytest
from golden_text import DEMOS, DIGESTS, HERE, demo_text, generated, generated_lines


@pytest.mark.parametrize("name", DEMOS)
def test_a_shipped_job_reads_as_its_golden_text_does(qapp, name):
    assert demo_text(name).splitlines() == (HERE / f"{name}.txt").read_text("utf-8").splitlines()


@pytest.mark.parametrize("first", range(1, 41, 5))
def test_forty_generated_jobs_come_out_as_they_did(qapp, first):
    """A line that differs names the job and the part; writing the text of that job before and after shows what moved. Five at a time: every
    sheet of a job is written and read again, which takes a while."""
    jobs = generated()
    assert len(jobs) == 40
    mine = range(first, first + 5)
    lines = [line for number in mine for line in generated_lines(number, jobs[number - 1])]
    names = {line.split(" ")[0] for line in lines}
    assert lines == [line for line in DIGESTS.read_text("utf-8").splitlines() if line.split(" ")[0] in names]
    assert len(names) == 5
