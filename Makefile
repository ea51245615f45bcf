# Two commands do all the set-up: `make demo` and `make test`.

PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
DONE := .make
SCREENSHOTS := docs/screenshots

.PHONY: demo test soak mutation check console screenshots wheel sbom size clean bench

demo: $(DONE)/python $(DONE)/console
	$(BIN)/tallshelf demo --data .demo

test: check $(DONE)/chromium
	cd console && npm run --silent test
	$(BIN)/pytest -n 3

# The kill and load tests whole: 300 acts under kills, 64 readers and 8 writers, 200 requests an endpoint; slow peers,
# a full disk, a restore.
soak: $(DONE)/python $(DONE)/console
	TALLSHELF_SOAK=1 $(BIN)/pytest -q tests/e2e/test_killed.py tests/e2e/test_under_load.py tests/e2e/test_any_request.py tests/e2e/test_slow_peers.py tests/e2e/test_full_disk.py tests/e2e/test_restoring.py

# Do the tests bite? Mutants of what decides, and which of them no test finds. About half an hour.
SEED ?= 7
mutation: $(DONE)/python
	$(BIN)/pytest -p no:xdist -p no:cacheprovider -p tests.mutation.plugin --seed $(SEED) -o addopts= -q tests/core tests/service

check: $(DONE)/python $(DONE)/console
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/lint-imports
	$(BIN)/mypy
	$(BIN)/python -m django makemigrations --check --dry-run --settings tallshelf.service.settings
	$(BIN)/python docs/write_tables.py --check
	$(BIN)/python docs/write_client.py --check
	cd console && npm run --silent lint && npm run --silent types && npm run --silent api -- --check

console: $(DONE)/console

wheel: $(DONE)/python $(DONE)/console
	rm -rf dist
	$(BIN)/python -m build --wheel --outdir dist .

# Bills of materials (CycloneDX) of what an installed service consists of.
sbom: $(DONE)/console
	rm -rf build/sbom && mkdir -p dist
	$(PYTHON) -m venv build/sbom/tools && build/sbom/tools/bin/pip install --quiet --disable-pip-version-check --requirement packaging/sbom-tools.txt
	$(PYTHON) -m venv --without-pip build/sbom/service
	build/sbom/tools/bin/pip --python build/sbom/service/bin/python install --quiet --disable-pip-version-check --constraint constraints.txt '.[service]'
	build/sbom/tools/bin/cyclonedx-py environment --pyproject pyproject.toml --output-file dist/sbom-service.json build/sbom/service/bin/python
	cd console && npm sbom --sbom-format cyclonedx --omit dev > ../dist/sbom-console.json

screenshots: $(DONE)/python $(DONE)/console $(DONE)/chromium
	$(BIN)/python docs/take_screenshots.py $(SCREENSHOTS)

bench: $(DONE)/python
	$(BIN)/python bench/help_time.py
	$(BIN)/python bench/commands.py
	$(BIN)/python bench/server_list.py
	$(BIN)/python bench/search.py
	$(BIN)/python bench/compare.py
	$(BIN)/python bench/style.py
	$(BIN)/python bench/words.py
	$(BIN)/python bench/overlap.py
	$(BIN)/python bench/requests_queue.py
	$(BIN)/python bench/entitled.py
	$(BIN)/python bench/hostile.py
	$(BIN)/python bench/kits.py
	$(BIN)/python bench/scale.py

size: $(DONE)/console
	@$(PYTHON) bench/size.py

clean:
	rm -rf $(DONE) $(VENV) dist build .demo console/node_modules src/tallshelf/service/static/console console/src/letters
	find . -name __pycache__ -prune -exec rm -rf {} +

# What is installed or built once, and again when its inputs change.

export TALLSHELF_DATA := $(CURDIR)/$(DONE)/check-data
# Images that set this for their own sake would have every command, of which the tests run hundreds, compile all anew.
unexport PYTHONDONTWRITEBYTECODE

$(DONE)/python: pyproject.toml constraints.txt
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check --constraint constraints.txt --editable '.[dev]'
	mkdir -p $(DONE) && touch $@

$(DONE)/npm: console/package.json console/package-lock.json
	cd console && npm ci --no-audit --no-fund
	mkdir -p $(DONE) && touch $@

$(DONE)/console: $(DONE)/npm $(shell find console/src -type f) console/index.html console/letters.ts console/vite.config.ts
	cd console && npm run --silent build
	touch $@

$(DONE)/chromium:
	command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium fonts-liberation)
	mkdir -p $(DONE) && touch $@
