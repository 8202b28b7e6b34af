#!/bin/sh
# Fails where docs/openapi.json or the TypeScript client no longer says what the API says.
set -eu
new=$(mktemp -d)
trap 'rm -rf "$new"' EXIT
.venv/bin/python server/manage.py write_openapi --out "$new/openapi.json"
(cd web && npx openapi-typescript "$new/openapi.json" -o "$new/schema.d.ts" >/dev/null 2>&1)
cmp -s "$new/openapi.json" docs/openapi.json && cmp -s "$new/schema.d.ts" web/src/api/schema.d.ts && exit 0
echo "The API has changed. Run: make client" >&2
exit 1
