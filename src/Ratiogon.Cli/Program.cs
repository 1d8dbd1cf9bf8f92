using System.CommandLine;
using Ratiogon.Cli;
using Ratiogon.Core.Asking;
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
var export = new Command("export", $"Write a part: {string.Join(", ", Exporter.Endings.Select(e => $".{e}"))}.")
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

var runs = new Option<int?>("--runs") { Description = "How many parts to build at random; without it as many as it takes." };
var seed = new Option<int>("--seed") { Description = "Of the draw.", DefaultValueFactory = _ => 1 };
var tolerances = new Command("tolerances", "Say what the tolerances of the sizes do to a reading.") { file, reading, runs, seed, json };
Asks(tolerances, r => new TolerancesQuestion(r.GetRequiredValue(reading), r.GetValue(runs), r.GetValue(seed)));

var target = new Argument<string>("READING=VALUE") { Description = "Where to: a value, limits, least or most." };
var by = new Option<string[]>("--by")
{
    Description = "What may be turned: parameters, or sizes as STEP/FIELD.",
    AllowMultipleArgumentsPerToken = true,
    Required = true,
};
var aim = new Command("aim", "Bring a reading to a value by turning parameters; prints what to turn to what.") { file, target, by, json };
aim.SetAction(
    (r, cancel) =>
        Task.FromResult(
            AskCommands.Aim(r.GetRequiredValue(target), r.GetRequiredValue(by)) is { Done: true, Value: var question }
                ? AskCommands.Ask(r.GetRequiredValue(file), question, r.GetValue(json), Console.Out, Console.Error, cancel)
                : PartInput.Refuse(AskCommands.Aim(r.GetRequiredValue(target), r.GetRequiredValue(by)).Refusal!, Console.Error)
        )
);

var from = new Option<string?>("--from") { Description = "Where to begin; without it the parameter's range." };
var to = new Option<string?>("--to") { Description = "Where to end." };
var course = new Command("course", "Print a reading over the range of a parameter.") { file, reading, by, from, to, json };
Asks(course, r => new CourseQuestion(
    r.GetRequiredValue(reading),
    AskCommands.Names(r.GetRequiredValue(by)).FirstOrDefault() ?? "",
    r.GetValue(from),
    r.GetValue(to)
));

var tries = new Option<int>("--tries") { Description = "How often to build.", DefaultValueFactory = _ => FlexOf.UsualTries };
var turned = new Option<string[]>("--of")
{
    Description = "Which parameters; without it all that have a range.",
    AllowMultipleArgumentsPerToken = true,
};
var flex = new Command("flex", "Build a part over the ranges of its parameters and say where it fails.") { file, turned, tries, json };
Asks(flex, r => new FlexQuestion(AskCommands.Names(r.GetValue(turned)), r.GetValue(tries)));

var into = new Option<DirectoryInfo?>("--export") { Description = "Write each variant into this folder." };
var format = new Option<string>("--format") { Description = "In which format.", DefaultValueFactory = _ => "step" };
var variants = new Command("variants", "Print what each variant of a part reads, or write each as a file.") { file, into, format, json };
variants.SetAction(
    (r, cancel) =>
        Task.FromResult(
            r.GetValue(into) is { } folder
                ? AskCommands.Export(r.GetRequiredValue(file), folder, r.GetValue(format)!, Console.Out, Console.Error, cancel)
                : AskCommands.Ask(r.GetRequiredValue(file), new VariantsQuestion(), r.GetValue(json), Console.Out, Console.Error, cancel)
        )
);

var what = new Argument<string>("NAME") { Description = "A parameter, a step by its id, or a size as STEP/FIELD." };
var why = new Command("why", "Say what something hangs on, and what hangs on it.") { file, what, json };
why.SetAction(
    (r, cancel) =>
        Task.FromResult(
            AskCommands.Ask(
                r.GetRequiredValue(file),
                AskCommands.Why(r.GetRequiredValue(file), r.GetRequiredValue(what)),
                r.GetValue(json),
                Console.Out,
                Console.Error,
                cancel
            )
        )
);

void Asks(Command command, Func<System.CommandLine.ParseResult, Question> question) =>
    command.SetAction(
        (r, cancel) =>
            Task.FromResult(AskCommands.Ask(r.GetRequiredValue(file), question(r), r.GetValue(json), Console.Out, Console.Error, cancel))
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

var root = new RootCommand("Ratiogon on part files.")
{
    rebuild,
    solve,
    measure,
    drives,
    tolerances,
    aim,
    course,
    flex,
    variants,
    why,
    export,
    import,
    catalog,
    admin,
};
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
