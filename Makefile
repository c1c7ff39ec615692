.PHONY: compiled tests mutants wheel load load-postgres test-postgres demo test test-front setup dev bench torture lint lint-python lint-front generate browser clean
SHELL := /bin/bash
PYTHON ?= python3
BIN := .venv/bin
PORT ?= 8340
DATA ?= data
# what Python compiles is kept: it is half of a start
unexport PYTHONDONTWRITEBYTECODE
export PIP_DISABLE_PIP_VERSION_CHECK := 1
MAKEFLAGS += -j3 # the front end, Python's packages and compiling wait for one another no longer than they must
# what only tests and checks of the interface need is installed for them alone
NODE := $(if $(filter-out demo setup dev wheel,$(or $(MAKECMDGOALS),demo)),.setup/node-all,.setup/node)

demo: setup
	@ASPECTUM_DATA=$(DATA) $(BIN)/aspectum serve --port $(PORT) --demo

setup: .setup/run .setup/front

.setup/run: requirements.txt requirements-installer.txt pyproject.toml
	@mkdir -p .setup
	@test -x $(BIN)/python || tools/step.sh "an environment for Python" $(PYTHON) -m venv .venv
	@tools/step.sh "an installer" $(BIN)/pip install -q --require-hashes -r requirements-installer.txt || true
	@tools/step.sh "Python's packages" tools/install.sh --require-hashes -r requirements.txt
	@tools/step.sh "Aspectum itself" tools/install.sh --no-deps -e .
	@$(BIN)/python -m compileall -q aspectum
	@touch $@

# machine code for the core's loops; whoever only serves has it made beside the first page
compiled: .setup/run
	@tools/step.sh "machine code" $(BIN)/python -m aspectum.machine_code

.setup/dev: .setup/run requirements-dev.txt
	@tools/step.sh "packages of the tests" tools/install.sh --require-hashes -r requirements-dev.txt
	@touch $@

.setup/node: frontend/package-lock.json frontend/.npmrc
	@mkdir -p .setup
	@cd frontend && ../tools/step.sh "packages of the interface" npm ci --omit=dev --no-audit --no-fund --loglevel=error
	@touch $@

.setup/node-all: frontend/package-lock.json frontend/.npmrc
	@mkdir -p .setup
	@cd frontend && ../tools/step.sh "packages of the interface and its tests" npm ci --no-audit --no-fund --loglevel=error
	@touch .setup/node $@

.setup/front: $(NODE) $(shell find frontend/src -type f) frontend/index.html frontend/vite.config.ts
	@cd frontend && ../tools/step.sh "the interface" npm run --silent build -- --logLevel warn
	@touch $@

# the headless shell: the browser itself draws a window of its own around every page, which takes three times the processor
browser:
	@command -v chromium-headless-shell >/dev/null || tools/step.sh "a browser" bash -c ' \
	  SUDO=$$([ "$$(id -u)" = 0 ] || echo sudo); \
	  $$SUDO apt-get update -qq && $$SUDO apt-get install -y -qq --no-install-recommends chromium chromium-headless-shell'

test: lint test-front tests

# two processes on two processors: type checkers, which begin beside them, end long before
tests: setup .setup/dev browser compiled
	$(BIN)/pytest -n 2 --dist worksteal --durations=10

test-front: setup
	cd frontend && npm run --silent test

lint: lint-python lint-front

lint-python: .setup/run .setup/dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy

lint-front: setup
	cd frontend && npm run --silent check
	@bash tools/check_generated.sh

generate: setup
	$(BIN)/aspectum generate --demo
	cd frontend && npm run --silent generate

# a detector to compare with; it asks for a build of OpenCV that would lie over ours, and is laid beside it
.setup/two-line: .setup/dev tools/finding/two-line.txt
	$(BIN)/pip install -q --no-deps --require-hashes --target $@ -r tools/finding/two-line.txt
	@touch $@

bench: setup .setup/dev .setup/two-line compiled
	# the algebra on one thread, as the command runs it
	OPENBLAS_NUM_THREADS=1 OMP_NUM_THREADS=1 MKL_NUM_THREADS=1 $(BIN)/python -m tests.bench $(if $(SEED),--seed $(SEED))
	SAMPLES=full SEEDS=free $(BIN)/pytest -n 2 --dist worksteal tests/core tests/outside tests/test_*.py

# small errors put in one at a time, and whether a test notices; MUTANTS adds options, such as MUTANTS="--count 100"
mutants: setup .setup/dev compiled
	$(BIN)/python -m tests.mutants $(MUTANTS)

torture: setup .setup/dev compiled
	$(BIN)/python -m tests.torture

# a class at work for ten minutes; LOAD adds options, such as LOAD="--seconds 60"
load: setup .setup/dev compiled
	$(BIN)/python -m tests.load $(LOAD)

# the same on PostgreSQL, by two servers with a hundred students
load-postgres: setup .setup/dev compiled
	bash tools/with_postgres.sh ASPECTUM_DATABASE_URL $(BIN)/python -m tests.load --servers 2 --students 100 $(LOAD)

# a connection that a test leaves open is closed with its database, whatever Python warns of
test-postgres: setup .setup/dev compiled
	bash tools/with_postgres.sh ASPECTUM_TEST_SERVER $(BIN)/pytest -n 3 --dist worksteal -W ignore::pytest.PytestUnraisableExceptionWarning tests/store tests/service tests/web

dev: setup
	@trap 'kill 0' EXIT; ASPECTUM_DATA=$(DATA) $(BIN)/aspectum serve --port 8340 --demo & cd frontend && npm run dev

# one file that holds the interface too: a school installs it with pip alone; proved in an environment of its own
wheel: setup .setup/dev
	rm -rf build dist
	$(BIN)/python -m build --wheel --outdir dist .
	bash tools/check_wheel.sh dist/*.whl

clean:
	rm -rf build dist .venv .setup frontend/node_modules aspectum/web/app
