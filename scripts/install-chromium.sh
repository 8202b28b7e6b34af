#!/bin/sh
# Debian's chromium for the browser tests, and Mesa to draw with, where it is missing and apt-get can be used.
set -eu
if command -v chromium >/dev/null 2>&1; then exit 0; fi
if command -v apt-get >/dev/null 2>&1 && [ "$(id -u)" = 0 ]; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium libegl1 libgl1-mesa-dri >/dev/null && exit 0
fi
echo "The browser tests need chromium. Install it (Debian: sudo apt-get install chromium) and run make test again." >&2
exit 1
