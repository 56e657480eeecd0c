# Bearing. "make demo" sets up and runs it, "make test" sets up and tests it; "make help" lists the rest.
SHELL := /bin/bash
.DEFAULT_GOAL := help
export DOTNET_CLI_TELEMETRY_OPTOUT := 1
export DOTNET_NOLOGO := 1
DATA ?= .data
URL ?= http://127.0.0.1:5180
FEED ?= http://127.0.0.1:5190

.PHONY: help demo build solution-built programs test check lint format companies questions bench setup sdk tools browser-and-database openapi demo-data clean

help: ## Show what can be made
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

demo: build ## Set up, build and start Bearing with the demo company
	@bin/bearing-demo-ledger --urls $(FEED) & feed=$$!; trap "kill $$feed" EXIT; \
	bin/bearing-service --demo --data $(DATA) --urls $(URL) --allow $(FEED)/feed/

build: sdk console/node_modules/.stamp ## Build the console, the service and the command line into bin/
	cd console && npm run --silent build
	@$(MAKE) --no-print-directory programs

solution-built: sdk
	dotnet build Bearing.slnx -c Release -v quiet --nologo

# Without the console, whose types come from the document that the service serves.
programs:
	dotnet publish src/Bearing.Service -c Release -o out/service -v quiet
	dotnet publish src/Bearing.Cli -c Release -o out/cli -v quiet
	dotnet publish demo/ledger -c Release -o out/demo-ledger -v quiet
	@mkdir -p bin
	@printf '#!/bin/sh\nexec dotnet "$$(dirname "$$(readlink -f "$$0")")/../out/cli/bearing.dll" "$$@"\n' > bin/bearing
	@printf '#!/bin/sh\nexec dotnet "$$(dirname "$$(readlink -f "$$0")")/../out/service/bearing-service.dll" "$$@"\n' > bin/bearing-service
	@printf '#!/bin/sh\nexec dotnet "$$(dirname "$$(readlink -f "$$0")")/../out/demo-ledger/bearing-demo-ledger.dll" "$$@"\n' > bin/bearing-demo-ledger
	@chmod +x bin/bearing bin/bearing-service bin/bearing-demo-ledger

test: browser-and-database ## Set up and run every test: core, data, service, command line, console in Chromium
	@$(MAKE) --no-print-directory --jobs=2 console/node_modules/.stamp solution-built
	@$(MAKE) --no-print-directory build
	scripts/test.sh

lint: sdk console/node_modules/.stamp ## Check formatting, analyzers and types of all code
	dotnet build Bearing.slnx -c Release -v quiet
	dotnet tool restore > /dev/null
	dotnet csharpier check src tests demo bench
	cd console && npm run --silent check && npx tsc --noEmit

format: sdk console/node_modules/.stamp ## Lay out all code as "make lint" wants it
	dotnet tool restore > /dev/null
	dotnet csharpier format src tests demo bench
	cd console && npm run --silent format

check: tools console/node_modules/.stamp ## In about a minute: build with analyzers and formatting, types, the core's tests and two of the fifteen companies
	scripts/check.sh

companies: tools ## Make the fifteen invented companies in out/companies that the questions are asked of
	@ls tests/fixtures/*/questions.py | xargs -n 1 dirname | xargs -P 8 -I {} sh -c 'mkdir -p out/companies/$$(basename {}) && test -s out/companies/$$(basename {})/questions.jsonl || python3 {}/make.py out/companies/$$(basename {})'

questions: tools ## Score the reading on the questions of fifteen invented companies: by category, and each miss
	dotnet build tests/Bearing.Questions.Tests -c Release -v quiet --nologo
	-dotnet tests/Bearing.Questions.Tests/bin/Release/net10.0/Bearing.Questions.Tests.dll -noColor > /dev/null
	@for f in out/questions*.txt; do echo "== $$f"; cat $$f; echo; done

bench: build ## Measure; every figure is a ratio of two things run side by side
	bench/run.sh

openapi: sdk console/node_modules/.stamp programs ## Write docs/openapi.json as served, and the console's types from it
	scripts/openapi.sh

demo-data: ## Make demo/data again from its seed
	dotnet run --project demo/generator -- demo/data

setup: tools console/node_modules/.stamp ## Install what is missing, fetch all packages and build once, so that "make check" is quick from then on
	dotnet tool restore > /dev/null
	@$(MAKE) --no-print-directory solution-built

sdk:
	@scripts/setup.sh

tools:
	@scripts/setup.sh tools

browser-and-database:
	@scripts/setup.sh tests

console/node_modules/.stamp: console/package-lock.json
	cd console && npm ci --no-fund --no-audit --loglevel=error
	@touch $@

clean: ## Remove everything that was built
	rm -rf bin out console/node_modules src/*/bin src/*/obj tests/*/bin tests/*/obj src/Bearing.Service/wwwroot
