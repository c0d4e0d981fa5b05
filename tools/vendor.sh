#!/usr/bin/env bash
# Copies the front-end libraries from npm into wwwroot/lib with their licences and a list of versions, and compiles the style sheet from styles/.
# Anyone with npm can rerun it; the results are committed, so building the program needs no npm. `tools/vendor.sh styles` compiles the style sheet alone.
set -euo pipefail
cd "$(dirname "$0")/.."
web=src/Tanksophos.Web; lib=$web/wwwroot/lib
npm=artifacts/npm; mkdir -p "$npm"
if [ "${1:-}" != styles ] || [ ! -d "$npm/node_modules/sass" ]; then
  (cd "$npm" && npm init -y >/dev/null && npm install --silent --no-fund --no-audit \
    bootstrap@5.3.9 @alpinejs/csp@3.17.4 @fontsource-variable/atkinson-hyperlegible-next@5.3.0 axe-core@4.14.1 sass@1.108.2 esbuild@0.25.12 purgecss@7.0.2)
fi
m=$npm/node_modules

styles() {
  mkdir -p "$web/wwwroot/css"
  "$m/.bin/sass" --load-path="$m" --style=compressed --no-source-map --quiet-deps --silence-deprecation=import,global-builtin,color-functions,if-function \
    "$web/styles/tanksophos.scss" "$npm/whole.css"
  # Of Bootstrap's rules only those whose names stand in a page, a tag helper or a script; names that pages put together are listed.
  (cd "$npm" && node --input-type=module -e "
    import { PurgeCSS } from 'purgecss';
    import { writeFileSync } from 'node:fs';
    const web = '../../$web';
    const content = [web + '/Pages/**/*.cshtml', web + '/Pages/**/*.cs', web + '/Drawing/**/*.cs', web + '/wwwroot/js/**/*.js', web + '/wwwroot/lib/bootstrap/bootstrap.js'];
    const [done] = await new PurgeCSS().purge({ content, css: ['whole.css'], variables: true, safelist: { standard: [/^(is|area|room|of)-/, 'collapsing'], variables: [/^--(?!bs-)/] } });
    writeFileSync(web + '/wwwroot/css/tanksophos.css', done.css);")
  ls -l "$web/wwwroot/css/tanksophos.css"
}
if [ "${1:-}" = styles ]; then styles; exit 0; fi

rm -rf "$lib"; mkdir -p "$lib"/{bootstrap,alpine,font}
# Of Bootstrap's scripts only what pages use: sheets and toasts.
printf "export { default as Modal } from 'bootstrap/js/src/modal.js';\nexport { default as Toast } from 'bootstrap/js/src/toast.js';\n" > "$npm/bootstrap.js"
(cd "$npm" && node_modules/.bin/esbuild bootstrap.js --bundle --format=esm --minify --legal-comments=none --log-level=warning --outfile=bootstrap.out.js)
(echo "/* Bootstrap, parts of it. MIT, see LICENSE. */"; cat "$npm/bootstrap.out.js") > "$lib/bootstrap/bootstrap.js"
cp "$m/bootstrap/LICENSE" "$lib/bootstrap/"
cp "$m/@alpinejs/csp/dist/module.esm.min.js" "$lib/alpine/alpine-csp.js"
cp "$m"/@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin{,-ext}-wght-normal.woff2 \
  "$m/@fontsource-variable/atkinson-hyperlegible-next/LICENSE" "$lib/font/"
mkdir -p tests/Tanksophos.Browser.Tests/lib
cp "$m/axe-core/axe.min.js" "$m/axe-core/LICENSE" tests/Tanksophos.Browser.Tests/lib/
# Source maps are not shipped; the comments that name them would only cause 404s.
sed -i '/^\/[*\/]# sourceMappingURL=/d' "$lib/alpine/alpine-csp.js"
cat > "$lib/VERSIONS.md" <<'V'
| library | version | licence |
|---|---|---|
| bootstrap (Sass compiled with our tokens into css/tanksophos.css; modal and toast) | 5.3.9 | MIT, bootstrap/LICENSE |
| @alpinejs/csp | 3.17.4 | MIT, text below |
| @fontsource-variable/atkinson-hyperlegible-next | 5.3.0 | OFL-1.1, font/LICENSE |
| axe-core (tests only) | 4.14.1 | MPL-2.0, beside the tests |
| sass, esbuild, purgecss (tools only, not shipped) | 1.108.2, 0.25.12, 7.0.2 | MIT |

Alpine: MIT licence, copyright Caleb Porzio and contributors. Permission is granted, free of charge, to use, copy, modify, merge,
publish, distribute, sublicense and sell copies, provided the copyright notice and this notice are included. No warranty.
V
ls -la "$lib"/*
styles
