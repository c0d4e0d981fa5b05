using System.Text.RegularExpressions;

namespace Tanksophos.Web.Tests.Architecture;

/// <summary>A figure of the craft is written once: its digits stand in one file of the program.</summary>
public class OneSourceTests
{
    internal static string Root
    {
        get
        {
            var folder = new DirectoryInfo(AppContext.BaseDirectory);
            while (folder is not null && !File.Exists(Path.Combine(folder.FullName, "Tanksophos.slnx"))) folder = folder.Parent;
            return folder?.FullName ?? throw new InvalidOperationException("The repository was not found above the tests.");
        }
    }

    private static readonly IReadOnlyList<(string File, string Text)> Sources =
        [.. Directory.EnumerateFiles(Path.Combine(Root, "src"), "*.*", SearchOption.AllDirectories)
            .Where(f => f.EndsWith(".cs", StringComparison.Ordinal) || f.EndsWith(".cshtml", StringComparison.Ordinal)
            || f.EndsWith(".js", StringComparison.Ordinal))
            .Where(f => !Regex.IsMatch(f, @"[\\/](obj|bin|lib|Migrations|Compiled)[\\/]"))
            .Select(f => (Path.GetRelativePath(Root, f).Replace('\\', '/'), Regex.Replace(File.ReadAllText(f), @"^\s*//.*$", "", RegexOptions.Multiline)))];

    [Theory]
    [InlineData(@"3\.785", "Rigs/UsMeasures.cs", "litres of a gallon")]
    [InlineData(@"29\.57|236\.58|4\.9289", "Rigs/UsMeasures.cs", "fluid ounces, cups, teaspoons")]
    [InlineData(@"453\.59|28\.349", "Rigs/UsMeasures.cs", "pounds and ounces")]
    [InlineData(@"0\.3048", "Rigs/UsMeasures.cs", "a foot")]
    [InlineData(@"\b1\.8 \* (UsMeasures\.)?Gallon|\b6\.8137", "Dumping/RinsePlan.cs", "the flow of a usual head")]
    [InlineData(@"\b8 \* (UsMeasures\.)?Gallon", "Dumping/RinsePlan.cs", "the flow of a reverse flush")]
    [InlineData(@"\b1\.1 \* (UsMeasures\.)?Gallon", "Dumping/RinsePlan.cs", "a bowl")]
    [InlineData(@"\b0\.37\b", "Rigs/Rig.cs", "what a foot of hose holds")]
    [InlineData(@"HoseVolumes = \d|\* HoseVolumes|4 \* hose", "Dumping/GrayRinse.cs", "gray wanted for the rinse")]
    [InlineData(@"""a squirt""", "Treatments/Recipes.cs", "soap for gray")]
    [InlineData(@"cup borax", "", "amounts of the travel scrub: computed, never written")]
    [InlineData(@"FromHours\(48\)", "Treatments/RoutineDose.cs", "no dose before a dump")]
    public void A_figure_stands_in_one_file(string figure, string file, string what)
    {
        Sources.Count.ShouldBeGreaterThan(150);
        var found = Sources.Where(s => Regex.IsMatch(s.Text, figure)).Select(s => s.File).ToList();
        if (file.Length == 0) found.ShouldBeEmpty(what);
        else found.ShouldAllBe(f => f.EndsWith(file, StringComparison.Ordinal), what);
    }

    // What to do is decided by the court: no page turns the outlook's steps or a plan's actions into advice of its own.
    [Theory]
    [InlineData(@"Advice\.Steps")]
    [InlineData(@"PlanRun\.Of\(")]
    public void Pages_compose_no_advice(string way) =>
        Sources.Where(s => s.File.StartsWith("src/Tanksophos.Web/", StringComparison.Ordinal) && Regex.IsMatch(s.Text, way)).Select(s => s.File)
            .ShouldAllBe(f => f.EndsWith("Rigs/AgendaService.cs", StringComparison.Ordinal));

    // Patterns of regular expressions cannot be broken; documents in tests are not looked at.
    [Fact]
    public void Lines_stay_within_160_characters() =>
        Sources.Where(s => s.File.EndsWith(".cs", StringComparison.Ordinal))
            .SelectMany(s => s.Text.Split('\n').Where(l => l.Length > 160 && !l.Contains("[GeneratedRegex", StringComparison.Ordinal))
            .Select(l => $"{s.File}: {l.Trim()}"))
            .ShouldBeEmpty();

    // Sentences are the words library's; what the core says are codes and quantities. Errors about bad input and misuse are said where they are found.
    [Fact]
    public void The_core_writes_no_sentences() =>
        Sources.Where(s => s.File.StartsWith("src/Tanksophos.Core/", StringComparison.Ordinal))
            .SelectMany(s => s.Text.Split('\n').Where(l => !l.Contains("Exception(", StringComparison.Ordinal) && Regex.IsMatch(l, "\"[A-Z][^\"]{12,}[.]\""))
            .Select(l => $"{s.File}: {l.Trim()}")).ShouldBeEmpty();
}
