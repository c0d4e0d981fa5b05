#!/usr/bin/env bash
# Copies the front-end libraries from npm into wwwroot/lib with their licences and a list of versions.
# Anyone with npm can rerun it; the result is committed, so building the program needs no npm.
set -euo pipefail
cd "$(dirname "$0")/.."
lib=src/Tanksophos.Web/wwwroot/lib
tmp=$(mktemp -d); trap 'rm -rf "$tmp"' EXIT

fetch() { # name version -> unpacked folder on stdout
  (cd "$tmp" && npm pack --silent "$1@$2" >/dev/null 2>&1)
  local tgz; tgz=$(ls -t "$tmp"/*.tgz | head -1)
  local dir="$tmp/$(echo "$1" | tr '@/' '__')"; mkdir -p "$dir"
  tar -xzf "$tgz" -C "$dir" --strip-components=1; rm "$tgz"; echo "$dir"
}

rm -rf "$lib"; mkdir -p "$lib"/{bootstrap,alpine,font}
d=$(fetch bootstrap 5.3.9)
cp "$d/dist/css/bootstrap.min.css" "$d/LICENSE" "$lib/bootstrap/"
d=$(fetch @alpinejs/csp 3.17.4)
cp "$d/dist/cdn.min.js" "$lib/alpine/alpine-csp.min.js"
d=$(fetch @fontsource-variable/atkinson-hyperlegible-next 5.3.0)
cp "$d/files/atkinson-hyperlegible-next-latin-wght-normal.woff2" "$d/files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2" "$d/LICENSE" "$lib/font/"
d=$(fetch axe-core 4.14.1)
mkdir -p tests/Tanksophos.Browser.Tests/lib
cp "$d/axe.min.js" "$d/LICENSE" tests/Tanksophos.Browser.Tests/lib/
# Source maps are not shipped; the comments that name them would only cause 404s.
sed -i '/^\/[*\/]# sourceMappingURL=/d; s#/\*\# sourceMappingURL=[^*]*\*/##' "$lib/bootstrap/bootstrap.min.css"
cat > "$lib/VERSIONS.md" <<'V'
| library | version | licence |
|---|---|---|
| bootstrap | 5.3.9 | MIT, bootstrap/LICENSE |
| @alpinejs/csp | 3.17.4 | MIT, text below |
| @fontsource-variable/atkinson-hyperlegible-next | 5.3.0 | OFL-1.1, font/LICENSE |
| axe-core (tests only) | 4.14.1 | MPL-2.0, beside the tests |

Alpine: MIT licence, copyright Caleb Porzio and contributors. Permission is granted, free of charge, to use, copy, modify, merge,
publish, distribute, sublicense and sell copies, provided the copyright notice and this notice are included. No warranty.
V
ls -la "$lib"/*
