using System.CommandLine;
using Tanksophos.Web.App;

var data = new Option<string?>("--data") { Description = "Folder for the database (made if missing). Default: a folder 'tanksophos' in this user's local data folder.", Recursive = true };
var port = new Option<int?>("--port") { Description = "Port on this machine (default 5080; 0 takes a free one)." };
var demo = new Option<bool>("--demo") { Description = "Fill an empty database with the invented demonstration rig." };
var now = new Option<string?>("--now") { Description = "Pretend that it is this moment when the program starts, such as 2026-06-09T18:30:00-06:00; time runs on from there. For trying things out." };
var file = new Argument<FileInfo>("file") { Description = "A logbook document (JSON) or a CSV of readings." };
var rig = new Option<string?>("--rig") { Description = "Name of the rig that the entries go to. Default: the rig of that name in the document, made if missing; for a CSV the only rig there is." };

var root = new RootCommand("Tanksophos: when to dump, how to flush, whether the lamp is lying. Serves its pages on this machine.") { data, port, demo, now };
root.TreatUnmatchedTokensAsErrors = false; // the web framework has options of its own
root.SetAction((parsed, stop) => Server.RunAsync(args, parsed.GetValue(data), parsed.GetValue(port), parsed.GetValue(demo), parsed.GetValue(now), stop));

var import = new Command("import", "Brings a logbook document or a CSV of readings into the database.") { file, rig };
import.SetAction(parsed => ImportCommand.Run(parsed.GetValue(data), parsed.GetValue(file)!, parsed.GetValue(rig), Console.Out, Console.Error));
root.Add(import);

return await root.Parse(args).InvokeAsync();

/// <summary>The entry point, named for the test host.</summary>
public partial class Program;
