# make demo: the workbench on demo data.   make test: all checks.   make check: what changed, in under a minute.
# make bench: measurements.   make study: strategies tried.   make torture: an attack.   make release: what is given out.
# make renew: the newest versions of everything, pinned with their hashes.
# Each sets up what it needs in .venv; nothing else on the machine is changed.

PYTHON ?= $(shell command -v python3.11 || command -v python3)
VENV   := .venv
BIN    := $(VENV)/bin
PIP    := $(BIN)/python -m pip install --quiet --disable-pip-version-check
PINNED := $(BIN)/uv pip compile pyproject.toml --universal --python-version 3.11 --no-annotate --no-header --quiet

.PHONY: setup setup-dev demo docs test check lint types imports unit bench study torture stick-test pins renew release clean

setup: $(VENV)/.ready
setup-dev: $(VENV)/.ready-dev

$(VENV)/bin/python:
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' \
	  || { echo "Tenaz needs Python 3.11 or newer; name one with: make PYTHON=/path/to/python3.11" >&2; exit 1; }
	@$(PYTHON) -m venv $(VENV)

# Only files whose hashes are known are installed; the build of Tenaz itself takes its tool from constraints.txt.
$(VENV)/.ready: pyproject.toml requirements.txt | $(VENV)/bin/python
	@echo "setting up $(VENV) (a minute or two, once) …"
	@$(PIP) --require-hashes --requirement requirements.txt
	@PIP_CONSTRAINT=$(CURDIR)/constraints.txt $(PIP) --no-deps --editable .
	@touch $@

$(VENV)/.ready-dev: pyproject.toml requirements-development.txt | $(VENV)/bin/python
	@echo "setting up $(VENV) with the tools for the checks (a minute or two, once) …"
	@$(PIP) --require-hashes --requirement requirements-development.txt
	@PIP_CONSTRAINT=$(CURDIR)/constraints.txt $(PIP) --no-deps --editable .
	@touch $(VENV)/.ready $@

demo: setup
	@$(BIN)/tenaz demo

test: lint types imports unit

# For whoever writes: lint, types, directions, and the unit tests of the rooms in which anything changed since the last
# commit, without those that load the machine. All of it is make test.
check: lint types imports
	@$(BIN)/python -m tests.changed | xargs --no-run-if-empty nice -n 10 $(BIN)/pytest -n 2 -m "not loading"

lint: setup-dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .

types: setup-dev
	$(BIN)/mypy

imports: setup-dev
	$(BIN)/lint-imports

