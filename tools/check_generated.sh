#!/usr/bin/env bash
# Fails when OpenAPI, the JSON Schemas, the TypeScript types or the template of the catalogues lag behind the sources.
set -euo pipefail
fresh=$(mktemp -d)
trap 'rm -rf "$fresh"' EXIT
.venv/bin/aspectum generate --out "$fresh"
(cd frontend && npx --no-install openapi-typescript "$fresh/aspectum/web/openapi.json" -o "$fresh/schema.d.ts" --default-non-nullable=false >/dev/null 2>&1)
stale=0
for path in "$fresh"/aspectum/web/openapi.json "$fresh"/aspectum/language/messages.pot "$fresh"/docs/formats/*.schema.json; do
  name=${path#"$fresh"/}
  cmp -s "$path" "$name" || { echo "$name is stale: run make generate"; stale=1; }
done
cmp -s "$fresh/schema.d.ts" frontend/src/api/schema.d.ts || { echo "frontend/src/api/schema.d.ts is stale: run make generate"; stale=1; }
exit $stale
