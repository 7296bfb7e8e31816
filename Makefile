# make demo   installs, builds and starts Lagoon with the demo data on http://localhost:8080 (KEEP=1 keeps the data of the last start)
# make test   installs what the tests need and passes all of them; also checks format, lint and types
# make build  builds bin/lagoon, one self-contained binary
# make slow / make fuzz: kills, races, random commands and hostile files, many times; make bench / make history / make memory: as in docs/benchmarks.md
# make generate / make format / make screenshots: contract code, source format, docs/screenshots

# Full-text search in SQLite, and gin without a codec that is not used; the same C flags everywhere, or SQLite compiles again.
# QPSG: a plan never depends on bound values, so no statement is compiled again when it is given new ones.
tags := sqlite_fts5,nomsgpack
with_reference := -tags=$(tags),reference
export GOFLAGS := -buildvcs=false -tags=$(tags)
export CGO_CFLAGS := -O2 -g0 -DSQLITE_DEFAULT_MEMSTATUS=0 -DSQLITE_ENABLE_QPSG
TOOL := GOFLAGS=-buildvcs=false go tool -modfile=../tools/go.mod

ui_sources := $(shell find ui/src ui/public ui/index.html ui/vite.config.ts ui/package.json -type f)
ui_checked := $(ui_sources) $(wildcard ui/test/* ui/*.js ui/tsconfig*.json)
# What has passed is checked again when something that it reads has changed, as by go test and vue-tsc.
passed := ui/node_modules/.cache/passed

# What takes longest begins first, and one browser beside other work: several at once hinder each other.
longest := ./test/browser/invoices ./internal/house ./test/reference ./test/browser/orders ./internal/demo ./cmd/lagoon ./test/browser/setup \
	./internal/web ./internal/jobs/invoices ./test/browser ./test/browser/payments

.PHONY: demo build test test-ui check-format lint lint-go lint-types lint-ui generate check-generated bench history memory tables slow slow-kills slow-damage slow-commands slow-histories slow-papers slow-rules fuzz reference format screenshots clean

demo: build
	./bin/lagoon demo $(if $(KEEP),-keep)

build: ui/dist/index.html
	go build -ldflags="-s -X 'main.release=$(or $(shell git describe --always --dirty 2>/dev/null),of an unknown commit)'" -o bin/lagoon ./cmd/lagoon

ui/node_modules/.package-lock.json: ui/package-lock.json
	cd ui && npm ci --ignore-scripts --no-audit --no-fund
	touch $@

ui/dist/index.html: ui/node_modules/.package-lock.json $(ui_sources)
	cd ui && npx vite build --logLevel warn

test: ui/dist/index.html
	test/install
	$(MAKE) --no-print-directory check-generated
	$(MAKE) --no-print-directory --jobs 2 --output-sync check-format lint test-ui test/reference/node_modules/.package-lock.json
	RAPID_SEED=2026 RAPID_CHECKS=60 go test -p 3 -timeout 40m $(with_reference) $(longest) ./...

check-format: ui/node_modules/.package-lock.json
	@test -z "$$(gofmt -l api bench cmd internal test ui/*.go)" || { gofmt -l api bench cmd internal test ui/*.go; echo 'run make format'; exit 1; }
	cd ui && npx prettier --check --log-level warn --cache --cache-strategy content .

test-ui: $(passed)/tests
$(passed)/tests: ui/node_modules/.package-lock.json $(ui_checked)
	cd ui && npx vitest run
	mkdir -p $(@D)
	touch $@

lint: lint-go lint-types lint-ui

lint-go: ui/dist/index.html
	go vet ./...
	GOFLAGS=-buildvcs=false go tool -modfile=tools/go.mod staticcheck $(with_reference) $$(go list ./... | grep -v /contract)

lint-types: ui/node_modules/.package-lock.json
	cd ui && npx vue-tsc -b

lint-ui: $(passed)/lint
$(passed)/lint: ui/node_modules/.package-lock.json $(ui_checked)
	cd ui && npx eslint . --max-warnings 0
	mkdir -p $(@D)
	touch $@

generate: ui/node_modules/.package-lock.json
	go run ./api/bundle api
	cd api && $(TOOL) oapi-codegen -config oapi-codegen.yaml openapi.yaml
	cd ui && npx openapi-typescript ../api/openapi.yaml -o node_modules/.cache/schema.d.ts
	cmp -s ui/node_modules/.cache/schema.d.ts ui/src/api/schema.d.ts || cp ui/node_modules/.cache/schema.d.ts ui/src/api/ # what is newer is built and checked again

# What is generated must be what the contract says now.
check-generated: generate
	git diff --exit-code -- api/openapi.yaml internal/web/contract ui/src/api/schema.d.ts

bench:
	go run ./bench | tee bench/last.md
	go run ./bench -pay 5000 -rounds 3 | tee -a bench/last.md
	go run ./bench -mails -rounds 3 | tee -a bench/last.md
	go run ./bench -prove 10000 | tee -a bench/last.md
	go test -count=1 -run '^$$' -bench . -benchtime 9x ./test/browser/orders

# A history of HISTORY invoices (up to 1,000,000) in FOLDER, for the same report.
history:
	go run ./bench -posts 0 -history $(or $(HISTORY),1000000) -keep $(or $(FOLDER),lagoon-history)

# Tables of masters taken in: the time of a row, and how long another waits.
tables:
	go run ./bench -tables

# What a server holds in memory on 1 GB of data while all of its readers of files are given the largest that they take.
memory: build
	go run ./bench -memory bin/lagoon -history 64000 $(if $(FOLDER),-keep $(FOLDER))

# What make test tries a few times and from the same seeds, tried many times and from other seeds each time.
# Each part ends within an hour, or fails.
slow: slow-kills slow-damage slow-commands slow-histories slow-papers slow-rules

slow-kills:
	LAGOON_SLOW=1 go test -count=1 -timeout 60m -run 'TestKilledAtAnyInstant|TestRaces|TestALogCutAnywhere' ./internal/house

slow-damage:
	LAGOON_SLOW=1 go test -count=1 -timeout 60m -run 'TestVerifyFindsEveryChange' ./internal/demo

slow-commands:
	LAGOON_SLOW=1 go test -count=1 -timeout 60m -run 'TestWhateverIsSent' ./internal/web

slow-histories:
	RAPID_CHECKS=2000 go test -count=1 -timeout 60m -run 'TestAny|TestGoodsOrInvoices' ./internal/house ./internal/jobs/invoices

slow-papers:
	LAGOON_SLOW=1 go test -count=1 -timeout 60m $(with_reference) -run 'TestWhatIsProposedOfScans|TestWhatFollowsAnInvoiceIn' ./test/reference

slow-rules:
	RAPID_CHECKS=50000 go test -count=1 -timeout 60m ./internal/core/... ./internal/format/tabular

# Longer than the seconds that make test gives the corpus.
fuzz:
	go test -run '^$$' -fuzzminimizetime 10x -fuzz FuzzRead -fuzztime $(or $(TIME),10m) ./internal/format/einvoice
	go test -run '^$$' -fuzzminimizetime 10x -fuzz FuzzHybrid -fuzztime $(or $(TIME),10m) ./internal/format/einvoice
	go test -run '^$$' -fuzzminimizetime 10x -fuzz FuzzReadDespatch -fuzztime $(or $(TIME),10m) ./internal/format/ubl
	go test -run '^$$' -fuzzminimizetime 10x -fuzz FuzzRead -fuzztime $(or $(TIME),10m) ./internal/format/eml
	go test -run '^$$' -fuzzminimizetime 10x -fuzz FuzzTIFF -fuzztime $(or $(TIME),10m) ./internal/format/scan
	go test -run '^$$' -fuzzminimizetime 10x -fuzz FuzzEach -fuzztime $(or $(TIME),10m) ./internal/format/unpack
	go test -run '^$$' -fuzzminimizetime 10x -fuzz FuzzReadAnswer -fuzztime $(or $(TIME),10m) ./internal/format/iso20022

# Checks against what the project did not write, installed from a lock file of their own.
test/reference/node_modules/.package-lock.json: test/reference/package-lock.json
	cd test/reference && npm ci --ignore-scripts --no-audit --no-fund
	touch $@

reference: test/reference/node_modules/.package-lock.json
	go test $(with_reference) ./test/reference/...

format:
	gofmt -w api bench cmd internal test ui/*.go
	cd ui && npx prettier --write --log-level warn .

screenshots: ui/dist/index.html
	LAGOON_SHOTS=$(CURDIR)/docs/screenshots go test -count=1 -run TestViews ./test/browser

clean:
	rm -rf bin ui/dist ui/node_modules test/reference/node_modules lagoon-demo lagoon-history bench/last.md
