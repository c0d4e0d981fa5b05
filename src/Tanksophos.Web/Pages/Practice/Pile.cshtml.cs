using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Core.Practice;
using Tanksophos.Web.Rigs;
using Tanksophos.Words.Pages;

namespace Tanksophos.Web.Pages;

/// <summary>The pile under the toilet, to explore: valve closed against open.</summary>
public sealed class PracticePileModel(CurrentRequest house) : PageModel
{
    /// <summary>The habits that the sliders stand at.</summary>
    public PileHabits Habits { get; private set; } = PileHabits.Usual;

    /// <summary>Litres of a unit as this person reads it.</summary>
    public double PerUnit => house.Units.LitresPerUnit;

    /// <summary>What is drawn, as the script reads it.</summary>
    public object Played => new { closed = Series(false), open = Series(true), capacity = Habits.CapacityL, backs = PileModel.BacksUpFrom };

    public void OnGet()
    {
    }

    /// <summary>Plays the habits that the sliders say.</summary>
    public IActionResult OnGetPlay(string? flush, string? starter, string? dump, string? paper, string? people)
    {
        if ((flush, starter, dump, paper, people) is (null, null, null, null, null)) return new JsonResult(Played);
        if (!Number(flush, out var f) || !Number(starter, out var s) || !Number(dump, out var d) || !Number(paper, out var p)
            || !int.TryParse(people, NumberStyles.None, CultureInfo.InvariantCulture, out var n)) return BadRequest(PracticeSays.PileNumbers);
        Habits = (Habits with { FlushL = f, StarterL = s, DumpAt = d, Paper = p, People = n }).Sound();
        return new JsonResult(Played);
    }

    private object Series(bool open)
    {
        var hours = PileModel.Play(Habits, open);
        double[] Of(Func<PileHour, double> of) => [.. hours.Select(h => Math.Round(of(h), 4))];
        return new
        {
            liquid = Of(h => h.LiquidL + h.PileL),
            pile = Of(h => h.PileL),
            hard = Of(h => h.PileL > 0 ? h.HardL / h.PileL : 0),
            height = Of(h => h.Height),
            radius = Of(h => h.Radius),
            dumps = hours.Select((h, i) => (h.Dumped, i)).Where(x => x.Dumped).Select(x => x.i),
        };
    }

    private static bool Number(string? text, out double number) =>
        double.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out number) && double.IsFinite(number);
}
