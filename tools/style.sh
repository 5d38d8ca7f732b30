#!/usr/bin/env bash
# Style, types and structure of everything, as ./test asks for them first: run before each commit.
set -euo pipefail
cd "$(dirname "$0")/.."
. tools/setup.sh
"$VENV/bin/ruff" check -q src tests bench validation tools
"$VENV/bin/ruff" format --check -q src tests bench validation tools
"$VENV/bin/mypy" --no-error-summary
mkdir -p var/log
"$VENV/bin/lint-imports" >var/log/imports.log || { cat var/log/imports.log >&2; exit 1; }
(cd web && npx tsc --noEmit -p . && npx eslint --max-warnings 0 src && npx prettier --check --log-level warn src)
