# Two commands matter: `make demo` and `make test`. Both do all the set-up a fresh Debian 12
# machine with Python 3.11 and Node 20 needs, and are quick the second time.
SHELL := /bin/bash
.DEFAULT_GOAL := help
PY := .venv/bin/python
export NUMBA_THREADING_LAYER := omp
export NUMBA_CACHE_DIR := $(CURDIR)/.var/numba
STAMP := .make
SYSTEM_PACKAGES := mariadb-server-core mariadb-client-core mariadb-client chromium libgomp1 fonts-dejavu-core
WEB_SOURCES := $(shell find web/src -type f 2>/dev/null) web/index.html web/package.json web/vite.config.ts web/tsconfig.json

.PHONY: help demo test setup build lint unit e2e explore bench shots schema types lock dev clean

help: ## Show the commands
	@grep -hE '^[a-z0-9]+:.*## ' $(MAKEFILE_LIST) | sed 's/:.*## /\t/' | expand -t 12

demo: setup build ## Set up, build, and serve with the demo jobs on http://127.0.0.1:8420
	$(PY) -m tools.serve

test: setup lint build unit e2e ## Everything CI runs

setup: $(STAMP)/system $(STAMP)/python $(STAMP)/web $(STAMP)/kernels ## System packages, virtual environment, node modules, kernels

$(STAMP)/system: Makefile
	@mkdir -p $(STAMP)
	@missing=""; for p in $(SYSTEM_PACKAGES); do dpkg -s $$p >/dev/null 2>&1 || missing="$$missing $$p"; done; \
	if [ -n "$$missing" ]; then \
	  echo "Installing Debian packages that are missing:$$missing"; \
	  sudo=""; [ "$$(id -u)" = 0 ] || sudo=sudo; \
	  $$sudo apt-get update -qq && DEBIAN_FRONTEND=noninteractive $$sudo apt-get install -y -qq --no-install-recommends $$missing >/dev/null; \
	fi
	@python3 -m ensurepip --version >/dev/null 2>&1 || { echo "Installing Debian package: python3-venv"; \
	  sudo=""; [ "$$(id -u)" = 0 ] || sudo=sudo; \
	  $$sudo apt-get update -qq && DEBIAN_FRONTEND=noninteractive $$sudo apt-get install -y -qq --no-install-recommends python3-venv >/dev/null; }
	@touch $@

$(STAMP)/python: requirements/dev.lock pyproject.toml | $(STAMP)/system
	@mkdir -p $(STAMP)
	test -x $(PY) || python3 -m venv .venv
	.venv/bin/pip install -q --disable-pip-version-check --no-deps --require-hashes -r requirements/dev.lock
	.venv/bin/pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e . 
	@touch $@

$(STAMP)/web: web/package-lock.json
	@mkdir -p $(STAMP)
	cd web && npm ci --silent
	@touch $@

# What is compiled is kept by the file it stands in, and a file does not know that one it calls has changed:
# a change of any compiles all anew.
KERNELS := $(shell grep -ls "from numba" src/heathrise/core/radio/*.py)
$(STAMP)/kernels: $(KERNELS) $(STAMP)/python
	@mkdir -p $(STAMP)
	@rm -rf $(NUMBA_CACHE_DIR)
	@$(PY) -m tools.warm
	@touch $@

build: web/dist/index.html ## Build the front end

web/dist/index.html: $(WEB_SOURCES) $(STAMP)/web
	cd web && npm run --silent build

lint: setup ## Ruff, mypy, import floors, drift of types and schema, ESLint, vue-tsc, Vitest
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports
	$(PY) -m tools.drift
	cd web && npm run --silent lint && npm run --silent check && npm run --silent test

unit: setup ## Core, store, exchange and API tests
	.venv/bin/pytest tests -m "not e2e" -n 2

explore: setup ## Properties on examples nobody has seen yet; not part of the tests
	HYPOTHESIS_PROFILE=explore .venv/bin/pytest tests -m "not e2e" -n 2 -k "any or never or always or same or nothing or every"

e2e: setup build ## The built application in a real browser
	.venv/bin/pytest tests/e2e -m e2e -n 2 --dist loadfile

schema types: setup ## Write docs/job.schema.json, web/openapi.json and the TypeScript types
	$(PY) -m tools.drift --write

bench: setup build ## Timings as ratios, written to docs/performance.md
	$(PY) -m benchmarks

shots: setup build ## Pictures of each main view into docs/screenshots/
	$(PY) -m tools.shots

dev: setup ## Vite with hot reload in front of a running `make demo`
	cd web && npm run dev

lock: ## Compile the lock files anew
	.venv/bin/pip install -q uv
	for f in base cluster dev; do .venv/bin/uv pip compile -q --upgrade --override requirements/override.txt --generate-hashes --no-header --no-emit-index-url --python-version 3.11 requirements/$$f.in -o requirements/$$f.lock; done

clean: ## Remove what was built and the demo's database
	rm -rf $(STAMP) .venv .var web/dist web/node_modules
