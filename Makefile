# The two commands a newcomer needs are `make demo` and `make test`.
PYTHON ?= python3
PORT ?= 8000
BIN := .venv/bin
VENDOR := frimble/ui/static/ui/vendor

.PHONY: demo test test-fast test-postgres lint serve lock vendor screenshots browser-tools

demo: .venv/run-time
	FRIMBLE_VAR=var/demo $(BIN)/python manage.py serve --scenario --port $(PORT)

serve: .venv/run-time
	$(BIN)/python manage.py migrate --verbosity 0
	$(BIN)/python manage.py serve --port $(PORT)

# Two processes for each suite: they share nothing but the machine.
test: .venv/dev browser-tools lint
	$(BIN)/python manage.py makemigrations --check --dry-run
	$(BIN)/python manage.py test --noinput --parallel 2 frimble

# The core and the places, without a browser and without the slow photos, films and made-up shop.
FAST := $(addprefix frimble.,core.tests core.mesh core.tension core.coating core.emulsion core.press core.stencil \
  core.storage people ui screens jobs stencils press server testing.tests)
test-fast: .venv/dev lint
	$(BIN)/python manage.py test --noinput --parallel 2 $(FAST)

# The same tests on PostgreSQL, in a cluster made for them; wants Debian's package postgresql.
test-postgres: .venv/dev browser-tools
	frimble/testing/on_postgres.sh $(BIN)/python manage.py test --noinput frimble.people frimble.screens frimble.films \
	  frimble.coatings frimble.exposures frimble.stencils frimble.press frimble.jobs frimble.exchange frimble.server.tests.test_https \
	  frimble.server.tests.test_serve frimble.demo frimble.ui frimble.testing.browser.test_loop

lint: .venv/dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/lint-imports
	$(BIN)/mypy
	$(BIN)/djlint frimble --lint --quiet

# Debian's Chromium and its driver; elsewhere install both by hand.
browser-tools:
	@command -v chromium >/dev/null && command -v chromedriver >/dev/null \
	  || { apt-get update -qq && apt-get install -y -qq chromium chromium-driver; } \
	  || { echo "Browser tests need chromium and chromedriver on the path." >&2; exit 1; }

.venv/run-time: requirements.txt
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --require-hashes -r requirements.txt
	touch $@

.venv/dev: requirements-dev.txt
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --require-hashes -r requirements-dev.txt
	touch $@ .venv/run-time

COMPILE := $(BIN)/pip-compile --quiet --generate-hashes --no-emit-index-url --strip-extras
lock:
	$(COMPILE) --output-file requirements.txt requirements.in
	$(COMPILE) --allow-unsafe --output-file requirements-dev.txt requirements-dev.in

# Copies the shipped files of the packages in package.json; source-map comments go, the maps are not shipped.
vendor:
	npm install --no-package-lock --ignore-scripts --silent
	mkdir -p $(VENDOR)/bootstrap $(VENDOR)/alpine $(VENDOR)/atkinson $(VENDOR)/qr frimble/testing/browser/vendor
	for part in reboot grid utilities; do \
	  sed '/sourceMappingURL/d' node_modules/bootstrap/dist/css/bootstrap-$$part.min.css > $(VENDOR)/bootstrap/bootstrap-$$part.min.css; done
	cp node_modules/bootstrap/LICENSE $(VENDOR)/bootstrap/
	cp node_modules/@alpinejs/csp/dist/cdn.min.js $(VENDOR)/alpine/alpine-csp.min.js
	cp docs/licences/alpine.txt $(VENDOR)/alpine/LICENSE
	cp node_modules/qr/decode.js node_modules/qr/index.js $(VENDOR)/qr/
	cp node_modules/qr/LICENSE-MIT $(VENDOR)/qr/LICENSE
	cp node_modules/@fontsource-variable/atkinson-hyperlegible-next/files/*-normal.woff2 $(VENDOR)/atkinson/
	cp node_modules/@fontsource-variable/atkinson-hyperlegible-next/LICENSE $(VENDOR)/atkinson/
	cp node_modules/axe-core/axe.min.js node_modules/axe-core/LICENSE frimble/testing/browser/vendor/

# Redraws docs/screenshots from the demo data.
screenshots: .venv/dev browser-tools
	$(BIN)/python manage.py test frimble.testing.browser.screenshots
