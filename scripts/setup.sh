#!/usr/bin/env bash
# Checks for what Bearing is built with; with "tests" as argument, installs what the tests drive (a browser, a database server) and make their companies with (Python); with "tools", Python alone.
set -euo pipefail

need() {
  command -v "$1" >/dev/null 2>&1 || { echo "$2" >&2; exit 1; }
}

install() {
  local as_root=()
  [ "$(id -u)" -eq 0 ] || as_root=(sudo)
  echo "installing $*" >&2
  "${as_root[@]}" apt-get update -qq
  DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq "$@" >/dev/null
}

need dotnet "The .NET SDK 10 is missing. Install it from your distribution or from https://dotnet.microsoft.com, then try again."
case "$(dotnet --version)" in
  10.*) ;;
  *) echo "The .NET SDK 10 is needed; here is $(dotnet --version)." >&2; exit 1 ;;
esac
if ! command -v node >/dev/null 2>&1 || [ "$(node -p 'process.versions.node.split(".")[0]')" -lt 20 ]; then
  echo "Node.js 20 or newer is needed. Install it, then try again." >&2
  exit 1
fi
need npm "npm is missing. Install it beside Node.js, then try again."

if [ "${1:-}" = tests ] || [ "${1:-}" = tools ]; then
  command -v python3 >/dev/null 2>&1 || install python3
fi
if [ "${1:-}" = tests ]; then
  # The browser without windows, which does with a third of the work; the whole one where a distribution has no other.
  command -v chromium-headless-shell >/dev/null 2>&1 || install chromium-headless-shell || command -v chromium >/dev/null 2>&1 || install chromium
  ls -d /usr/lib/postgresql/*/bin >/dev/null 2>&1 || install postgresql
fi
