#!/usr/bin/env bash
# Installs what tests need and runs the unit tests.
set -eu
cd "$(dirname "$0")/.."
[ -d node_modules ] || npm ci --no-audit --no-fund
npm run -s build
NODE_OPTIONS=--experimental-vm-modules npx jest --json --outputFile=.tonos-test.json
