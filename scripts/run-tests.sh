#!/bin/sh
# The browser's tests beside all others: they wait for pictures while the others compute.
set -u
python=$1
log=$(mktemp)
"$python" -m pytest tests/browser > "$log" 2>&1 &
browser=$!
"$python" -m pytest --ignore tests/browser
others=$?
wait $browser
seen=$?
cat "$log"
rm -f "$log"
[ $others -eq 0 ] && [ $seen -eq 0 ]