unit: setup-dev
	@{ command -v tmux && command -v ssh && ls /usr/sbin/sshd && ls /usr/lib/postgresql/*/bin/initdb; } >/dev/null 2>&1 \
	  || { [ "$$(id -u)" = 0 ] && apt-get -qq update >/dev/null \
	       && DEBIAN_FRONTEND=noninteractive apt-get -qq install -y tmux postgresql openssh-client \
	            openssh-server >/dev/null; } \
	  || { echo "the tests drive the real interface through tmux, keep a book on a real PostgreSQL and reach a rig" \
	            "over ssh: install the Debian packages tmux, postgresql and openssh-server first" >&2; exit 1; }
	@# What judges the page and the figures of a workshop, and what draws where no card is: without them those tests say
	@# that they were not made.
	@{ command -v promtool && command -v chromium && ls /usr/share/vulkan/icd.d/lvp_icd*; } >/dev/null 2>&1 \
	  || [ "$$(id -u)" != 0 ] \
	  || { apt-get -qq update && DEBIAN_FRONTEND=noninteractive apt-get -qq install -y --no-install-recommends prometheus \
	       chromium mesa-vulkan-drivers libvulkan1; } >/dev/null 2>&1 || true
	@$(BIN)/python -m compileall -q src # the tests start it a hundred times, also where Python keeps no bytecode by itself
	@# As considerate as the loads that they run, which get their share of the cores beside them; those one at a time. What
	@# waits for a terminal goes on beside all that, and is told at the end.
	@OPENBLAS_NUM_THREADS=1 $(BIN)/pytest -n 2 --dist worksteal -m terminal > .terminal-tests.txt 2>&1 & terminal=$$!; \
	  OPENBLAS_NUM_THREADS=1 nice -n 10 $(BIN)/pytest -n 2 --dist loadgroup --no-loadscope-reorder -m "not terminal and not stick"; others=$$?; \
	  wait $$terminal; terminal=$$?; cat .terminal-tests.txt; rm -f .terminal-tests.txt; exit $$((others + terminal))

# Reports of the demo rigs, as they stand in the docs.
docs: setup
	$(BIN)/python -m tenaz.workshop.errands.demo_reports docs/reports

bench: setup-dev
	$(BIN)/python -m tests.bench.report

# Strategies on hidden rigs, over all cores, or on a cluster: make study ON=tcp://host:8786; half an hour and more. Writes
# docs/study/.
study: setup-dev
	@mkdir -p docs/study
	$(BIN)/tenaz study $(if $(ON),--on $(ON)) --out docs/study/study.md --out docs/study/study.csv --out docs/study/study.json \
	  --out docs/study/study.svg
	$(BIN)/tenaz study $(if $(ON),--on $(ON)) cores two-weak plateau background infant cliff slopes-unseen warm-days half-steps quarter-steps \
	  triple-steps p --rigs 300 --no-practice --alike-h 3000 --out docs/study/worlds.md --out docs/study/worlds.json
	$(BIN)/tenaz study $(if $(ON),--on $(ON)) rig-data-rate rig-tcl rig-core-ratio --rigs 300 --past 0 --past 5 --past 20 --past 100 \
	  --out docs/study/experience.md --out docs/study/experience.json
	$(BIN)/tenaz study $(if $(ON),--on $(ON)) many --rigs 400 --out docs/study/many.md --out docs/study/many.json
	$(BIN)/tenaz study $(if $(ON),--on $(ON)) night --rigs 100 --out docs/study/night.md --out docs/study/night.json
	$(BIN)/tenaz study $(if $(ON),--on $(ON)) faults --rigs 500 --out docs/study/faults.md --out docs/study/faults.json

# Emulated machines started from a stick, about 40 minutes; fetches what a stick is made of, 130 MB, once.
stick-test: setup-dev
	@command -v qemu-system-x86_64 >/dev/null && command -v mcopy >/dev/null && ls /usr/share/OVMF >/dev/null 2>&1 \
	  || { [ "$$(id -u)" = 0 ] && apt-get -qq update >/dev/null && DEBIAN_FRONTEND=noninteractive \
	       apt-get -qq install -y --no-install-recommends qemu-system-x86 qemu-user ovmf mtools e2fsprogs >/dev/null; } \
	  || { echo "the stick is tried in an emulator: install the Debian packages qemu-system-x86, ovmf, mtools and" \
	            "e2fsprogs first" >&2; exit 1; }
	$(BIN)/pytest -m stick -s tests/stick

# An attack by kills, damaged books and hostile input; some minutes, seeded: make torture SEED=7
torture: setup-dev
	$(BIN)/python -m tests.torture --seed $(or $(SEED),1871)

# The hashes of what constraints.txt names: to run, to run with a book on a server, to develop.
pins: setup-dev
	$(PINNED) --constraint constraints.txt --generate-hashes --output-file requirements.txt
	$(PINNED) --constraint constraints.txt --generate-hashes --extra server --output-file requirements-server.txt
	$(PINNED) --constraint constraints.txt --generate-hashes --extra graphics --output-file requirements-graphics.txt
	$(PINNED) --constraint constraints.txt --generate-hashes --extra dev --output-file requirements-development.txt

# The newest of everything within the bounds of pyproject.toml; then make test and make release, or it is taken back.
renew: setup-dev
	$(PINNED) --extra dev --upgrade --no-emit-package colorama --output-file constraints.txt
	$(MAKE) pins

# What is given out, proven in fresh environments: make release PYTHONS="python3.11 python3.12 python3.13"
release: setup-dev
	$(BIN)/python -m tests.release $(PYTHONS)

clean:
	rm -rf $(VENV) dist .mypy_cache .ruff_cache .pytest_cache .hypothesis .import_linter_cache
