#!/usr/bin/env bash
# A client in a few lines. Needs curl. The token comes from the page Account; a device's from the page Devices.
#   export TANKSOPHOS=http://localhost:5080 TOKEN=tks_...
#   ./tanksophos.sh agenda
#   ./tanksophos.sh entries type=dump limit=5
#   ./tanksophos.sh log '{"type":"reading","tank":"black","via":"panel","lit":["low"]}'
#   ./tanksophos.sh measure '{"device":"panel-1","values":{"gray":{"percent":42}}}'
set -euo pipefail
api="${TANKSOPHOS:-http://localhost:5080}/api/v1"
ask() { curl -fsS -H "Authorization: Bearer ${TOKEN:?a token is needed}" "$@"; }
case "${1:-}" in
  rig|logbook|assessment|agenda|plan|devices) ask "$api/$1" ;;
  entries)
    shift; more=(); for pair in "$@"; do more+=(--data-urlencode "$pair"); done
    ask --get ${more[@]+"${more[@]}"} "$api/entries" ;;
  log)
    # An id makes it safe to send again; without a time it is now.
    entry="${2:?an entry is needed}"
    case "$entry" in *'"at"'*) ;; *) entry="{\"at\":\"$(date -u +%Y-%m-%dT%H:%M:%SZ)\",${entry#\{}" ;; esac
    case "$entry" in *'"id"'*) ;; *) entry="{\"id\":\"sh-$(date +%s)-$$\",${entry#\{}" ;; esac
    ask -H 'Content-Type: application/json' --data "$entry" "$api/entries" ;;
  measure) ask -H 'Content-Type: application/json' --data "${2:?a measurement is needed}" "$api/measurements" ;;
  *) sed -n '2,8s/^# *//p' "$0"; exit 2 ;;
esac
echo
