#!/usr/bin/env bash
# Runs every test runner and closes with one line: how many passed and failed over all of them.
set -uo pipefail
cd "$(dirname "$0")/.."
passed=0
failed=0

add() { # passed failed
  passed=$((passed + $1))
  failed=$((failed + $2))
}

echo "== formatting, analyzers and types"
if make --no-print-directory lint; then add 1 0; else add 0 1; fi

echo "== console units"
log=$(mktemp --suffix=.json)
(cd console && npx vitest run --reporter=json --outputFile="$log" >/dev/null 2>&1) || true
if [ -s "$log" ]; then
  add "$(node -p "require('$log').numPassedTests")" "$(node -p "require('$log').numFailedTests + require('$log').numFailedTestSuites")"
  node -e "for (const f of require('$log').testResults) for (const t of f.assertionResults) if (t.status !== 'passed') console.log('FAILED', t.fullName, t.failureMessages.join('\n'))"
else
  add 0 1
fi

for file in tests/*/*.csproj; do
  project=$(dirname "$file")
  name=$(basename "$project")
  echo "== $name"
  dotnet build "$project" -c Release -v quiet --nologo || { add 0 1; continue; }
  out=$(mktemp)
  dotnet "$project/bin/Release/net10.0/$name.dll" -noColor 2>&1 | tee "$out"
  # xunit's own summary: "Total: 3, Errors: 0, Failed: 0, Skipped: 0, Not Run: 0, Time: 1s"
  summary=$(grep -oE 'Total: [0-9]+, Errors: [0-9]+, Failed: [0-9]+' "$out" | tail -1)
  total=$(echo "$summary" | sed -nE 's/.*Total: ([0-9]+).*/\1/p')
  errors=$(echo "$summary" | sed -nE 's/.*Errors: ([0-9]+).*/\1/p')
  bad=$(echo "$summary" | sed -nE 's/.*Failed: ([0-9]+).*/\1/p')
  if [ -z "$total" ]; then add 0 1; else add $((total - bad)) $((bad + errors)); fi
done

printf '\n%d passed, %d failed\n' "$passed" "$failed"
[ "$failed" -eq 0 ]
