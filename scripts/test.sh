#!/usr/bin/env bash
# Runs every test runner, beside each other where they do not wait for one another, and closes with one line: how many passed and failed over all of them.
set -uo pipefail
cd "$(dirname "$0")/.."
passed=0
failed=0
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT

add() { # passed failed
  passed=$((passed + $1))
  failed=$((failed + $2))
}

# Most programs here live for seconds: what the compiler would learn from watching them run comes too late to pay.
export DOTNET_TieredPGO=0

dotnet build Bearing.slnx -c Release -v quiet --nologo || { printf '\n0 passed, 1 failed\n'; exit 1; }

run() { # name
  dotnet "tests/$1/bin/Release/net10.0/$1.dll" -noColor > "$folder/$1" 2>&1
}

# Two lanes: the service and the console in one, what only computes in the other.
short=()
for file in tests/*/*.csproj; do
  name=$(basename "$(dirname "$file")")
  [ "$name" = Bearing.EndToEnd.Tests ] || short+=("$name")
done
run Bearing.EndToEnd.Tests &
driven=$!

# The build before was the turn of the analyzers; the formatter has its own in "make lint".
echo "== console: formatting and types"
if (cd console && npm run --silent check && npx tsc --noEmit); then add 1 0; else add 0 1; fi

echo "== console units"
(cd console && npx vitest run --reporter=json --outputFile="$folder/units.json") >/dev/null 2>&1
if [ -s "$folder/units.json" ]; then
  add "$(node -p "require('$folder/units.json').numPassedTests")" "$(node -p "require('$folder/units.json').numFailedTests + require('$folder/units.json').numFailedTestSuites")"
  node -e "for (const f of require('$folder/units.json').testResults) for (const t of f.assertionResults) if (t.status !== 'passed') console.log('FAILED', t.fullName, t.failureMessages.join('\n'))"
else
  add 0 1
fi

for name in "${short[@]}"; do run "$name"; done
wait "$driven"
for name in "${short[@]}" Bearing.EndToEnd.Tests; do
  echo "== $name"
  cat "$folder/$name"
  # xunit's own summary: "Total: 3, Errors: 0, Failed: 0, Skipped: 0, Not Run: 0, Time: 1s"
  summary=$(grep -oE 'Total: [0-9]+, Errors: [0-9]+, Failed: [0-9]+' "$folder/$name" | tail -1)
  total=$(echo "$summary" | sed -nE 's/.*Total: ([0-9]+).*/\1/p')
  errors=$(echo "$summary" | sed -nE 's/.*Errors: ([0-9]+).*/\1/p')
  bad=$(echo "$summary" | sed -nE 's/.*Failed: ([0-9]+).*/\1/p')
  if [ -z "$total" ]; then add 0 1; else add $((total - bad)) $((bad + errors)); fi
done

printf '\n%d passed, %d failed\n' "$passed" "$failed"
[ "$failed" -eq 0 ]
