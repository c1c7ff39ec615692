#!/usr/bin/env bash
# Fails when OpenAPI, the JSON Schemas or the TypeScript types lag behind the models.
set -euo pipefail
fresh=$(mktemp -d)
trap 'rm -rf "$fresh"' EXIT
.venv/bin/aspectum generate --out "$fresh"
(cd frontend && npx --no-install openapi-typescript "$fresh/docs/openapi.json" -o "$fresh/schema.d.ts" --default-non-nullable=false >/dev/null 2>&1)
stale=0
for path in "$fresh"/docs/openapi.json "$fresh"/docs/formats/*.schema.json; do
  name=${path#"$fresh"/docs/}
  cmp -s "$fresh/docs/$name" "docs/$name" || { echo "docs/$name is stale: run make generate"; stale=1; }
done
cmp -s "$fresh/schema.d.ts" frontend/src/api/schema.d.ts || { echo "frontend/src/api/schema.d.ts is stale: run make generate"; stale=1; }
exit $stale
