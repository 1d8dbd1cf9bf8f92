using System.CommandLine;
using Ratiogon.Cli;

var file = new Argument<FileInfo>("FILE") { Description = "A part as JSON." };
var json = new Option<bool>("--json") { Description = "Print JSON." };
var set = new Option<string[]>("--set") { Description = "Give a parameter another formula: name=value.", AllowMultipleArgumentsPerToken = true };
var output = new Argument<FileInfo>("OUT") { Description = "The file to write; its ending chooses the format." };

var rebuild = new Command("rebuild", "Build a part and print its steps, bodies and readings.") { file, json };
rebuild.SetAction(r => RebuildCommand.Run(r.GetRequiredValue(file), r.GetValue(json), Console.Out, Console.Error));

var solve = new Command("solve", "Solve the sketches of a part and print their freedoms and positions.") { file, set, json };
solve.SetAction(r => SolveCommand.Run(r.GetRequiredValue(file), r.GetValue(set) ?? [], r.GetValue(json), Console.Out, Console.Error));

var export = new Command("export", "Write a part's bodies (.step) or the part itself (.json).") { file, output };
export.SetAction(r => ExportCommand.Run(r.GetRequiredValue(file), r.GetRequiredValue(output), Console.Out, Console.Error));

var catalog = new Command("catalog", "List everything the core knows by name.") { json };
catalog.SetAction(r => CatalogCommand.Run(r.GetValue(json), Console.Out));

var root = new RootCommand("Ratiogon on part files.") { rebuild, solve, export, catalog };
var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    Console.Error.WriteLine($"ratiogon: {parsed.Errors[0].Message}");
    return ExitCodes.BadInput;
}

return parsed.Invoke();
