using System.Reflection;

namespace Tanksophos.BarePage;

/// <summary>The web application with one page more, for comparison.</summary>
internal static class Start
{
    private static int Main(string[] args) => (int)Assembly.Load("tanksophos-web").EntryPoint!.Invoke(null, [args])!;
}
