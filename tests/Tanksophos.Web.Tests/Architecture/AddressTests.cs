using System.Text.RegularExpressions;

namespace Tanksophos.Web.Tests.Architecture;

/// <summary>Behind a proxy the program may lie under a part of the address: no page may write an address from the top.</summary>
public sealed partial class AddressTests
{
    [Fact]
    public void No_page_writes_an_address_from_the_top()
    {
        var pages = Path.Combine(Root(), "src", "Tanksophos.Web", "Pages");
        var found = Directory.EnumerateFiles(pages, "*.cshtml", SearchOption.AllDirectories)
            .SelectMany(f => FromTheTop().Matches(File.ReadAllText(f)).Select(m => $"{Path.GetFileName(f)}: {m.Value}")).ToList();
        found.ShouldBeEmpty();
    }

    [Fact]
    public void No_script_asks_for_an_address_from_the_top()
    {
        var scripts = Path.Combine(Root(), "src", "Tanksophos.Web", "wwwroot", "js");
        Directory.EnumerateFiles(scripts, "*.js", SearchOption.AllDirectories)
            .SelectMany(f => Asked().Matches(File.ReadAllText(f)).Select(m => $"{Path.GetFileName(f)}: {m.Value}")).ShouldBeEmpty();
    }

    private static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Tanksophos.slnx"))) at = Path.GetDirectoryName(at)!;
        return at;
    }

    [GeneratedRegex("""(href|src|action|formaction|data-(post|live|meter|draws|working|state-at|after))="/[a-z?][^"]*""")]
    private static partial Regex FromTheTop();

    [GeneratedRegex("""(fetch|assign|register)\(['`"]/[a-z]""")]
    private static partial Regex Asked();
}
