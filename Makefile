# `make demo` starts the application with the demonstration plan; `make test` checks the style and runs every test.
# Each set-up step leaves a stamp named by the hash of its inputs, inside what it made, so a second run is quick.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
PORT ?= 8420
DATA ?= data

hash = $(shell cat $(1) | sha256sum | cut -c1-16)
FRONT := $(shell find frontend/src frontend/index.html frontend/public frontend/*.json frontend/*.ts -type f 2>/dev/null | sort) reamer/core/tables/units.json docs/guide.md docs/checks.md
PYTHON := reamer tests bench docs
RUNTIME := .venv/.runtime-$(call hash,requirements.lock pyproject.toml)
TESTING := .venv/.testing-$(call hash,requirements.lock requirements-test.lock pyproject.toml)
MODULES := frontend/node_modules/.stamp-$(call hash,frontend/package-lock.json)
STATIC := reamer/web/static/.stamp-$(call hash,$(FRONT))

.PHONY: demo test test-long checks check check-types check-form check-front fix build types bench dist chromium clean

demo: $(RUNTIME) build
	@mkdir -p $(DATA)
	.venv/bin/reamer serve --demo --open --port $(PORT) --database $(DATA)/plans.sqlite3

# What a run compiled is not compiled again by the next process.
unexport PYTHONDONTWRITEBYTECODE

test: check build chromium
	.venv/bin/python -W error::ResourceWarning -m tests

# Every law on ten times as many examples, fresh ones: an hour or more.
test-long: check build chromium
	.venv/bin/python -W error::ResourceWarning -m tests --long

# What was checked against what, written anew from the tests that hold such checks.
checks: $(TESTING)
	.venv/bin/python -W ignore docs/checks.py

# What a reviewer would catch: form, likely bugs, types, the layers, the figure of them, the share of the tests. Python's
# half and the front end's run side by side.
check: $(TESTING) $(MODULES)
	@$(MAKE) --no-print-directory -j3 check-types check-form check-front

check-types:
	.venv/bin/mypy

check-form:
	.venv/bin/ruff format -q --check $(PYTHON)
	.venv/bin/ruff check -q $(PYTHON)
	.venv/bin/lint-imports
	.venv/bin/python docs/architecture.py --check
	.venv/bin/python -m tests.share
	.venv/bin/python -m unittest -q tests.core.test_house.Size

check-front:
	cd frontend && npm run -s check

fix: $(TESTING) $(MODULES)
	.venv/bin/ruff check -q --fix $(PYTHON)
	.venv/bin/ruff format -q $(PYTHON)
	.venv/bin/python docs/architecture.py
	cd frontend && npm run -s fix

# A wheel that holds the built front end, the migrations, the tables and the demonstrations.
dist: $(RUNTIME) build
	rm -rf build dist
	.venv/bin/python -m pip wheel -q --disable-pip-version-check --no-deps --no-build-isolation -w dist .

build: $(STATIC)

types: $(RUNTIME) $(MODULES)
	.venv/bin/python -m reamer.web.typescript frontend/src/api/types.gen.ts

bench: $(TESTING) build chromium
	.venv/bin/python -m bench

clean:
	rm -rf .venv frontend/node_modules reamer/web/static

$(RUNTIME): | .venv/bin/python
	.venv/bin/python -m pip install -q --disable-pip-version-check -r requirements.lock
	.venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
	touch $@

$(TESTING): $(RUNTIME)
	.venv/bin/python -m pip install -q --disable-pip-version-check -r requirements-test.lock
	touch $@

.venv/bin/python:
	python3 -m venv .venv || { $(SUDO) apt-get update -q && $(SUDO) apt-get install -y -q python3-venv && python3 -m venv .venv; }

$(MODULES): frontend/package-lock.json
	# Not `npm ci`: it refuses a lock file that leaves out other platforms' optional packages. The pins hold all the same.
	cd frontend && npm install --no-save --no-fund --no-audit
	touch $@

$(STATIC): $(MODULES)
	cd frontend && npm run -s build
	touch $@

SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)
chromium:
	@[ -x /usr/bin/chromium ] && [ -x /usr/bin/chromium-headless-shell ] || { $(SUDO) apt-get update -q && $(SUDO) apt-get install -y -q chromium chromium-headless-shell; }
