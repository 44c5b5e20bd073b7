# Every target installs what it needs and is missing; nothing else is touched.
SHELL := /bin/bash
.DEFAULT_GOAL := help
.PHONY: help demo serve build test check prove bench shots client setup

help: ## List what can be made
	@grep -hE '^[a-z]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/^([a-z]+):.*## (.*)/  make \1\t\2/' | expand -t 16

demo: ## Serve Rumek with the Tern Point demo data
	@scripts/run.sh demo

serve: ## Serve Rumek with your own data
	@scripts/run.sh serve

build: ## Build the web part and the release binary
	@scripts/setup.sh web
	@scripts/build.sh release

test: ## Run every test
	@scripts/test.sh

check: ## Run every check that is not a test
	@scripts/check.sh

prove: ## Carry out ten thousand generated cards on the rig and say where it and the core disagree
	@cargo run --release -q -p rumek-prove -- --list target/disagreements.txt

bench: ## Measure the core and the server
	@scripts/bench.sh

shots: ## Take every picture of docs/screenshots from the demo data
	@scripts/shots.sh

client: ## Write the OpenAPI document, the formats' schemas and the web client again
	@scripts/client.sh write

setup: ## Install everything that building and testing need
	@scripts/setup.sh all
