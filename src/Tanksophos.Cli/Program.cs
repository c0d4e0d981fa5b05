using System.CommandLine;
using System.CommandLine.Help;
using System.CommandLine.Invocation;
using Tanksophos.Cli;
using Tanksophos.Words;

var pretty = new Option<bool>("--pretty") { Description = "Indent the results.", Recursive = true };
var json = new Option<bool>("--json") { Description = "Write JSON also to a terminal, which otherwise gets tables.", Recursive = true };
var metric = new Option<bool>("--metric") { Description = "Liters and a 24-hour clock in tables.", Recursive = true };
var root = new RootCommand("When to dump, how to rinse, what to dose, whether a light is wrong. Reads documents from standard input or a file. "
    + "No database, no network, no clock.") { pretty, json, metric };
var examples = new Dictionary<Command, string[]>();

Add("assess", "How full the tanks are and whether the monitor tells the truth, from a logbook document.", Commands.Assess, "tanksophos assess < logbook.json");
Add("agenda", "What to do, in order, and what to hold back, from a logbook or a situation (a logbook and the stops of a trip).", Commands.Agenda,
    "tanksophos agenda < logbook.json");
Add("plan", "When and where to dump, flush and dose on a trip, and what that leaves to chance, from a trip document.", Commands.Plan,
    "tanksophos plan < trip.json", "tanksophos plan --json < trip.json > plan.json");
Add("run", "A dump run step by step, with valves, water and limits, from a logbook, a form and a rinse method.", Commands.DumpRun, "tanksophos run < run.json");
Add("dose", "What to put into a tank, how much and with how much water, from its capacity and a treatment school or recipe.", Commands.Dose,
    "echo '{\"capacityL\":151,\"treatment\":\"enzyme\"}' | tanksophos dose");
Add("validate", "Whether a document can be read, and what is wrong with it if not.", Commands.Validate, "tanksophos validate < logbook.json");
Add("simulate", "A season of an invented crew on a rig, with faults, and the truth beside its log, from a scenario document.", Commands.Simulate,
    "tanksophos simulate < scenario.json > season.json");
var truth = new Option<bool>("--truth") { Description = "Write what is hidden too." };
AddWith("practice", "A practice case, as the learner sees it, from a seed, a topic and a difficulty.", Commands.Practice, truth, Commands.PracticeTruth,
    "echo '{\"format\":\"tanksophos-practice\",\"version\":1,\"seed\":7,\"topic\":\"lamps\",\"difficulty\":1}' | tanksophos practice");

var file = new Argument<FileInfo>("file") { Description = "A logbook document." };
Person("today", "Levels and what to do, from a logbook file.", [file], p => Ask(p).Today(p.GetValue(file)!, p.GetValue(json)),
    "tanksophos today logbook.json");
var tank = new Option<string?>("--tank") { Description = "Only of this tank." };
var type = new Option<string?>("--type") { Description = "Only of this kind, such as dump." };
var last = new Option<int>("--last") { Description = "How many of the newest.", DefaultValueFactory = _ => 40 };
Person("log", "A log as a table, the newest last.", [file, tank, type, last],
    p => Ask(p).Log(p.GetValue(file)!, p.GetValue(tank), p.GetValue(type), Math.Max(1, p.GetValue(last)), p.GetValue(json)),
    "tanksophos log logbook.json", "tanksophos log logbook.json --tank black --type dump");
