#!/usr/bin/env bash
# Install a wheel with pip alone, in an environment of its own and away from the sources, and look whether it serves the demo.
#
#   bash tools/check_wheel.sh dist/aspectum-0.1.0-py3-none-any.whl
set -euo pipefail
wheel=$(realpath "$1")
here=$(mktemp -d)
trap 'kill "${server:-}" 2>/dev/null || true; rm -rf "$here"' EXIT
cd "$here"
python3 -m venv env
env/bin/pip install -q --disable-pip-version-check "$wheel"
env/bin/aspectum doctor --data data || true # the folder is not there yet: the rest must be fine
env/bin/aspectum serve --demo --data data --port 0 >out 2>err &
server=$!
for _ in $(seq 180); do
  grep -q http out && break
  kill -0 "$server" || { cat err; exit 1; }
  sleep 1
done
address=$(grep -o 'http://[^/]*' out)
env/bin/python - "$address" <<'PY'
import json
import sys
import urllib.request

def read(path):
    with urllib.request.urlopen(sys.argv[1] + path, timeout=30) as answer:
        return answer.read().decode()

assert json.loads(read("/api/health"))["status"] == "ok"
page = read("/")
assert '<div id="root"' in page, "the interface is in the wheel"
script = page.split('src="/assets/')[1].split('"')[0]
assert len(read(f"/assets/{script}")) > 10_000
print(f"{sys.argv[1]} serves the demo from the wheel")
PY
