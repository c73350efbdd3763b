# make demo: build and start Turret with made-up data.   make test: install what is needed and run every test.
# make check: make test, what style and slips ask, and once more with the race detector what many do at once.
SHELL := /bin/bash
.ONESHELL:
.SHELLFLAGS := -eu -o pipefail -c
# Debian's Chromium without a window draws a page in two thirds of the time that the whole one takes.
HEADLESS := /usr/bin/chromium-headless-shell
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)
BUILT := internal/web/assets/dist/manifest.json
# One way to compile for the program, its tests and what reads its types, so that nothing is compiled twice.
export CGO_ENABLED := 0
export GOFLAGS := $(strip $(GOFLAGS) -trimpath)

.PHONY: demo build test check unit race e2e lint format bench steady mutants days faults chromium calc assets screenshots clean

demo: build
	bin/turret demo $(if $(ADDR),--addr $(ADDR))

build: assets
	go build -o bin/turret ./cmd/turret

assets: $(BUILT)

node_modules/.package-lock.json: package.json package-lock.json
	npm ci --no-audit --no-fund --loglevel=error
	touch $@

$(BUILT): node_modules/.package-lock.json $(shell find internal/web/assets/js internal/web/assets/scss internal/web/assets/*.* internal/scene/colours.json -type f)
	npm run --silent build

test: unit e2e

check: lint race test

# Style and slips: Go by .golangci.yml, scripts and styles by eslint, stylelint and prettier, templates by tools/templates.
lint: assets
	go tool -modfile=tools/lint/go.mod golangci-lint run ./...
	npm run --silent lint
	go run ./tools/templates -check internal/web/*/templates/*.html

# make lint vets. What takes longest begins first, so that nothing is waited for at the end; memory is collected less often, and what only a
# debugger reads is not linked.
unit: assets calc
	GOGC=300 go test -vet=off -ldflags='-s -w' ./tools/steady ./internal/seal ./internal/web ./cmd/turret ./...

# Tests in which many ask and write at once, with the race detector; it makes the database ten times slower, so the others go without.
race: assets
	if ! command -v gcc >/dev/null; then $(SUDO) apt-get update -qq; $(SUDO) apt-get install -y -qq gcc libc6-dev; fi
	CGO_ENABLED=1 go test -race -vet=off -run 'Once|Turn|Loading|Body|Hurry|Progress|Load$$' ./internal/app ./internal/app/access ./internal/app/assess ./internal/app/edit \
		./internal/app/gather ./internal/app/job ./internal/app/load ./internal/session ./internal/store ./internal/web

# Puts sources in the form that make lint expects.
format:
	go tool -modfile=tools/lint/go.mod golangci-lint fmt ./...
	npm run --silent format
	go run ./tools/templates internal/web/*/templates/*.html

e2e: build chromium bin/demo.db
	npm run --silent e2e

# What the servers of the browser tests begin with, made once.
.PHONY: bin/demo.db
bin/demo.db: build
	rm -f bin/demo.db
	bin/turret demo --save bin/demo.db

chromium:
	if [ -z "$${CHROMIUM:-}" ] && [ ! -x $(HEADLESS) ]; then
		$(SUDO) apt-get update -qq || true
		$(SUDO) apt-get install -y -qq chromium-headless-shell || [ -x /usr/bin/chromium ]
	fi

# LibreOffice computes exported workbooks again, to see that their formulas come to the same cents.
calc:
	if ! command -v soffice >/dev/null; then $(SUDO) apt-get update -qq; $(SUDO) apt-get install -y -qq --no-install-recommends libreoffice-calc-nogui; fi

# Figures for docs/performance.md; nothing fails on a time.
bench: build
	go test -run '^$$' -bench . -benchtime 3x ./internal/core/schedule ./internal/core/forecast ./internal/core/selection ./internal/store \
		./internal/web ./internal/report

# A large file in use for an hour: figures and their drawing go to steady/.
steady: build
	go run ./tools/steady

# Plants faults one at a time and runs the tests of their package; the table goes to docs/mutants.md.
mutants: assets
	go run ./tools/mutants -out docs/mutants.md

# All tests once more with the machine's clock at other days: of Go by a standard library whose clock is off, of the browser by its Date.
DAYS ?= 2026-12-31 2028-02-29 2030-01-01
days: assets calc chromium
	for day in $(DAYS); do
		echo "the machine's day is $$day"
		overlay=$$(go run ./tools/days $$day $$(date -u +%F))
		GOFLAGS="$(GOFLAGS) -overlay=$$overlay" TURRET_DAY=$$day $(MAKE) unit e2e
	done
	$(MAKE) build

# Known faults of what is built on. It asks for data over the network, which make test must not need.
faults:
	go run golang.org/x/vuln/cmd/govulncheck@v1.9.0 ./...
	npm audit

# The pictures of docs/screenshots, from the demonstration.
screenshots: build chromium bin/demo.db
	SCREENSHOTS=1 npm run --silent e2e -- screenshots

clean:
	rm -rf bin node_modules test-results playwright-report
