# Tight Seam. `make demo` starts it with the demo cast, `make test` runs every check.
MAKEFLAGS += --jobs=2
PORT ?= 8000
PYTHON ?= python3.11
VENV = .venv
RUN = $(VENV)/bin/python
MANAGE = $(RUN) server/manage.py
WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/package.json web/vite.config.ts

.PHONY: setup demo dev test pytest vitest lint bench coverage record client confidence plantings kill-test screenshots notices clean

setup: $(VENV)/.ready web/dist/index.html  ## everything but the data

$(VENV)/.ready: requirements.lock pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(RUN) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements.lock
	$(RUN) -m pip install --quiet --disable-pip-version-check --no-deps --editable .
	$(RUN) -c "from tightseam.deform.backend import load_compiled; load_compiled()"
	touch $@

web/node_modules/.ready: web/package.json web/package-lock.json
	cd web && npm ci --no-fund --no-audit --loglevel=error
	touch $@

web/dist/index.html: web/node_modules/.ready $(WEB_SOURCES)
	cd web && npm run --silent build -- --logLevel warn
	touch $@

demo: setup  ## the running application with the demo cast
	$(MANAGE) serve --demo --port $(PORT)

dev: setup  ## the same with hot reload of the front end, on port 5173
	(cd web && PORT=$(PORT) npx vite) & $(MANAGE) serve --demo --port $(PORT); kill %1

lint: setup
	$(VENV)/bin/ruff check .
	$(VENV)/bin/ruff format --check .
	$(VENV)/bin/mypy
	PYTHONPATH=server $(VENV)/bin/lint-imports
	cd web && npm run --silent types && npm run --silent lint
	$(MANAGE) makemigrations --check --dry-run --verbosity 0
	sh scripts/client-is-current.sh
	$(RUN) scripts/notices.py --check

client: $(VENV)/.ready web/node_modules/.ready  ## the TypeScript client from the API's OpenAPI document
	$(MANAGE) write_openapi
	cd web && npm run --silent client

test: lint vitest pytest  ## linters, type checks and all tests, the browser included

pytest: setup
	sh scripts/install-chromium.sh
	$(RUN) -m tests.cast
	$(RUN) -m pytest -n 2 --no-loadscope-reorder --durations=20

vitest: setup
	cd web && npm run --silent test

coverage: setup  ## of lines of the core and the server, by all tests but the browser's
	$(RUN) -m coverage run -m pytest --ignore tests/browser
	$(RUN) -m coverage report

record: setup  ## take the record of what the core computes anew, where a change of it is meant
	$(RUN) -m tests.record

confidence: setup  ## how sure suggested landmarks are, fitted anew on distorted heads
	PYTHONPATH=. $(RUN) scripts/calibrate_landmarks.py

plantings: setup  ## two hundred faults planted at random, and found
	TIGHT_SEAM_PLANTINGS=201 $(RUN) -m pytest tests/core/test_mix_plantings.py

kill-test: setup  ## a thousand kills in the middle of edits
	TIGHT_SEAM_KILLS=1000 $(RUN) -m pytest tests/server/test_kill.py

bench: setup  ## ratios against named references, in one run
	$(RUN) -m benchmarks

notices: setup  ## THIRD-PARTY.md from what is installed
	$(RUN) scripts/notices.py

screenshots: setup  ## refresh docs/screenshots from the demo; ONLY="lids jaw" for some
	$(RUN) scripts/screenshots.py $(ONLY)

clean:
	rm -rf $(VENV) web/node_modules web/dist var
