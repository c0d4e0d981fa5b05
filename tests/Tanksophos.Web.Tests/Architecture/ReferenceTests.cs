using System.Reflection;
using NetArchTest.Rules;

namespace Tanksophos.Web.Tests.Architecture;

/// <summary>Arrows point one way: Web, Cli and Data use Core; inside Core nothing uses the formats but the edges.</summary>
public class ReferenceTests
{
    private static readonly Assembly Core = typeof(Core.Rigs.Rig).Assembly;
    private static readonly Assembly Data = typeof(Tanksophos.Data.RigStore).Assembly;
    private static readonly Assembly Web = typeof(Program).Assembly;
    private static readonly Assembly StandIns = typeof(Tanksophos.StandIns.Wishes).Assembly;
    private static readonly Assembly Cli = typeof(Tanksophos.Cli.Commands).Assembly;

    private static void Never(Assembly assembly, string from, params string[] to)
    {
        var types = Types.InAssembly(assembly).That().ResideInNamespaceStartingWith(from).Or().HaveName(from[(from.LastIndexOf('.') + 1)..]);
        types.GetTypes().ShouldNotBeEmpty($"nothing is in {from}");
        var result = types.ShouldNot().HaveDependencyOnAny(to).GetResult();
        result.IsSuccessful.ShouldBeTrue($"{from} must not use {string.Join(", ", to)}: {string.Join(", ", result.FailingTypeNames ?? [])}");
    }

    [Fact]
    public void The_core_knows_no_web_no_database_and_no_other_project() =>
        Never(Core, "Tanksophos.Core", "Microsoft.AspNetCore", "Microsoft.EntityFrameworkCore", "Microsoft.Data", "Serilog", "UnitsNet", "Tanksophos.Data",
            "Tanksophos.Web", "Tanksophos.Cli");

    [Fact]
    public void The_core_has_no_clock_no_chance_and_no_files_of_its_own() =>
        Never(Core, "Tanksophos.Core", "NodaTime.SystemClock", "System.DateTime", "System.DateTimeOffset", "System.Random", "System.IO.File",
            "System.IO.Directory", "System.Net");

    [Fact]
    public void Data_knows_no_web() => Never(Data, "Tanksophos.Data", "Microsoft.AspNetCore.Mvc", "Microsoft.AspNetCore.Http", "Microsoft.AspNetCore.Builder",
        "Microsoft.AspNetCore.Hosting", "Microsoft.AspNetCore.Authentication", "Tanksophos.Web", "Tanksophos.Cli");

    [Fact]
    public void The_command_line_needs_neither_database_nor_web() => Never(Cli, "Tanksophos.Cli", "Microsoft.AspNetCore", "Microsoft.EntityFrameworkCore",
        "Tanksophos.Data", "Tanksophos.Web", "System.Net");

    [Theory]
    [InlineData("Rigs", "Log,Formats,Levels,Trips,Treatments,Outlook,Simulation,Diagnosis,Agendas")]
    [InlineData("Log", "Formats,Levels,Trips,Treatments,Outlook,Simulation,Diagnosis,Agendas")]
    [InlineData("Levels", "Formats,Trips,Treatments,Outlook,Simulation,Diagnosis,Agendas")]
    [InlineData("Trips", "Formats,Outlook,Simulation,Diagnosis,Agendas")]
    [InlineData("Treatments", "Formats,Levels,Trips,Outlook,Simulation,Diagnosis,Agendas")]
    [InlineData("Dumping", "Formats,Trips,Outlook,Simulation,Diagnosis,Agendas")]
    [InlineData("Outlook", "Formats,Simulation,Agendas")]
    [InlineData("Diagnosis", "Formats,Trips,Outlook,Simulation,Agendas")]
    [InlineData("Simulation", "Levels,Outlook,Diagnosis,Agendas")]
    [InlineData("Weather", "Log,Formats,Levels,Trips,Treatments,Dumping,Outlook,Simulation,Diagnosis,Agendas")]
    [InlineData("Agendas", "Formats,Simulation")]
    public void The_rooms_of_the_core_look_one_way(string room, string forbidden) =>
        Never(Core, $"Tanksophos.Core.{room}", [.. forbidden.Split(',').Select(r => $"Tanksophos.Core.{r}")]);

