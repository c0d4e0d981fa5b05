using System.CommandLine;
using Tanksophos.Cli;

var pretty = new Option<bool>("--pretty") { Description = "Indent the results.", Recursive = true };
var root = new RootCommand("Reads documents on standard input, one or several (one per line), and writes the results on standard output. No database, no "
    + "network, no clock.") { pretty };
Add("assess", "How full the tanks are and whether the monitor tells the truth, from a logbook document.", Commands.Assess);
Add("agenda", "What to do, in order, and what to hold back, from a logbook or a situation (a logbook and the stops of a trip).", Commands.Agenda);
Add("plan", "When and where to dump, flush and dose on a trip, and what that leaves to chance, from a trip document.", Commands.Plan);
Add("run", "A dump run step by step, with valves, water and limits, from a logbook, a form and a rinse method.", Commands.DumpRun);
Add("dose", "What to put into a tank, how much and with how much water, from its capacity and a treatment school or recipe.", Commands.Dose);
Add("validate", "Whether a document can be read, and what is wrong with it if not.", Commands.Validate);
Add("simulate", "A season of an invented crew on a rig, with faults, and the truth beside its log, from a scenario document.", Commands.Simulate);
var truth = new Option<bool>("--truth") { Description = "Write what is hidden too." };
Add("practice", "A practice case, as the learner sees it, from a seed, a topic and a difficulty.", Commands.Practice, truth, Commands.PracticeTruth);
return root.Parse(args).Invoke();

void Add(string name, string description, Func<ReadOnlyMemory<byte>, bool, Commands.Answer> run, Option<bool>? option = null,
    Func<ReadOnlyMemory<byte>, bool, Commands.Answer>? with = null)
{
    var command = new Command(name, description);
    if (option is not null) command.Add(option);
    command.SetAction(parsed =>
    {
        using var input = Console.OpenStandardInput();
        using var output = new BufferedStream(Console.OpenStandardOutput(), 1 << 16);
        return Commands.Run(option is not null && parsed.GetValue(option) ? with! : run, input, output, Console.Error, parsed.GetValue(pretty));
    });
    root.Add(command);
}
