#!/usr/bin/env bash
# Restores, builds and starts the program with an invented rig and its log, and prints the address when it answers.
#   ./demo.sh [--port N] [--lan]      --lan: answer the local network too; then the first visitor makes an account
set -euo pipefail
cd "$(dirname "$0")"
port=5080; more=()
while [ $# -gt 0 ]; do
  case "$1" in
    --port) port="${2:-}"; shift 2 ;;
    --port=*) port="${1#*=}"; shift ;;
    --lan) more+=(--lan); shift ;;
    -h|--help) sed -n '2,3s/^# *//p' "$0"; exit 0 ;;
    *) echo "Unknown option '$1'. Accepted: --port N, --lan" >&2; exit 2 ;;
  esac
done
case "$port" in ''|*[!0-9]*) echo "--port: a number from 1 to 65535 is accepted, found '$port'." >&2; exit 2 ;; esac
[ "$port" -ge 1 ] && [ "$port" -le 65535 ] || { echo "--port: a number from 1 to 65535 is accepted, found '$port'." >&2; exit 2; }
command -v dotnet >/dev/null || { echo "The .NET 10 SDK is needed: 'dotnet' was not found." >&2; exit 1; }
if (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; then
  echo "Port $port is taken by another program. Choose another: ./demo.sh --port $((port + 1))" >&2; exit 3
fi

echo "Building (the first time takes a minute or two) ..."
out=artifacts/demo
# For this machine and compiled ahead, so that it starts quickly; where that cannot be had, the plain way.
dotnet publish src/Tanksophos.Web -c Release -o "$out" --use-current-runtime --self-contained false --nologo -v quiet ||
  dotnet publish src/Tanksophos.Web -c Release -o "$out" --nologo -v quiet

# A fresh demonstration each time; your own data lives elsewhere (see the README) and is not touched.
rm -rf .demo; mkdir -p .demo
ASPNETCORE_ENVIRONMENT=Production dotnet "$out/tanksophos-web.dll" --data .demo --demo --port "$port" ${more[@]+"${more[@]}"} &
server=$!
trap 'kill $server 2>/dev/null || true' EXIT INT TERM
for _ in $(seq 1 150); do
  kill -0 $server 2>/dev/null || { wait $server || exit $?; exit 1; }
  if curl -sf -o /dev/null "http://localhost:$port/" 2>/dev/null || (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; then
    echo; echo "Open http://localhost:$port/ in your browser. Ctrl+C stops it."; echo
    wait $server; exit $?
  fi
  sleep 0.2
done
echo "The program did not answer within 30 seconds." >&2; exit 1
