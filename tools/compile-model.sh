#!/usr/bin/env bash
# Compiles the model of the database ahead, so that a start need not work it out. To be run after every change of the rows or their mapping;
# a test says when it was forgotten.
set -euo pipefail
cd "$(dirname "$0")/../src/Tanksophos.Data"
dotnet tool restore >/dev/null
rm -rf Compiled
dotnet build -c Release -v quiet
dotnet ef dbcontext optimize --no-build --configuration Release --output-dir Compiled --namespace Tanksophos.Data.Compiled
sed -i 's/^    public partial class/    internal partial class/; s/^    public static class/    internal static class/' Compiled/*.cs
