# `make demo` starts the application with the demonstration plan; `make test` runs every test.
# Each set-up step leaves a stamp named by the hash of its inputs, inside what it made, so a second run is quick.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
PORT ?= 8420
DATA ?= data

hash = $(shell cat $(1) | sha256sum | cut -c1-16)
FRONT := $(shell find frontend/src frontend/index.html frontend/public frontend/*.json frontend/*.ts -type f 2>/dev/null | sort) reamer/core/tables/units.json
RUNTIME := .venv/.runtime-$(call hash,requirements.lock pyproject.toml)
TESTING := .venv/.testing-$(call hash,requirements.lock requirements-test.lock pyproject.toml)
MODULES := frontend/node_modules/.stamp-$(call hash,frontend/package-lock.json)
STATIC := reamer/web/static/.stamp-$(call hash,$(FRONT))

.PHONY: demo test build types bench chromium clean

demo: $(RUNTIME) build
	@mkdir -p $(DATA)
	.venv/bin/reamer serve --demo --port $(PORT) --database $(DATA)/plans.sqlite3

test: $(TESTING) build chromium
	cd frontend && npm run -s check
	.venv/bin/python -W error::ResourceWarning -m tests

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
	@[ -x /usr/bin/chromium ] || { $(SUDO) apt-get update -q && $(SUDO) apt-get install -y -q chromium; }
