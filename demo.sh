#!/usr/bin/env bash
# Restores, builds and starts the program with an invented rig and its log, and prints the address when it answers.
#   ./demo.sh [--port N] [--lan] [--devices [--speed N]]
#   --lan: answer the local network too; then the first visitor makes an account
#   --devices: stand-ins for a panel, meters, a thermometer, weather and mail, with a page to turn their knobs; time runs 60 times as fast (--speed)
set -euo pipefail
cd "$(dirname "$0")"
port=5080; more=(); devices=; speed=60
while [ $# -gt 0 ]; do
  case "$1" in
    --port) port="${2:-}"; shift 2 ;;
    --port=*) port="${1#*=}"; shift ;;
    --lan) more+=(--lan); shift ;;
    --devices) devices=yes; shift ;;
    --speed) speed="${2:-}"; shift 2 ;;
    --speed=*) speed="${1#*=}"; shift ;;
    -h|--help) sed -n '2,5s/^# *//p' "$0"; exit 0 ;;
    *) echo "Unknown option '$1'. Accepted: --port N, --lan, --devices, --speed N" >&2; exit 2 ;;
  esac
done
case "$port" in ''|*[!0-9]*) echo "--port: a number from 1 to 65535 is accepted, found '$port'." >&2; exit 2 ;; esac
[ "$port" -ge 1 ] && [ "$port" -le 65535 ] || { echo "--port: a number from 1 to 65535 is accepted, found '$port'." >&2; exit 2; }
case "$speed" in ''|*[!0-9]*) echo "--speed: a number from 1 to 600 is accepted, found '$speed'." >&2; exit 2 ;; esac
command -v dotnet >/dev/null || { echo "The .NET 10 SDK is needed: 'dotnet' was not found." >&2; exit 1; }
if (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; then
  echo "Port $port is taken by another program. Choose another: ./demo.sh --port $((port + 1))" >&2; exit 3
fi

echo "Building (the first time takes a minute or two) ..."
out=artifacts/demo
# For this machine and compiled ahead, so that it starts quickly; where that cannot be had, the plain way.
dotnet publish src/Tanksophos.Web -c Release -o "$out" --use-current-runtime --self-contained false --nologo -v quiet ||
  dotnet publish src/Tanksophos.Web -c Release -o "$out" --nologo -v quiet

if [ -n "$devices" ]; then
  dotnet publish src/Tanksophos.StandIns -c Release -o artifacts/standins --nologo -v quiet
  knobs=$((port + 10)); broker=$((port + 20)); mail=$((port + 30)); now=$(date +%Y-%m-%dT%H:%M:%S%:z)
  more+=(--mqtt-broker "$broker" --weather "http://127.0.0.1:$knobs/days" --smtp "smtp://127.0.0.1:$mail" --smtp-from rig@example.org
    --inbox .demo/inbox --now "$now" --speed "$speed")
fi

# A fresh demonstration each time; your own data lives elsewhere (see the README) and is not touched.
rm -rf .demo; mkdir -p .demo
ASPNETCORE_ENVIRONMENT=Production dotnet "$out/tanksophos-web.dll" --data .demo --demo --port "$port" ${more[@]+"${more[@]}"} &
server=$!
standins=
trap 'kill $server $standins 2>/dev/null || true' EXIT INT TERM
for _ in $(seq 1 150); do
  kill -0 $server 2>/dev/null || { wait $server || exit $?; exit 1; }
  if curl -sf -o /dev/null "http://localhost:$port/" 2>/dev/null || (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; then
    if [ -n "$devices" ]; then
      until curl -sf -o /dev/null "http://localhost:$port/health"; do sleep 0.2; done
      tokens=()
      for name in panel-1 strip-1 meter-1 valves-1 bay-1; do
        tokens+=(--token "$name=$(dotnet "$out/tanksophos-web.dll" device "$name" --data .demo | tail -n 1)")
      done
      dotnet artifacts/standins/tanksophos-standins.dll --port "$knobs" --server "http://localhost:$port" --mqtt "$broker" --smtp "$mail" \
        --inbox .demo/inbox --now "$now" --speed "$speed" "${tokens[@]}" &
      standins=$!
      echo "Turn the knobs at http://localhost:$knobs/ and watch Today, Devices, Weather and Notices."
    fi
    echo; echo "Open http://localhost:$port/ in your browser. Ctrl+C stops it."; echo
    wait $server; exit $?
  fi
  sleep 0.2
done
echo "The program did not answer within 30 seconds." >&2; exit 1