    // A type of the core is open to others only because one of them uses it, or sees it in what it uses: what is nobody else's business stays internal.
    [Fact]
    public void The_core_shows_only_what_others_use()
    {
        var shown = Core.GetExportedTypes().Where(t => !t.IsNested).ToHashSet();
        var seen = new HashSet<Type>();
        var todo = new Stack<Type>(new[] { Web, Cli, Data, StandIns, typeof(Words.DocumentWords).Assembly }.SelectMany(Mentioned));
        while (todo.TryPop(out var type))
        {
            if (type.HasElementType) type = type.GetElementType()!;
            foreach (var part in type.GetGenericArguments()) todo.Push(part);
            while (type.DeclaringType is { } outer) type = outer;
            if (type.Assembly != Core || !seen.Add(type)) continue;
            foreach (var t in type.GetNestedTypes().Prepend(type).SelectMany(Signatures)) todo.Push(t);
        }
        shown.Count.ShouldBeGreaterThan(100);
        // Constants leave no trace of where they come from.
        shown.Except(seen).Where(t => !t.GetFields().Any(f => f.IsLiteral)).Select(t => t.Name).ShouldBeEmpty();
    }

    private static IEnumerable<Type> Mentioned(Assembly assembly)
    {
        using var module = Mono.Cecil.ModuleDefinition.ReadModule(assembly.Location);
        return [.. module.GetTypeReferences().Select(r => Core.GetType(r.FullName.Replace('/', '+'))).OfType<Type>()];
    }

    private static IEnumerable<Type> Signatures(Type type) =>
        type.GetMembers().SelectMany(m => m switch
        {
            MethodBase method => [.. method.GetParameters().Select(p => p.ParameterType), (method as MethodInfo)?.ReturnType ?? typeof(void)],
            PropertyInfo property => [property.PropertyType],
            FieldInfo field => [field.FieldType],
            _ => Array.Empty<Type>(),
        }).Concat(type.GetInterfaces()).Append(type.BaseType ?? typeof(object));

    // What a table looks like is Data's own business: accounts alone are shared, with the library that signs people in.
    [Fact]
    public void Rows_of_tables_stay_inside_data()
    {
        using var context = new Tanksophos.Data.DesignTimeContext().CreateDbContext([]);
        var rows = context.Model.GetEntityTypes().Select(e => e.ClrType).Where(t => t.Assembly == Data).ToList();
        rows.Count.ShouldBeGreaterThan(10);
        rows.Where(t => t.IsVisible).ShouldBe([typeof(Tanksophos.Data.Person)]);
    }

    // Below the stores: the door, the keys and the writer know no store; a store of one thing knows no other but the rigs.
    [Theory]
    [InlineData("LogReader", "RigStore,RunStore,TripStore,PeopleStore,PhotoStore,SafeKeeping")]
    [InlineData("LogWriter", "RigStore,RunStore,TripStore,PeopleStore,PhotoStore,SafeKeeping")]
    [InlineData("CheckpointStore", "RigStore,RunStore,TripStore,PeopleStore,PhotoStore,SafeKeeping")]
    [InlineData("RigStore", "RunStore,TripStore,PeopleStore,PhotoStore,SafeKeeping")]
    [InlineData("TripStore", "RunStore,PeopleStore,PhotoStore,SafeKeeping")]
    [InlineData("PeopleStore", "RigStore,RunStore,TripStore,PhotoStore,SafeKeeping")]
    [InlineData("PhotoStore", "RunStore,TripStore,PeopleStore,SafeKeeping")]
    [InlineData("RunStore", "TripStore,PeopleStore,PhotoStore,SafeKeeping")]
    public void The_stores_look_one_way(string store, string forbidden) =>
        Never(Data, $"Tanksophos.Data.{store}", [.. forbidden.Split(',').Select(r => $"Tanksophos.Data.{r}")]);

    // Rigs (what is known of them) <- Drawing <- Accounts (who may do what) <- Api <- Pages <- Hosting (which puts all together).
    [Theory]
    [InlineData("Rigs", "Drawing,Accounts,Api,Pages,Hosting")]
    [InlineData("Drawing", "Accounts,Api,Pages,Hosting")]
    [InlineData("Accounts", "Api,Pages,Hosting")]
    [InlineData("Api", "Pages,Hosting")]
    [InlineData("Pages", "Hosting")]
    public void The_rooms_of_the_web_look_one_way(string room, string forbidden) =>
        Never(Web, $"Tanksophos.Web.{room}", [.. forbidden.Split(',').Select(r => $"Tanksophos.Web.{r}")]);

    [Fact]
    public void Projects_reference_only_what_they_may()
    {
        string[] Ours(Assembly a) =>
            [.. a.GetReferencedAssemblies().Select(r => r.Name!)
            .Where(n => n.StartsWith("Tanksophos", StringComparison.Ordinal) || n == "tanksophos-web").Order()];
        Ours(Core).ShouldBeEmpty();
        Ours(Data).ShouldBe(["Tanksophos.Core"]);
        Ours(typeof(Words.DocumentWords).Assembly).ShouldBe(["Tanksophos.Core"]);
        Ours(Cli).ShouldBe(["Tanksophos.Core", "Tanksophos.Words"]);
        Ours(Web).ShouldBe(["Tanksophos.Core", "Tanksophos.Data", "Tanksophos.Words"]);
    }
}
