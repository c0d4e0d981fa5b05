#!/usr/bin/env bash
# Runs all tests: the core's rules, the web application in process, and the pages in headless Chromium.
# Installs Debian's chromium and chromium-driver if they are missing. Ends with a line "N passed, N failed".
#   ./test.sh [core|web|browser ...]     without words: all
set -uo pipefail
cd "$(dirname "$0")"
command -v dotnet >/dev/null || { echo "The .NET 10 SDK is needed: 'dotnet' was not found." >&2; exit 1; }
suites=("$@"); [ ${#suites[@]} -gt 0 ] || suites=(core web browser)

name_of() { case "$1" in core) echo Core ;; web) echo Web ;; browser) echo Browser ;; *) echo "Unknown suite '$1'. Accepted: core, web, browser" >&2; return 2 ;; esac; }
for suite in "${suites[@]}"; do name_of "$suite" >/dev/null || exit 2; done

# The broker that owners of many devices run, for the tests that speak with one.
if [[ " ${suites[*]} " == *" web "* ]] && ! { command -v mosquitto || [ -x /usr/sbin/mosquitto ]; } >/dev/null; then
  install="apt-get update && apt-get install -y mosquitto"
  if [ "$(id -u)" = 0 ]; then bash -c "DEBIAN_FRONTEND=noninteractive $install" >/dev/null || exit 1
  elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then sudo DEBIAN_FRONTEND=noninteractive bash -c "$install" >/dev/null || exit 1
  else echo "The web tests need Debian's mosquitto. Install it with:  sudo bash -c '$install'" >&2; exit 1; fi
fi

need_browser() { [[ " ${suites[*]} " == *" browser "* ]]; }
if need_browser && ! { command -v chromium && command -v chromedriver; } >/dev/null; then
  install="apt-get update && apt-get install -y chromium chromium-driver"
  if [ "$(id -u)" = 0 ]; then bash -c "DEBIAN_FRONTEND=noninteractive $install" >/dev/null || exit 1
  elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then sudo DEBIAN_FRONTEND=noninteractive bash -c "$install" >/dev/null || exit 1
  else echo "The browser tests need Debian's chromium and chromium-driver. Install them with:  sudo bash -c '$install'" >&2; exit 1; fi
fi

export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1
dotnet build Tanksophos.slnx -c Release -v quiet || { echo "0 passed, 1 failed"; exit 1; }
if need_browser; then
  dotnet publish src/Tanksophos.Web -c Release --no-build -o artifacts/test-web -v quiet || { echo "0 passed, 1 failed"; exit 1; }
  export TANKSOPHOS_PUBLISHED="$PWD/artifacts/test-web"
fi

mkdir -p artifacts
run() { # one suite, its output and exit code kept
  local name; name=$(name_of "$1")
  dotnet exec "tests/Tanksophos.$name.Tests/bin/Release/net10.0/Tanksophos.$name.Tests.dll" -noLogo -noColor -result-xml "artifacts/tests-$1.xml" >"artifacts/tests-$1.log" 2>&1
  echo $? >"artifacts/tests-$1.code"
}
rm -f artifacts/tests-*.code artifacts/tests-*.xml
# The browser mostly waits, the others mostly compute: they share two cores well.
beside=(); for suite in "${suites[@]}"; do [ "$suite" = browser ] || beside+=("$suite"); done
(for suite in "${beside[@]}"; do run "$suite"; done) &
if need_browser; then run browser; fi
wait

passed=0; failed=0
for suite in "${suites[@]}"; do
  echo "== $(name_of "$suite")"
  log=artifacts/tests-$suite.log
  cat "$log"
  code=$(cat "artifacts/tests-$suite.code" 2>/dev/null || echo 1)
  line=$(grep -E 'Total: *[0-9]+.*Failed: *[0-9]+' "$log" | tail -1)
  field() { sed -nE "s/.*$1: *([0-9]+).*/\1/p" <<<"$line"; }
  total=$(field Total); bad=$(( $(field Failed || echo 0) + $(field Errors || echo 0) )) 2>/dev/null || bad=0
  skipped=$(field Skipped); notrun=$(field 'Not Run'); skipped=$(( ${skipped:-0} + ${notrun:-0} ))
  if [ -z "$line" ] || [ -z "$total" ] || { [ "$code" != 0 ] && [ "$bad" = 0 ]; }; then echo "The suite $suite did not run to its end (exit code $code)." >&2; total=${total:-0}; bad=$((bad + 1)); fi
  passed=$((passed + total - bad - skipped)); failed=$((failed + bad))
done
[ "$passed" -ge 0 ] || passed=0
echo "== Where the time went (seconds, the slowest ten)"
for suite in "${suites[@]}"; do
  [ -f "artifacts/tests-$suite.xml" ] && grep -o '<test [^>]*>' "artifacts/tests-$suite.xml" | sed -nE "s/.* name=\"([^\"]*)\".* time=\"([0-9.]+)\".*/\2 $suite \1/p"
done | sort -rn | head -10 | cut -c1-150
echo "$passed passed, $failed failed"
[ "$failed" = 0 ] && [ "$passed" -gt 0 ]
