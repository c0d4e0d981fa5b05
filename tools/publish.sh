#!/usr/bin/env bash
# Folders that run without .NET being installed, for each kind of machine: artifacts/linux-x64, artifacts/linux-arm64. Prints their sizes.
#   tools/publish.sh [linux-x64|linux-arm64]...
set -euo pipefail
cd "$(dirname "$0")/.."
[ $# -gt 0 ] || set -- linux-x64 linux-arm64
for kind in "$@"; do
  case "$kind" in linux-x64|linux-arm64) ;; *) echo "Unknown kind '$kind'. Accepted: linux-x64, linux-arm64" >&2; exit 2 ;; esac
  out="artifacts/$kind"
  rm -rf "$out"
  dotnet publish src/Tanksophos.Web -c Release -r "$kind" --self-contained -o "$out" --nologo -v quiet
  echo "$kind: $(du -sh "$out" | cut -f1) in $(find "$out" -type f | wc -l) files, $out"
done
