#!/usr/bin/env bash
# The quick look before a commit: everything compiles without a word of the analyzers and laid out by the formatter, the console is typed, the core holds but for its long searches, and two companies (a tenth of the questions) are answered as before.
set -uo pipefail
cd "$(dirname "$0")/.."
export DOTNET_TieredPGO=0
dotnet csharpier check src tests demo bench || exit 1
dotnet build Bearing.slnx -c Release -v quiet --nologo || exit 1

run() { # project, options
  dotnet "tests/$1/bin/Release/net10.0/$1.dll" -noColor "${@:2}" 2>&1
}

folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
(cd console && npm run --silent check && npx tsc --noEmit) > "$folder/console" 2>&1 &
console=$!
run Bearing.Core.Tests -trait- "Search=long" > "$folder/core" &
core=$!
BEARING_QUESTIONS_OF=trams,mills run Bearing.Questions.Tests > "$folder/questions" &
questions=$!
code=0
for job in "console $console" "core $core" "questions $questions"; do
  set -- $job
  if wait "$2"; then echo "$1: holds"; else code=1; echo "$1: FAILED"; cat "$folder/$1"; fi
done
exit "$code"
