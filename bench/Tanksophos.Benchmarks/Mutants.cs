using System.Diagnostics;
using System.Globalization;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tanksophos.Benchmarks;

/// <summary>
/// Do the tests notice? Changes one place of the core at a time (a comparison turned, a sign, a minimum for a maximum, and for or), runs all
/// tests of the core against it and prints the changes that no test saw. The same seed picks the same places of the same code.
/// </summary>
internal static class Mutants
{
    private sealed record Mutant(string File, int Line, string Kind, string Before, string After, int Start, int Length);

    public static async Task<int> RunAsync(int count, int seed, string? only)
    {
        var root = Directory.GetCurrentDirectory();
        var tree = Path.Combine(root, "artifacts", "mutants");
        await GitAsync(root, "worktree", "remove", "--force", tree);
        if (await GitAsync(root, "worktree", "add", "--detach", tree, "HEAD") != 0)
            return Fail("The committed tree could not be checked out into artifacts/mutants.");
        try
        {
            return await RunInAsync(tree, count, seed, only);
        }
        finally
        {
            await GitAsync(root, "worktree", "remove", "--force", tree);
        }
    }

    private static async Task<int> RunInAsync(string tree, int count, int seed, string? only)
    {
        var core = Path.Combine(tree, "src", "Tanksophos.Core");
        var tests = Path.Combine(tree, "tests", "Tanksophos.Core.Tests");
        string[] quick = ["-c", "Release", "-v", "quiet", "--nologo", "-p:RunAnalyzers=false", "-p:TreatWarningsAsErrors=false",
            "-p:EmitCompilerGeneratedFiles=true"];
        if (await RunAsync(tree, 600, "dotnet", ["build", tests, .. quick]) != 0) return Fail("The tests of the core do not build.");
        var output = Path.Combine(tests, "bin", "Release", "net10.0");
        var runner = Path.Combine(output, "Tanksophos.Core.Tests.dll");
        var clock = Stopwatch.StartNew();
        if (await TestAsync(tree, runner, 600) != 0) return Fail("The tests of the core fail before anything was changed.");
        var limit = (int)(clock.Elapsed.TotalSeconds * 4) + 30;

        var code = Compile(core);
        var places = Places(code, core, only);
        var random = new Random(seed);
        Console.WriteLine(FormattableString.Invariant($"{places.Count} places to change, seed {seed}, tests take {clock.Elapsed.TotalSeconds:0} s"));
        var survived = new List<Mutant>();
        var built = 0;
        while (built < count && places.Count > 0)
        {
            var at = random.Next(places.Count);
            var mutant = places[at];
            places.RemoveAt(at);
            if (!Emit(code, mutant, Path.Combine(output, "Tanksophos.Core.dll"))) continue;
            built++;
            var killed = await TestAsync(tree, runner, limit) != 0;
            if (!killed) survived.Add(mutant);
            Console.WriteLine($"{built.ToString(CultureInfo.InvariantCulture),4} {(killed ? "killed  " : "SURVIVED")} {mutant.File}:{mutant.Line} "
                + $"{mutant.Kind}  {mutant.Before}  ->  {mutant.After}");
        }
        var share = built == 0 ? 0 : 100.0 * (built - survived.Count) / built;
        Console.WriteLine(FormattableString.Invariant($"{built} mutants, {built - survived.Count} killed ({share:0} %), {survived.Count} survived"));
        foreach (var m in survived) Console.WriteLine($"  {m.File}:{m.Line}  {m.Before}  ->  {m.After}");
        return 0;
    }

