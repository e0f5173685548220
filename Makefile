# make demo: everything from a fresh Debian machine to a running demo shop
# make test: everything from a fresh Debian machine to tested

SHELL := /bin/bash
.DEFAULT_GOAL := build
.PHONY: install demo demo-reset demo-empty test check build web generate fuzz bench growth pace accuracy hammer hammer-cluster soak cluster cluster-stop screenshots clean needs-demo needs-test needs-cluster

WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/api.html web/package.json web/package-lock.json web/vite.config.ts web/tsconfig.json

needs-demo:
	@scripts/needs mariadb

needs-test:
	@scripts/needs mariadb chromium cluster

needs-cluster:
	@scripts/needs mariadb cluster

web/node_modules/.ready: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

# The identify bench for a device without a network: the core, compiled for browsers.
OFFLINE_CORE := $(addprefix core/,identify live film recorded sight exact ratio typed say fault)
OFFLINE_SOURCES := $(shell find $(OFFLINE_CORE) cmd/offline -name '*.go' ! -name '*_test.go')

web/public/offline.wasm: $(OFFLINE_SOURCES) go.mod
	GOOS=js GOARCH=wasm go build -trimpath -ldflags="-s -w" -o $@ ./cmd/offline
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" web/public/wasm_exec.js

web/dist/index.html: web/public/offline.wasm $(WEB_SOURCES) web/node_modules/.ready api/openapi.yaml
	cd web && npm run --silent build
	@touch web/dist/.keep $@

# What computes or decides in the browser, as one script for the tests.
web/modules/dist/modules.js: $(WEB_SOURCES) web/modules/index.ts web/modules/vite.config.ts web/node_modules/.ready
	cd web && npm run --silent modules

web: web/dist/index.html

build: web
	go build -o bin/zorvel ./cmd/zorvel

demo: needs-demo build
	@exec bin/zorvel demo

# For good, as root: user, MariaDB, server and nightly backup under systemd.
install: build
	@bin/zorvel install

demo-reset: needs-demo build
	@exec bin/zorvel demo --reset

demo-empty: needs-demo build
	@exec bin/zorvel demo --empty --dir .local/empty

# The longest first, so that nothing waits for them at the end.
test: needs-test web web/modules/dist/modules.js
	go test -timeout 40m ./e2e ./internal/server ./...

# Format, vet, lint and types; nothing is changed.
check: web
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { echo "gofmt: these files need formatting:"; gofmt -l $$(git ls-files '*.go'); exit 1; }
	go vet ./...
	go tool staticcheck ./...
	cd web && npm run --silent check
	@cd web && said=$$(REDOCLY_TELEMETRY=off REDOCLY_SUPPRESS_UPDATE_NOTICE=true npm run --silent contract 2>&1) || { echo "$$said"; exit 1; }

generate: web/node_modules/.ready
	go generate ./api
	cd web && npm run --silent generate

fuzz: web
	go test -run '^$$' -fuzz FuzzParseMark -fuzztime 30s ./core/identify
	go test -run '^$$' -fuzz FuzzParseShaft -fuzztime 30s ./core/identify
	go test -run '^$$' -fuzz FuzzParse -fuzztime 30s ./core/tire
	go test -run '^$$' -fuzz FuzzWork -fuzztime 30s ./core/marks
	go test -run '^$$' -fuzz FuzzQuery -fuzztime 30s ./core/find
	go test -run '^$$' -fuzz FuzzTrack -fuzztime 30s ./core/speedo
	go test -run '^$$' -fuzz FuzzReadRun -fuzztime 30s ./core/changegear
	go test -run '^$$' -fuzz FuzzParseStamp -fuzztime 30s ./core/gearcase
	go test -run '^$$' -fuzz FuzzParseBox -fuzztime 30s ./core/shim
	go test -run '^$$' -fuzz FuzzJudge -fuzztime 30s ./core/setup
	go test -run '^$$' -fuzz FuzzParse -fuzztime 30s ./core/workcard
	go test -run '^$$' -fuzz FuzzReader -fuzztime 30s ./core/instruments
	go test -run '^$$' -fuzz FuzzReadCSV -fuzztime 30s ./core/catalog
	go test -run '^$$' -fuzz FuzzDoor -fuzztime 30s ./internal/server

bench: needs-test web
	go test -run '^$$' -bench . -benchtime 1s ./core/... ./internal/...

# A shop of ten thousand units and a million readings, against a bare handler.
growth: needs-test web
	go run ./cmd/growth

# Own instance, mutated requests over every operation, kill -9 under 64 hands.
hammer: needs-demo build
	go run ./cmd/hammer bin/zorvel

# Three databases, two servers, one address, on this machine (docs/cluster.md).
cluster: needs-cluster build
	@exec bin/zorvel cluster

cluster-stop:
	@bin/zorvel cluster --stop

# The same, while nodes and servers are killed, frozen and cut off.
hammer-cluster: needs-cluster build
	go run ./cmd/hammer -cluster -clients 16 -rounds 1 bin/zorvel

# Two hours of mixed traffic at half of what the server can do; SOAK=10m for less.
SOAK ?= 2h
soak: needs-demo build
	go run ./cmd/hammer -soak $(SOAK) bin/zorvel

# How quickly the interface answers, on an idle machine.
pace: needs-test web
	ZORVEL_PACE=1 go test -count=1 -run TestPace ./e2e -v

accuracy: web
	go run ./cmd/zorvel accuracy

screenshots: needs-test web
	ZORVEL_SHOTS=$(CURDIR)/docs/screenshots go test -count=1 -run TestScreenshots ./e2e

clean:
	rm -rf bin .local web/node_modules web/dist/*
