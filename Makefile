# Everything a newcomer needs: `make demo` and `make test`. Each step is done once and remembered in .make/.
PY := .venv/bin/python
SUDO := $(if $(filter 0,$(shell id -u)),env,sudo)
SYSTEM_PACKAGES := chromium-headless-shell iperf3 iproute2 nftables dnsmasq-base srt-tools ffmpeg openssl procps
SYSTEM_TOOLS := chromium-headless-shell iperf3 ip nft dnsmasq srt-live-transmit ffmpeg openssl pgrep
# Tests go to whichever process is free; the few that need each other are in a group (pytest.mark.xdist_group). Three share two
# cores: one of them always waits for a browser or a server.
ON_ALL_CORES := --numprocesses auto --dist loadgroup
THREE := --numprocesses 3 --dist loadgroup
# What mostly waits (lines and players in real time, networks of the kernel) runs beside what computes, which gives way to it; one
# line at a time, for they would be in each other's way.
WAITING := tests/core/transport/test_real_lines.py tests/formats/test_players.py tests/web/test_meter.py
NETWORKS := tests/core/reach/test_kernel.py
IDLE := chrt --idle 0  # also what raises its own priority, as browsers do
BESIDE := $(addprefix --ignore ,$(WAITING) $(NETWORKS))
INTERFACE := tests/browser tests/web
UNWATCHED_CORE := $(filter-out $(WAITING) $(NETWORKS),$(shell grep -rl no_cover tests/core tests/formats --include=test_*.py))
CORE := tests/core tests/formats src/humble_relay/core src/humble_relay/formats src/humble_relay/store/documents.py
export PATH := $(CURDIR)/frontend/node_modules/.bin:$(PATH)
# What is compiled once is not compiled again by every process of the tests.
export PYTHONDONTWRITEBYTECODE :=
.DELETE_ON_ERROR:
.PHONY: demo dev test test-waiting test-networks test-rest test-unwatched check wheel soak coverage bench lint types build check-types clean

demo: .make/python .make/frontend
	$(PY) -m humble_relay demo --data data/demo

# The interface's tests first, for they are the longest: what is short fills the end. WATCHED=yes has the core watched by coverage.
test: .make/python .make/frontend .make/system
	cd frontend && vitest run --silent
	$(MAKE) --no-print-directory --jobs 4 --output-sync=target test-waiting test-networks $(if $(WATCHED),coverage test-unwatched,test-rest)

test-waiting:
	$(PY) -m pytest --numprocesses 1 $(WAITING)

test-networks:
	$(PY) -m pytest --numprocesses 1 $(NETWORKS)

test-rest:
	$(IDLE) $(PY) -m pytest $(THREE) $(BESIDE) $(INTERFACE) $(CORE)

test-unwatched:
	$(IDLE) $(PY) -m pytest $(THREE) $(BESIDE) -m no_cover $(INTERFACE) $(UNWATCHED_CORE)

# The core and the formats by their own tests, which run through at least nine branches in ten, or it fails. Being watched halves
# the speed: the long ones, and those of the interface (`no_cover`), run beside them unwatched.
coverage: .make/python .make/system
	$(IDLE) $(PY) -m pytest --numprocesses 1 $(BESIDE) -m "not no_cover" --cov --cov-report=term-missing:skip-covered $(CORE)

# The seeded suites at their full size, of which `make test` runs a part (tests/soak.py): 500 sound shows, each broken in every way
# it can be; 400 networks held against the kernel's; a server killed at many more moments; the largest plan; every show from nothing.
soak: .make/python .make/frontend .make/system
	SOAK=1 $(PY) -m pytest $(ON_ALL_CORES) tests/core/judgement/test_breaking.py tests/core/allocation tests/core/measurements tests/core/reach/test_kernel.py tests/core/signal/test_finder.py tests/formats/test_mutated.py tests/web/test_killed.py tests/web/test_crowd.py tests/web/test_outlived.py tests/web/test_bounds.py tests/browser

# The wheel in an empty environment elsewhere: front end and data are in it, or this fails.
wheel: .make/python .make/frontend
	$(PY) -m tools.try_wheel

# Within a minute, while working: what the core and the formats say of themselves, and the types.
check: .make/python .make/node
	$(PY) -m ruff check . && $(PY) -m mypy && cd frontend && tsc --noEmit
	$(PY) -m pytest $(ON_ALL_CORES) $(BESIDE) --ignore tests/formats/test_mutated.py tests/core tests/formats

bench: .make/python .make/frontend .make/system
	PYTHONPATH=. $(PY) benchmarks/run.py

lint: .make/python .make/node
	$(PY) -m ruff format --check .
	$(PY) -m ruff check .
	$(PY) -m mypy
	.venv/bin/lint-imports --no-logo
	cd frontend && tsc --noEmit && biome check --error-on-warnings .

# The API's types are generated; this fails when they no longer match the API.
check-types: types
	git diff --exit-code -- frontend/src/api/schema.d.ts frontend/src/api/form.ts frontend/src/api/vocabulary.ts docs/plan.schema.json docs/house.md docs/checks.md docs/examples.md

types: .make/python .make/node
	$(PY) -m humble_relay.web.generated_documents .make/openapi.json docs/plan.schema.json frontend/src/api/form.ts frontend/src/api/vocabulary.ts
	$(PY) -m tools.house
	$(PY) -m tools.questions
	$(PY) -m tools.examples
	cd frontend && openapi-typescript ../.make/openapi.json -o src/api/schema.d.ts >/dev/null

build: .make/frontend

dev: .make/python .make/node
	trap 'kill 0' EXIT; .venv/bin/uvicorn --factory humble_relay.cli:dev_app --port 8117 --reload --reload-dir src & cd frontend && vite

.make/python: pyproject.toml requirements.txt
	@mkdir -p .make
	@python3 -c 'import venv, ensurepip' 2>/dev/null || ($(SUDO) apt-get update -qq && $(SUDO) apt-get install -y -qq python3-venv)
	test -x $(PY) || python3 -m venv .venv
	$(PY) -m pip install --quiet --disable-pip-version-check -r requirements.txt
	$(PY) -m pip install --quiet --disable-pip-version-check --no-deps --editable .
	@touch $@

.make/node: frontend/package.json frontend/package-lock.json
	@mkdir -p .make
	cd frontend && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

.make/frontend: .make/node $(shell find frontend/src frontend/public frontend/index.html frontend/vite.config.ts frontend/tsconfig.json -type f 2>/dev/null)
	cd frontend && tsc --noEmit && vite build --logLevel warn
	@touch $@

.make/system:
	@mkdir -p .make
	@if ! (PATH=$$PATH:/usr/sbin:/sbin; for tool in $(SYSTEM_TOOLS); do command -v $$tool >/dev/null || exit 1; done); then \
	  $(SUDO) apt-get update -qq && $(SUDO) DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $(SYSTEM_PACKAGES) >/dev/null; fi
	@touch $@

clean:
	rm -rf .make .venv frontend/node_modules src/humble_relay/web/static
