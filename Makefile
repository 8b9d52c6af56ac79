# Two commands need nothing but python3 (3.11 or later), make and a Debian-like package manager:
#   make demo    open the desk with the demo job        make test    run the tests
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
# Two states of the environment: what the program runs with, and what its tests and checks have need of beside it.
RUN := $(VENV)/.run
READY := $(VENV)/.ready
PIP := $(BIN)/python -m pip install --quiet --disable-pip-version-check -c constraints.txt
export PYTHONPATH :=

.PHONY: setup demo quick test torture check lint types contracts screenshots bench compare mutation rooms schema dist try-deb clean

setup: $(READY)

$(RUN): pyproject.toml constraints.txt packaging/libraries.txt scripts/system_libraries.sh
	sh scripts/system_libraries.sh
	$(PYTHON) -c 'import sys; sys.exit("Robust Ledger needs Python 3.11 or later.") if sys.version_info < (3, 11) else None'
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(PIP) -e .
	touch $(RUN)

$(READY): $(RUN) constraints-dev.txt
	sh scripts/system_libraries.sh tests
	$(PIP) -c constraints-dev.txt -e '.[dev]'
	touch $(READY)

demo: $(RUN)
	sh scripts/with_display.sh $(BIN)/robust-ledger --demo

# The core without the desk, with few examples of each property: for between two edits.
quick: $(READY)
	ROBUST_LEDGER_EXAMPLES=quick $(BIN)/python -m pytest -n 2 tests/job tests/ledger tests/findings tests/codebook tests/load tests/branch tests/service tests/survey tests/drawing

# Everything, in two lanes and in an order that differs from run to run; the slowest twenty are listed.
test: $(READY)
	$(BIN)/python -m pytest -n 2 --durations=20

# About half an hour: 1,000 kills, kills between all file operations, 100,000 hostile inputs.
torture: $(READY)
	$(BIN)/python tests/torture/run.py

check: lint types contracts test

lint: $(READY)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .

types: $(READY)
	$(BIN)/mypy
	$(BIN)/mypy --config-file mypy-tests.ini tests scripts benchmarks

contracts: $(READY)
	$(BIN)/lint-imports --no-cache

screenshots: $(READY)
	sh scripts/with_display.sh $(BIN)/python scripts/screenshots.py docs/screenshots

bench: $(READY)
	sh scripts/with_display.sh $(BIN)/python benchmarks/bench.py

# make compare BEFORE=../tree-of-an-earlier-commit
compare: $(READY)
	sh scripts/with_display.sh $(BIN)/python benchmarks/compare.py $(BEFORE) .

# Whether the tests notice when the arithmetic is wrong: a sample of changed lines, each tried against the tests of its room.
mutation: $(READY)
	$(BIN)/python scripts/mutation.py

rooms: $(READY)
	$(BIN)/python scripts/draw_rooms.py docs/rooms.svg

schema: $(READY)
	$(BIN)/python scripts/write_schema.py docs/job-format.schema.json

# A wheel and a Debian package in dist/.
dist: $(READY)
	$(BIN)/python scripts/make_dist.py dist

# The package installed, started and removed in a clean root, where the machine allows one.
try-deb: dist
	sh scripts/try_deb.sh dist/robust-ledger_*.deb

clean:
	rm -rf $(VENV) dist build .pytest_cache .mypy_cache .ruff_cache
