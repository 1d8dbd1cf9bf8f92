using System.CommandLine;
using Ratiogon.Cli;
using Ratiogon.Exchange;

var file = new Argument<FileInfo>("FILE") { Description = "A part as JSON." };
var json = new Option<bool>("--json") { Description = "Print JSON." };
var set = new Option<string[]>("--set")
{
    Description = "Give a parameter another formula: name=value.",
    AllowMultipleArgumentsPerToken = true,
};
var output = new Argument<FileInfo>("OUT") { Description = "The file to write; its ending chooses the format." };

var rebuild = new Command("rebuild", "Build a part and print its steps, bodies and readings.") { file, json };
rebuild.SetAction(r => RebuildCommand.Run(r.GetRequiredValue(file), r.GetValue(json), Console.Out, Console.Error));

var solve = new Command("solve", "Solve the sketches of a part and print their freedoms and positions.") { file, set, json };
solve.SetAction(r => SolveCommand.Run(r.GetRequiredValue(file), r.GetValue(set) ?? [], r.GetValue(json), Console.Out, Console.Error));

var deviation = new Option<double>("--deviation")
{
    Description = "Largest distance between faces and triangles, in millimetres.",
    DefaultValueFactory = _ => new ExportOptions().Deviation,
};
var text = new Option<bool>("--text") { Description = "STL as text." };
var ap242 = new Option<bool>("--ap242") { Description = "STEP by AP242 rather than AP214." };
var of = new Option<string?>("--of") { Description = "Of a drawing (.svg): the sketch or planar face." };
var export = new Command("export", $"Write a part: {string.Join(", ", Exporter.Formats.Select(f => $".{f.Ending}"))}.")
{
    file,
    output,
    deviation,
    text,
    ap242,
    of,
};
export.SetAction(r =>
    ExportCommand.Run(
        r.GetRequiredValue(file),
        r.GetRequiredValue(output),
        new ExportOptions
        {
            Deviation = r.GetValue(deviation),
            Text = r.GetValue(text),
            Ap242 = r.GetValue(ap242),
            Of = r.GetValue(of),
        },
        Console.Out,
        Console.Error
    )
);

var reading = new Argument<string>("READING") { Description = "The name or id of a reading of the part." };
var drives = new Command("drives", "Say which parameters and sizes move a reading, and by how much.") { file, reading, json };
drives.SetAction(
    (r, cancel) =>
        Task.FromResult(
            DrivesCommand.Run(r.GetRequiredValue(file), r.GetRequiredValue(reading), r.GetValue(json), Console.Out, Console.Error, cancel)
        )
);

var source = new Argument<FileInfo>("FILE")
{
    Description = "A body (.step, .stp, .iges, .igs), triangles (.stl, .3mf, .glb, .gltf) or a drawing (.svg).",
};
var unit = new Option<string?>("--unit") { Description = "What the numbers of an STL file mean: mm, cm, m, in, ft or um." };
var import = new Command("import", "Make a part file (OUT) of a body, of triangles or of a drawing.") { source, output, unit };
import.SetAction(r =>
    ImportCommand.Run(r.GetRequiredValue(source), r.GetRequiredValue(output), r.GetValue(unit), Console.Out, Console.Error)
);

var between = new Option<string[]>("--between")
{
    Description =
        "One thing or two: faces, edges, points, sketch curves, datums; places on them as REF@centre, @middle, @start, @end, @0.25.",
    AllowMultipleArgumentsPerToken = true,
};
var along = new Option<string?>("--along") { Description = "A direction: anything straight or flat, 'A & B', or three numbers." };
var measure = new Command("measure", "Print every reading that things of a part have.") { file, between, along, json };
measure.SetAction(r =>
    MeasureCommand.Run(r.GetRequiredValue(file), r.GetValue(between) ?? [], r.GetValue(along), r.GetValue(json), Console.Out, Console.Error)
);

var catalog = new Command("catalog", "List everything the core knows by name.") { json };
catalog.SetAction(r => CatalogCommand.Run(r.GetValue(json), Console.Out));

var database = new Option<string?>("--database")
{
    Description = $"Connection string of the database; without it {AdminCommand.Variable}.",
    Recursive = true,
};
var address = new Argument<string>("ADDRESS") { Description = "Of the account." };
var megabytes = new Argument<int>("MB") { Description = "What it may take; 0 for what everybody may." };
var yes = new Option<bool>("--yes") { Description = "That it is meant." };
var accounts = new Command("accounts", "List the accounts with what they keep.");
accounts.SetAction((r, _) => AdminCommand.AccountsAsync(r.GetValue(database), Console.Out, Console.Error));
var reset = new Command("reset", "Make a code with which the owner takes a new password.") { address };
reset.SetAction((r, _) => AdminCommand.ResetAsync(r.GetValue(database), r.GetRequiredValue(address), Console.Out, Console.Error));
var quota = new Command("quota", "Say how much an account may take.") { address, megabytes };
quota.SetAction(
    (r, _) =>
        AdminCommand.QuotaAsync(
            r.GetValue(database),
            r.GetRequiredValue(address),
            r.GetRequiredValue(megabytes),
            Console.Out,
            Console.Error
        )
);
var delete = new Command("delete", "Delete an account with everything that it keeps.") { address, yes };
delete.SetAction(
    (r, _) => AdminCommand.DeleteAsync(r.GetValue(database), r.GetRequiredValue(address), r.GetValue(yes), Console.Out, Console.Error)
);
var admin = new Command("admin", "Accounts, for who runs a server.") { database, accounts, reset, quota, delete };

var root = new RootCommand("Ratiogon on part files.") { rebuild, solve, measure, drives, export, import, catalog, admin };
var parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    Console.Error.WriteLine($"ratiogon: {parsed.Errors[0].Message}");
    return ExitCodes.BadInput;
}

try
{
    return await parsed.InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
}
catch (Exception e) when (e is not OutOfMemoryException)
{
    // A defect is told in one line; nobody at a prompt is helped by a stack.
    Console.Error.WriteLine($"ratiogon: something went wrong in this program, not in what you asked: {e.Message}");
    return ExitCodes.Defect;
}
