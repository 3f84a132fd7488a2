# Jet Primer. `make demo` runs it; `make test` proves it.
SHELL := /bin/bash
.SHELLFLAGS := -euo pipefail -c
.DEFAULT_GOAL := help
.DELETE_ON_ERROR:

GO_FILES := $(shell find . -name '*.go' -not -path './web/node_modules/*')
WEB_FILES := $(shell find web -not -path 'web/node_modules/*' -not -path 'web/dist/*' -type f)
RULES := web/src/rules/rules.wasm
LESSON := web/src/rules/lesson.wasm
# What is built is the same wherever it lies, and is compiled once for the program
# and for its tests.
export GOFLAGS := -trimpath -tags=nomsgpack
export CGO_ENABLED := 0
VERSION := $(shell git describe --tags --always --dirty 2>/dev/null || echo development)
LINK := -s -w -X jetprimer/server.Version=$(VERSION)
API := web/src/schema/openapi.json

# What is independent of one another runs side by side: Debian's packages, the
# screens' packages, the rules and the program.
ALONGSIDE := $(MAKE) --no-print-directory -j4

.PHONY: help demo run test race fault-injection lint build bench fuzz release screenshots setup clean

help: ## what can be made
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/'

demo: ## run the invented school on http://127.0.0.1:8080
	@$(ALONGSIDE) setup build
	bin/jetprimer demo

run: ## run a school of one's own, begun on its first page, on http://127.0.0.1:8080
	@$(ALONGSIDE) setup build
	bin/jetprimer up

# The tests in which things happen at once.
AT_ONCE := LongDraft|Queue|Simultaneous|Invited|SignIn|Feed|Slow|Batches|OpenedOnce|TheStation|SentTwice

# Lint has vetted what the tests are of; those of the screens wait more than they work.
test: ## prove everything
	@$(ALONGSIDE) setup-test build
	@$(MAKE) --no-print-directory -j2 lint test-packages test-web
	go test -vet=off -timeout 20m -parallel 4 ./e2e

race: setup-test build ## what happens at once, watched for races
	CGO_ENABLED=1 go test -vet=off -timeout 20m -race -run '$(AT_ONCE)' ./store ./server/...

fault-injection: setup-test build ## break program, database, disk and clock under twenty devices, 60 times
	JETPRIMER_FAULT_ROUNDS=60 go test -vet=off -timeout 20m -count=1 -v -run 'Faults|History' ./faultinjection

.PHONY: test-packages
test-packages:
	go test -vet=off -timeout 20m $$(go list ./... | grep -v -E '^jetprimer/e2e$$')

.PHONY: test-web
test-web: web/dist/index.html.br
	cd web && npm test --silent

build: bin/jetprimer ## the one program, screens and rules inside

setup: ## install what running needs and this machine lacks
	@scripts/setup.sh

.PHONY: setup-test
setup-test:
	@scripts/setup.sh --test

# The browser's rules, and the runtime of the same toolchain: everything, and what a lesson
# takes, which a device loads first and is built to be small.
$(RULES): $(filter ./core/% ./browser/%,$(GO_FILES)) go.mod
	GOOS=js GOARCH=wasm go build -ldflags='-s -w' -o $@ ./browser
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" web/src/rules/wasm_exec.js

# The API's description and that of the rules in the browser, from which the types of the
# screens are made.
$(API): $(filter ./browser/% ./core/% ./exchange/% ./reports/% ./server/% ./store/% ./catalog/% ./cmd/%,$(GO_FILES)) go.mod
	go run ./cmd/jetprimer openapi --page > $@

$(LESSON): $(filter ./core/% ./browser/%,$(GO_FILES)) go.mod
	GOOS=js GOARCH=wasm GOFLAGS=-trimpath go build -tags=lesson -gcflags=all=-l -ldflags='-s -w' -o $@ ./browser

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	@touch $@

web/dist/index.html.br: web/node_modules/.package-lock.json $(RULES) $(LESSON) $(API) $(WEB_FILES)
	cd web && npm run build

bin/jetprimer: web/dist/index.html.br $(GO_FILES) go.mod $(shell find catalog store/migrations -name '*.yaml' -o -name '*.sql')
	go build -ldflags='$(LINK)' -o $@ ./cmd/jetprimer

lint: web/dist/index.html.br ## formatting, vet, static analysis, types
	@test -z "$$(gofmt -l $(GO_FILES))" || { gofmt -l $(GO_FILES); echo 'run gofmt -w'; exit 1; }
	go vet ./...
	GOOS=js GOARCH=wasm go vet ./browser
	GOOS=js GOARCH=wasm GOFLAGS=-trimpath go vet -tags=lesson ./browser
	go tool staticcheck ./...
	cd web && npm run --silent lint

bench: ## speeds and ratios, measured in one run
	@$(ALONGSIDE) setup-test build
	go test -p 1 -run '^$$' -bench . -benchmem -timeout 60m ./...

FUZZTIME := 30s
fuzz: ## every parser, FUZZTIME each
	@for package in $$(go list ./...); do \
	  for target in $$(go test -list '^Fuzz' $$package | grep '^Fuzz' || true); do \
	    echo "$$package $$target"; go test $$package -run '^$$' -fuzz "^$$target\$$" -fuzztime $(FUZZTIME); \
	  done; \
	done

# One static program for each kind of machine, with what a server needs beside it.
release: build ## dist/: the program for amd64 and arm64, its checksums, unit and settings
	rm -rf dist && mkdir dist
	for arch in amd64 arm64; do \
	  GOOS=linux GOARCH=$$arch go build -ldflags='$(LINK)' -o dist/jetprimer-linux-$$arch ./cmd/jetprimer; \
	done
	cp release/jetprimer.service release/jetprimer.env LICENSE dist/
	cd dist && sha256sum * > SHA256SUMS

screenshots: setup-test build ## draw docs/screenshots anew from the demo school
	JETPRIMER_SCREENSHOTS=$(CURDIR)/docs/screenshots go test ./e2e -run TestScreenshots -count=1

clean: ## remove what was built; the demo's data stays
	rm -rf bin dist web/node_modules $(RULES) $(LESSON) web/src/rules/wasm_exec.js $(API) web/src/*/*.gen.ts web/src/schema/*.gen.json
	find web/dist -mindepth 1 -not -name .keep -delete