var any = new Argument<FileInfo>("file") { Description = "A logbook document, a table, or a spreadsheet kept by hand (CSV, Excel)." };
var to = new Option<string>("--to") { Description = "logbook, entries, readings or ndjson.", DefaultValueFactory = _ => "logbook" };
var rig = new Option<FileInfo?>("--rig") { Description = "A logbook that describes the rig, for tables and spreadsheets." };
var zone = new Option<string?>("--zone") { Description = "Time zone of hours without one, such as America/Denver. Default: UTC." };
var dayFirst = new Option<bool>("--day-first") { Description = "Read 3/4 as April 3 where a date could be either." };
var result = new Option<FileInfo?>("--out") { Description = "File to write; it must not exist yet. Default: standard output." };
Person("convert", "Turns a log into another format.", [any, to, rig, zone, dayFirst, result],
    p => Ask(p).Convert(p.GetValue(any)!, p.GetValue(to)!, p.GetValue(rig), p.GetValue(zone), p.GetValue(dayFirst), p.GetValue(result)),
    "tanksophos convert logbook.json --to entries > entries.csv", "tanksophos convert notes.xlsx --rig logbook.json --zone America/Denver --out new.json");
Person("doctor", "What is odd in a log: what does not fit, what stands twice, gaps, sensors.", [file], p => Ask(p).Doctor(p.GetValue(file)!, p.GetValue(json)),
    "tanksophos doctor logbook.json");
var shell = new Argument<string>("shell") { Description = "bash, zsh or fish." };
Person("completion", "A script that teaches a shell to complete the command line.", [shell], p => Ask(p).Completion(p.GetValue(shell)!),
    "tanksophos completion bash >> ~/.bashrc");

if (root.Options.OfType<HelpOption>().FirstOrDefault() is { Action: HelpAction help } option) option.Action = new ExampleHelp(help, examples);
return root.Parse(args).Invoke();

FileCommands Ask(ParseResult parsed) => new(Console.Out, Console.Error, Measures(parsed), Width());

Units Measures(ParseResult parsed) => parsed.GetValue(metric) ? Units.Metric : Units.Us;

static int Width()
{
    try
    {
        return Console.IsOutputRedirected || Console.WindowWidth < 1 ? 100 : Console.WindowWidth;
    }
    catch (IOException)
    {
        return 100;
    }
}

void Person(string name, string description, Symbol[] symbols, Func<ParseResult, int> run, params string[] shown)
{
    var command = new Command(name, description);
    foreach (var symbol in symbols)
    {
        if (symbol is Argument argument) command.Add(argument);
        else command.Add((Option)symbol);
    }
    command.SetAction(run);
    examples[command] = shown;
    root.Add(command);
}

void Add(string name, string description, Func<ReadOnlyMemory<byte>, bool, Commands.Answer> run, params string[] shown) =>
    AddWith(name, description, run, null, null, shown);

void AddWith(string name, string description, Func<ReadOnlyMemory<byte>, bool, Commands.Answer> run, Option<bool>? choice,
    Func<ReadOnlyMemory<byte>, bool, Commands.Answer>? chosen, params string[] shown)
{
    var command = new Command(name, description);
    if (choice is not null) command.Add(choice);
    command.SetAction(parsed =>
    {
        using var input = Console.OpenStandardInput();
        using var output = new BufferedStream(Console.OpenStandardOutput(), 1 << 16);
        var tables = Console.IsOutputRedirected || parsed.GetValue(json) || parsed.GetValue(pretty) ? null : new Tables(Measures(parsed), Width());
        return Commands.Run(choice is not null && parsed.GetValue(choice) ? chosen! : run, input, output, Console.Error, parsed.GetValue(pretty), tables);
    });
    examples[command] = shown;
    root.Add(command);
}

/// <summary>The usual help, and below it how a command is used.</summary>
internal sealed class ExampleHelp(HelpAction usual, IReadOnlyDictionary<Command, string[]> examples) : SynchronousCommandLineAction
{
    public override int Invoke(ParseResult parseResult)
    {
        var said = usual.Invoke(parseResult);
        if (!examples.TryGetValue(parseResult.CommandResult.Command, out var shown)) return said;
        var output = parseResult.InvocationConfiguration.Output;
        output.WriteLine("Examples:");
        foreach (var line in shown) output.WriteLine("  " + line);
        return said;
    }
}
