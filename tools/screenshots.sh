#!/usr/bin/env bash
# Takes the pictures in docs/screenshots anew, from the demonstration's data at a fixed moment. Needs what ./test.sh needs.
set -euo pipefail
cd "$(dirname "$0")/.."
dotnet build tests/Tanksophos.Browser.Tests -c Release -v quiet --nologo
dotnet publish src/Tanksophos.Web -c Release -o artifacts/test-web --use-current-runtime --self-contained false -v quiet --nologo
TANKSOPHOS_PUBLISHED="$PWD/artifacts/test-web" dotnet exec tests/Tanksophos.Browser.Tests/bin/Release/net10.0/Tanksophos.Browser.Tests.dll -noLogo -noColor -explicit only -class Tanksophos.Browser.Tests.Screenshots
ls -la docs/screenshots
