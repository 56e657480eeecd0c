#!/usr/bin/env bash
# Runs the benchmarks on the sizes given as arguments, by default one and ten million ledger lines.
set -euo pipefail
cd "$(dirname "$0")/.."
dotnet build bench -c Release -v quiet --nologo
dotnet bench/bin/Release/net10.0/bearing-bench.dll all ${@:-1000000 10000000}
