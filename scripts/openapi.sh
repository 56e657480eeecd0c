#!/usr/bin/env bash
# Fetches the OpenAPI document from a service started for it, and generates the console's types.
set -euo pipefail
cd "$(dirname "$0")/.."
data=$(mktemp -d)
bin/bearing-service --data "$data" --urls http://127.0.0.1:5199 >/dev/null &
service=$!
trap 'kill $service; rm -rf "$data"' EXIT
for _ in $(seq 50); do curl -sf http://127.0.0.1:5199/health >/dev/null && break; sleep 0.2; done
curl -sf http://127.0.0.1:5199/openapi/v1.json | node -e 'let s="";process.stdin.on("data",d=>s+=d).on("end",()=>process.stdout.write(JSON.stringify(JSON.parse(s),null,2)+"\n"))' > docs/openapi.json
# The form of mapping files, as a JSON schema of its own.
node -e '
  const { schemas } = require("./docs/openapi.json").components;
  const taken = {};
  const take = (name) => {
    if (taken[name]) return;
    taken[name] = JSON.parse(JSON.stringify(schemas[name]).replaceAll("#/components/schemas/", "#/$defs/"));
    for (const [, inner] of JSON.stringify(taken[name]).matchAll(/#\/\$defs\/(\w+)/g)) take(inner);
  };
  take("MappingFile");
  const schema = { $schema: "https://json-schema.org/draft/2020-12/schema", title: "Bearing mapping", $ref: "#/$defs/MappingFile", $defs: taken };
  require("fs").writeFileSync("docs/mapping.schema.json", JSON.stringify(schema, null, 2) + "\n");
'
cd console && npm run --silent types
