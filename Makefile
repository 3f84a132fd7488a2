# Jet Primer. `make demo` runs it; `make test` proves it.
SHELL := /bin/bash
.SHELLFLAGS := -euo pipefail -c
.DEFAULT_GOAL := help

GO_FILES := $(shell find . -name '*.go' -not -path './web/node_modules/*')
WEB_FILES := $(shell find web -not -path 'web/node_modules/*' -not -path 'web/dist/*' -type f)
RULES := web/src/rules/rules.wasm
API := web/src/api/openapi.json

.PHONY: help demo test lint build bench screenshots setup clean

help: ## what can be made
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/'

demo: setup build ## run the invented school on http://127.0.0.1:8080
	bin/jetprimer demo

test: setup-test build lint ## prove everything
	go test ./...

build: bin/jetprimer ## the one program, screens and rules inside

setup: ## install what running needs and this machine lacks
	@scripts/setup.sh

.PHONY: setup-test
setup-test:
	@scripts/setup.sh --test

# The browser's rules, and the runtime of the same toolchain.
$(RULES): $(filter ./core/% ./browser/%,$(GO_FILES)) go.mod
	GOOS=js GOARCH=wasm go build -trimpath -ldflags='-s -w' -o $@ ./browser
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" web/src/rules/wasm_exec.js

# The API's description, from which the types of the screens are made.
$(API): $(filter ./core/% ./server/% ./store/% ./catalog/% ./cmd/%,$(GO_FILES)) go.mod
	go run ./cmd/jetprimer openapi > $@

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	@touch $@

web/dist/index.html.br: web/node_modules/.package-lock.json $(RULES) $(API) $(WEB_FILES)
	cd web && npm run build

bin/jetprimer: web/dist/index.html.br $(GO_FILES) go.mod $(shell find catalog store/migrations -name '*.yaml' -o -name '*.sql')
	go build -trimpath -o $@ ./cmd/jetprimer

lint: web/dist/index.html.br ## formatting, vet, static analysis, types
	@test -z "$$(gofmt -l $(GO_FILES))" || { gofmt -l $(GO_FILES); echo 'run gofmt -w'; exit 1; }
	go vet ./...
	GOOS=js GOARCH=wasm go vet ./browser
	go tool staticcheck ./...
	cd web && npm run --silent lint

bench: setup-test build ## speeds and ratios, measured in one run
	go test -run '^$$' -bench . -benchmem ./...

screenshots: setup-test build ## draw docs/screenshots anew from the demo school
	JETPRIMER_SCREENSHOTS=$(CURDIR)/docs/screenshots go test ./e2e -run TestScreenshots -count=1

clean: ## remove what was built; the demo's data stays
	rm -rf bin web/node_modules $(RULES) web/src/rules/wasm_exec.js $(API) web/src/api/schema.gen.ts web/src/api/words.gen.json
	find web/dist -mindepth 1 -not -name .keep -delete