    /// <summary>The core as a compilation: its sources, what the build generated for it, and the libraries that this program itself runs on.</summary>
    private static CSharpCompilation Compile(string core)
    {
        var options = new CSharpParseOptions(LanguageVersion.Preview, DocumentationMode.None);
        var generated = Path.Combine(core, "obj", "Release", "net10.0");
        var files = Directory.EnumerateFiles(core, "*.cs", SearchOption.AllDirectories)
            .Where(f => !Path.GetRelativePath(core, f).StartsWith("obj", StringComparison.Ordinal) && !Path.GetRelativePath(core, f)
            .StartsWith("bin", StringComparison.Ordinal))
            .Concat(Directory.EnumerateFiles(generated, "*.cs", SearchOption.AllDirectories))
            .Order(StringComparer.Ordinal);
        var trees = files.Select(f => CSharpSyntaxTree.ParseText(File.ReadAllText(f), options, f));
        var libraries = ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!).Split(Path.PathSeparator)
            .Where(l => !Path.GetFileName(l).StartsWith("Tanksophos", StringComparison.Ordinal))
            .Select(l => MetadataReference.CreateFromFile(l));
        return CSharpCompilation.Create("Tanksophos.Core", trees, libraries, new CSharpCompilationOptions(
            OutputKind.DynamicallyLinkedLibrary, optimizationLevel: OptimizationLevel.Release, allowUnsafe: true,
                nullableContextOptions: NullableContextOptions.Enable));
    }

    /// <summary>Compiles the core with one place changed. False when that is no program.</summary>
    private static bool Emit(CSharpCompilation code, Mutant mutant, string target)
    {
        var tree = code.SyntaxTrees.Single(t => t.FilePath.EndsWith(Path.DirectorySeparatorChar + mutant.File, StringComparison.Ordinal));
        var text = tree.GetText().Replace(mutant.Start, mutant.Length, mutant.After);
        using var image = new MemoryStream();
        if (!code.ReplaceSyntaxTree(tree, tree.WithChangedText(text)).Emit(image).Success) return false;
        File.WriteAllBytes(target, image.ToArray());
        return true;
    }

    /// <summary>Every place that can be changed, in the order of files and of the text.</summary>
    private static List<Mutant> Places(CSharpCompilation code, string core, string? only)
    {
        var all = new List<Mutant>();
        foreach (var syntax in code.SyntaxTrees)
        {
            var file = Path.GetRelativePath(core, syntax.FilePath);
            if (file.StartsWith("obj", StringComparison.Ordinal)) continue;
            if (only is not null && !file.StartsWith(only, StringComparison.Ordinal)) continue;
            foreach (var node in syntax.GetRoot().DescendantNodes())
            {
                var (t, after, kind) = Change(node);
                if (after is null) continue;
                var line = t.GetLocation().GetLineSpan().StartLinePosition.Line + 1;
                var text = node.ToString().ReplaceLineEndings(" ");
                all.Add(new(file, line, kind, text.Length > 90 ? text[..90] + "..." : text, after, t.SpanStart, t.Span.Length));
            }
        }
        return all;
    }

    private static (SyntaxToken Token, string? After, string Kind) Change(SyntaxNode node) => node switch
    {
        BinaryExpressionSyntax b => b.OperatorToken.Kind() switch
        {
            SyntaxKind.LessThanToken => (b.OperatorToken, ">", "comparison"),
            SyntaxKind.LessThanEqualsToken => (b.OperatorToken, ">=", "comparison"),
            SyntaxKind.GreaterThanToken => (b.OperatorToken, "<", "comparison"),
            SyntaxKind.GreaterThanEqualsToken => (b.OperatorToken, "<=", "comparison"),
            SyntaxKind.EqualsEqualsToken => (b.OperatorToken, "!=", "comparison"),
            SyntaxKind.ExclamationEqualsToken => (b.OperatorToken, "==", "comparison"),
            SyntaxKind.PlusToken when !IsText(b) => (b.OperatorToken, "-", "sign"),
            SyntaxKind.MinusToken => (b.OperatorToken, "+", "sign"),
            SyntaxKind.AsteriskToken => (b.OperatorToken, "/", "factor"),
            SyntaxKind.SlashToken => (b.OperatorToken, "*", "factor"),
            SyntaxKind.AmpersandAmpersandToken => (b.OperatorToken, "||", "logic"),
            SyntaxKind.BarBarToken => (b.OperatorToken, "&&", "logic"),
            _ => default,
        },
        RelationalPatternSyntax p => p.OperatorToken.Kind() switch
        {
            SyntaxKind.LessThanToken => (p.OperatorToken, ">", "comparison"),
            SyntaxKind.LessThanEqualsToken => (p.OperatorToken, ">=", "comparison"),
            SyntaxKind.GreaterThanToken => (p.OperatorToken, "<", "comparison"),
            SyntaxKind.GreaterThanEqualsToken => (p.OperatorToken, "<=", "comparison"),
            _ => default,
        },
        MemberAccessExpressionSyntax { Expression: IdentifierNameSyntax { Identifier.Text: "Math" } } m => m.Name.Identifier.Text switch
        {
            "Min" => (m.Name.Identifier, "Max", "bound"),
            "Max" => (m.Name.Identifier, "Min", "bound"),
            _ => default,
        },
        _ => default,
    };

    // Texts joined with a plus would not build with a minus: not worth a try.
    private static bool IsText(BinaryExpressionSyntax b) =>
        b.DescendantNodesAndSelf().Any(n => n is InterpolatedStringExpressionSyntax || n.IsKind(SyntaxKind.StringLiteralExpression));

    private static Task<int> TestAsync(string tree, string runner, int seconds) =>
        RunAsync(tree, seconds, "dotnet", ["exec", runner, "-noLogo", "-noColor", "-stopOnFail"]);

    private static Task<int> GitAsync(string root, params string[] args) => RunAsync(root, 60, "git", args);

    private static async Task<int> RunAsync(string directory, int seconds, string program, IEnumerable<string> args)
    {
        var start = new ProcessStartInfo(program) { WorkingDirectory = directory, RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (var a in args) start.ArgumentList.Add(a);
        start.Environment["MSBUILDDISABLENODEREUSE"] = "1";
        using var process = Process.Start(start)!;
        var drained = Task.WhenAll(process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(seconds));
        try
        {
            await process.WaitForExitAsync(limit.Token);
            await drained;
            return process.ExitCode;
        }
        catch (OperationCanceledException)
        {
            // A change that runs forever was noticed.
            process.Kill(true);
            return -1;
        }
    }

    private static int Fail(string why)
    {
        Console.Error.WriteLine(why);
        return 1;
    }
}
