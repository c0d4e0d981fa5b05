using Microsoft.AspNetCore.Html;
using Tanksophos.Core.Rigs;

namespace Tanksophos.Web.Drawing;

/// <summary>Small pictures of our own, drawn with one pen; they inherit the text's color.</summary>
public static class Icons
{
    private static readonly Dictionary<string, string> Paths = new()
    {
        ["mark"] = "M3 6.5 21 8.5V17L3 15ZM3 11.2 21 11.2M16 16.5V20",
        ["today"] = "M3 7 21 9V18L3 16ZM3 12 21 12M9 3.5 12 5.5 15 2.5",
        ["log"] = "M4 20H20M5 16.5 15.5 6 18 8.5 7.5 19H5ZM13.5 8 16 10.5",
        ["menu"] = "M4 7H20M4 12H20M4 17H20",
        ["logbook"] = "M6 3.5H18.5V20.5H6ZM9.5 8H15M9.5 12H15M9.5 16H13M3.8 7.5H6M3.8 12H6M3.8 16.5H6",
        ["import"] = "M12 3V14M7.8 10 12 14.2 16.2 10M4 16V20H20V16",
        ["rig"] = "M2.5 16V7.5H17L21.5 12V16ZM7 18.8A2 2 0 1 0 7 14.8 2 2 0 0 0 7 18.8ZM14 7.5V12H21",
        ["rules"] = "M12 3V20M6 20H18M5 7H19M5 7 2.5 13H7.5ZM19 7 16.5 13H21.5Z",
        ["find"] = "M10.5 4A6.5 6.5 0 1 0 10.5 17 6.5 6.5 0 1 0 10.5 4ZM15.3 15.3 20.5 20.5M10.5 8.2V11M10.5 13.2V13.4",
        ["sensors"] = "M5 3V21M5 6H10M5 12H10M5 18H10M13 6A2.6 2.6 0 1 0 18.2 6 2.6 2.6 0 0 0 13 6ZM13 12A2.6 2.6 0 1 0 18.2 12 2.6 2.6 0 0 0 13 12ZM13 18A2.6 "
            + "2.6 0 1 0 18.2 18 2.6 2.6 0 0 0 13 18ZM11.5 20.5 19.7 15.5",
        ["light"] = "M9 3H15V8L13 11V21H11V11L9 8ZM3 4 5.5 5.5M21 4 18.5 5.5",
        ["odor"] = "M4 8C7 5 9 11 12 8S17 5 20 8M4 13C7 10 9 16 12 13S17 10 20 13M4 18C7 15 9 21 12 18S17 15 20 18",
        ["symptom"] = "M12 3 22 20H2ZM12 9V14M12 17H12.1",
        ["cross"] = "M6 6 18 18M18 6 6 18",
        ["check"] = "M4 12.5 9.5 18 20 6",
        ["flush"] = "M12 3V9M7 5 9 10M17 5 15 10M4 13H20L18 20H6Z",
        ["dose"] = "M9 3H15V7L18 11V20H6V11L9 7ZM6 14H18",
        ["drive"] = "M3 16V8H14L20 12V16ZM7 18.5A1.8 1.8 0 1 0 7 15 1.8 1.8 0 0 0 7 18.5ZM16.5 18.5A1.8 1.8 0 1 0 16.5 15 1.8 1.8 0 0 0 16.5 18.5Z",
        ["service"] = "M14.5 6.5A4 4 0 0 0 9.6 11.6L4 17.2 6.8 20 12.4 14.4A4 4 0 0 0 17.5 9.5L15 12 12 9Z",
        ["more"] = "M12 5V19M5 12H19",
        ["care"] = "M3 10 21 12V20L3 18ZM7 3C7 3 5.4 5 5.4 6.2A1.6 1.6 0 0 0 8.6 6.2C8.6 5 7 3 7 3ZM13 8V3.5H18V8M9 15 11 17 15 13.6",
        ["practice"] = "M3 12 21 14V21L3 19.5ZM9.2 4.6C9.8 2.6 14.6 2.4 14.6 5.2 14.6 7.2 12 7.2 12 9.4M12 11.2V11.3",
        ["chore"] = "M3 10 21 12V20L3 18ZM7 3C7 3 5.4 5 5.4 6.2A1.6 1.6 0 0 0 8.6 6.2C8.6 5 7 3 7 3ZM13 8V3.5H18V8M9 15 11 17 15 13.6",
        ["keys"] = "M3 6H21V18H3ZM7 10H7.1M12 10H12.1M17 10H17.1M8 14H16",
        ["alarm"] = "M12 3.5 21.5 20H2.5ZM12 9.5V14.5M12 17.2H12.1",
        ["panel"] = "M4 5H20V19H4ZM8 9H8.1M8 15H8.1M12 9H16.5M12 15H16.5",
        ["dump"] = "M4 6H20V12H4ZM12 12V16M8.5 16.5 12 20 15.5 16.5",
        ["water"] = "M12 3.5C12 3.5 6 10.2 6 14.4A6 6 0 0 0 18 14.4C18 10.2 12 3.5 12 3.5Z",
        ["people"] = "M9 11A3.2 3.2 0 1 0 9 4.6 3.2 3.2 0 0 0 9 11ZM3 19.5C3.3 15.8 5.6 14 9 14S14.7 15.8 15 19.5M16 5A3 3 0 0 1 16 11M17.5 14.3C19.6 15 20.8 "
            + "16.7 21 19.5",
        ["place"] = "M12 21C12 21 5 14.4 5 9.6A7 7 0 0 1 19 9.6C19 14.4 12 21 12 21ZM12 12A2.4 2.4 0 1 0 12 7.2 2.4 2.4 0 0 0 12 12Z",
        ["valve"] = "M3 9H21V15H3ZM12 3V21",
        ["full"] = "M3 8H12V16C12 18 13 19 15 19H21M3 5V11M18 4C18 4 15 7.3 15 9.4A3 3 0 0 0 21 9.4C21 7.3 18 4 18 4Z",
        ["partial"] = "M12 3.5C12 3.5 6 10.2 6 14.4A6 6 0 0 0 18 14.4C18 10.2 12 3.5 12 3.5Z",
        ["gray-drain"] = "M8 3.5C8 3.5 4 8 4 11A4 4 0 0 0 12 11C12 8 8 3.5 8 3.5ZM14 12V17M11.5 15 14 17.5 16.5 15M10 20.5H20",
        ["dry"] = "M3 19 12 5 21 19ZM9.5 19 12 14.5 14.5 19",
        ["dump-station"] = "M3 5H13V9H10V14C10 16 11 17 13 17H15M3 3V11M17 12H21V20H15V17M18 12V6L21 3",
        ["trip"] = "M4 19C4 13 10 15 12 11S19 8 20 4M4 19A1.4 1.4 0 1 0 4.1 19ZM20 4A1.4 1.4 0 1 0 20.1 4ZM9.5 19H20M16 16.5 20 19 16 21.5",
        ["storage"] = "M3.5 11 12 4.5 20.5 11V20H3.5ZM8 20V14H16V20",
        ["day"] = "M12 16A4 4 0 1 0 12 8 4 4 0 0 0 12 16ZM12 2.5V5M12 19V21.5M2.5 12H5M19 12H21.5M5.3 5.3 7 7M17 17 18.7 18.7M18.7 5.3 17 7M7 17 5.3 18.7",
        ["frost"] = "M12 2.5V21.5M3.8 7.2 20.2 16.8M20.2 7.2 3.8 16.8M9.5 4 12 6.5 14.5 4M9.5 20 12 17.5 14.5 20",
        ["night"] = "M19.5 14.5A8 8 0 0 1 9.5 4.5 8 8 0 1 0 19.5 14.5Z",
        ["account"] = "M12 11.5A3.8 3.8 0 1 0 12 3.9 3.8 3.8 0 0 0 12 11.5ZM4.5 20.5C5 16.2 7.8 14 12 14S19 16.2 19.5 20.5",
        // What people notice, over the tank in section.
        ["backs-up-on-flush"] = "M3 13 21 15V21L3 19ZM9 13.5V8H15V14M6 8H18M12 6V2M9.8 4 12 1.8 14.2 4",
        ["drains-slowly"] = "M3 5 21 7V13L3 11ZM17 12.5V15M17 17.5V18M17 20.5V21",
        ["gurgles"] = "M3 13 21 15V21L3 19ZM8 9.5A1.8 1.8 0 1 0 8 5.9 1.8 1.8 0 0 0 8 9.5ZM14.5 7A2.3 2.3 0 1 0 14.5 2.4 2.3 2.3 0 0 0 14.5 7ZM12.5 11.2A1 1 0 "
            + "1 0 12.5 9.2 1 1 0 0 0 12.5 11.2Z",
        ["fills-too-soon"] = "M3 9 21 11V20L3 18ZM3 11.5 21 13.5M8 7.5V2M5.8 5 8 7.5 10.2 5M14 7H20M17 4V7",
        ["heap-seen"] = "M3 9 21 11V20L3 18ZM5 18.2 10 12 15 19.3M10 7V3",
        ["nothing-comes-out"] = "M3 5 21 7V14L3 12ZM17 13.5V16M13 18 20 22M20 18 13 22",
        ["valve-stiff"] = "M12 3V14M8 3H16M3 14H21V20H3ZM17.5 5 20.5 8M20.5 5 17.5 8",
        ["valve-drips"] = "M12 2V8M8 2H16M3 8H21V13H3ZM12 16C12 16 9.8 18.4 9.8 20A2.2 2.2 0 0 0 14.2 20C14.2 18.4 12 16 12 16Z",
        ["valve-wont-close"] = "M12 2V9M8 2H16M3 14H21V20H3ZM9 9H15V14M6 17H18",
        ["bowl-goes-dry"] = "M4 6H20C20 12 17 16 14 16H10C7 16 4 12 4 6ZM10 16V20H14V16M9 9.5 15 12.5M15 9.5 9 12.5",
        ["shower-stands-in-water"] = "M3 20H21V13H3ZM3 16C6 14.5 9 17.5 12 16S18 14.5 21 16M8 10V3H14V5M12.5 7.5 12 9M15.5 7.5 16 9",
        ["propane-alarm"] = "M9 20H15A4 4 0 0 0 15 10V8H9V10A4 4 0 0 0 9 20ZM10.5 8V5H13.5V8M3 4 6 6M21 4 18 6M2 10H5M22 10H19",
        ["lamps-dead"] = "M4 5H20V19H4ZM8 9H8.1M8 12H8.1M8 15H8.1M11 8 18 16M18 8 11 16",
        ["lamps-all-on"] = "M4 5H20V19H4ZM8 7.5V9.5M8 11V13M8 14.5V16.5M11 8.5H17M11 12H17M11 15.5H17M1 12H2.5M21.5 12H23M12 1V2.5",
        ["undo"] = "M9 5 4.5 9.5 9 14M5 9.5H14A5.5 5.5 0 0 1 14 20.5H10",
    };

    /// <summary>An icon beside words; it says nothing by itself to a screen reader.</summary>
    public static IHtmlContent Of(string name, int size = 24) => new HtmlString(
        $"<svg class=\"icon\" width=\"{size}\" height=\"{size}\" viewBox=\"0 0 24 24\" aria-hidden=\"true\"><path d=\"{Paths[name]}\"/></svg>");

    /// <summary>The bare path of any icon, for use inside a drawing.</summary>
    public static string PathOf(string name) => Paths[name];

    /// <summary>The bare path, for use inside a drawing.</summary>
    public static string Path(Hookup hookup) => Paths[Codes<Hookup>.Word(hookup)];

    public static IHtmlContent Of(Hookup hookup, int size = 24) => Of(Codes<Hookup>.Word(hookup), size);
}
