using System.Text;
using System.Text.RegularExpressions;
using OpenQA.Selenium;

namespace Tanksophos.Browser.Tests;

/// <summary>What goes on paper, as the browser prints it: the sheets fit one page of US Letter, black on white, without the rail.</summary>
public sealed partial class PrintTests : IDisposable
{
    private readonly Site site = new(demo: true);

    public void Dispose() => site.Dispose();

    [GeneratedRegex(@"/Type\s*/Page\b")]
    private static partial Regex Pages();

    [Theory]
    [InlineData("/run/card?form=full")]
    [InlineData("/run/card?form=gray-only")]
    [InlineData("/trip/sheet")]
    [InlineData("/find/sheet")]
    public void A_sheet_fits_one_page(string path)
    {
        using var browser = new Browser(site.Url, 1280, 800, "night");
        browser.Open(path);
        var pdf = Encoding.Latin1.GetString(browser.Driver.Print(new PrintOptions
        {
            PageDimensions = new PrintOptions.PageSize { Width = 21.59, Height = 27.94 },
            ShrinkToFit = true,
        }).AsByteArray);
        Pages().Count(pdf).ShouldBe(1, path);
        browser.Driver.ExecuteCdpCommand("Emulation.setEmulatedMedia", new() { ["media"] = "print" });
        browser.Run<bool>("return getComputedStyle(document.querySelector('.rail')).display === 'none'").ShouldBeTrue();
        browser.Run<string>("const s = getComputedStyle(document.querySelector('.paper, .run-card')); return s.color + ' on ' + s.backgroundColor")
            .ShouldBe("rgb(16, 16, 16) on rgb(255, 255, 255)");
        browser.Driver.ExecuteCdpCommand("Emulation.setEmulatedMedia", new() { ["media"] = "" });
    }
}
