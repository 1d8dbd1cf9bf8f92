namespace Ratiogon.Worker;

/// <summary>What a worker process does. Parts travel as part JSON, results as MessagePack, both as bytes.</summary>
public interface IWorker
{
    /// <summary>Builds a part, its steps one by one where the worker ended before and it has to show at which; answers a
    /// <see cref="Core.Building.RebuildResult"/>.</summary>
    Task<byte[]> RebuildAsync(byte[] part, bool oneByOne);

    /// <summary>The same as a picture of a moment: see <see cref="RebuildResult.Rough"/>.</summary>
    Task<byte[]> QuickAsync(byte[] part);

    /// <summary>Builds a part without telling anybody, so that what comes next finds it built.</summary>
    Task PrepareAsync(byte[] part);

    /// <summary>What is kept of a part: what it is built into, packed, and its pictures.</summary>
    Task<KeepsakeAnswer> KeepsakeAsync(byte[] part);

    /// <summary>A picture of a part, PNG; null where there is nothing to see.</summary>
    Task<byte[]?> PictureAsync(byte[] part, bool dark);

    /// <summary>Does one thing to a draft of the measuring tool; draft, input (or null) and answer are JSON.</summary>
    Task<string> GaugeAsync(byte[] part, string draft, string? input);

    /// <summary>Every reading that picks have, as JSON.</summary>
    Task<string> ReadingsAsync(byte[] part, string[] picks);

    /// <summary>Which parameters and sizes move a reading, by its id; tells how far it is as a share.</summary>
    Task<DrivesReply> DrivesAsync(byte[] part, string reading, string diary);

    /// <summary>Answers a <see cref="Core.Asking.Question"/>; question and answer are JSON in UTF-8. Tells how far it is as a
    /// share. The path of a <see cref="Core.Asking.BuildDiary"/> tells a worker what another one died of.</summary>
    Task<AskAnswer> AskAsync(byte[] part, byte[] question, string diary);

    /// <summary>Ends the question under way: what was found until then is answered.</summary>
    Task StopAskingAsync();

    /// <summary>Every variant of a part, or one, as files of a format in a zip archive.</summary>
    Task<FileAnswer> ExportVariantsAsync(byte[] part, string ending, string? only);

    /// <summary>The curves where the body meets a plane (origin, x, y).</summary>
    Task<SectionAnswer> SectionAsync(byte[] part, double[] plane);

    /// <summary>The stretches of material along a line (origin, direction), as MessagePack.</summary>
    Task<byte[]> ProbeAsync(byte[] part, double[] line);

    /// <summary>Six moments of inertia for every body.</summary>
    Task<double[][]> InertiaAsync(byte[] part);

    /// <summary>The part as a file; the ending says the format, options are <see cref="Exchange.ExportOptions"/> as JSON.</summary>
    Task<FileAnswer> ExportAsync(byte[] part, string ending, string options);

    /// <summary>What that file would come to, an <see cref="Exchange.ExportPreview"/> as JSON.</summary>
    Task<TextAnswer> PreviewExportAsync(byte[] part, string ending, string options);

    /// <summary>Reads a STEP or IGES file to see whether it can be used, and names its faces after those of the file that it
    /// takes the place of, if it does.</summary>
    Task<ImportAnswer> CheckImportAsync(byte[] file, string name, byte[]? before, string beforeName, string[] beforeFaces);

    /// <summary>Reads a file of triangles: STL, 3MF or glTF.</summary>
    Task<MeshAnswer> ReadMeshAsync(byte[] file, string name);

    /// <summary>An SVG file as an edit of a sketch; both as JSON.</summary>
    Task<TextAnswer> ReadSvgAsync(byte[] file, string sketch);

    /// <summary>The process id, and a sign of life.</summary>
    Task<int> HelloAsync();

    /// <summary>Builds a demo part, by its number, and forgets it, so that the first part of somebody finds everything loaded and
    /// compiled; answers whether there are more of them.</summary>
    Task<bool> WarmAsync(int number);

    /// <summary>For the tests of the pool: ends the process at once, or hangs.</summary>
    /// <param name="end">Whether to end.</param>
    /// <param name="megabytes">Memory it takes first: the more it holds, the longer the system is burying it.</param>
    Task MisbehaveAsync(bool end, int megabytes);
}

/// <summary>What is kept of a part.</summary>
/// <param name="Model">What <see cref="IWorker.RebuildAsync"/> answers, packed.</param>
/// <param name="Light">PNG on light paper; null where there is nothing to see.</param>
/// <param name="Dark">PNG on dark paper.</param>
/// <param name="Failing">How many steps fail.</param>
public sealed record KeepsakeAnswer(byte[] Model, byte[]? Light, byte[]? Dark, int Failing);

/// <summary>What moves a reading, as it is shown, or why that cannot be told.</summary>
/// <param name="Reading">Its name.</param>
/// <param name="Shown">What it reads.</param>
/// <param name="Rows">The largest share first.</param>
/// <param name="Left">What could not be tried, with the reason.</param>
/// <param name="Tried">How many parameters and sizes there are.</param>
/// <param name="Refusal">Why there is no answer.</param>
public sealed record DrivesReply(string Reading, string Shown, DriveRow[] Rows, string[] Left, int Tried, string? Refusal);

/// <summary>A parameter or size that moves a reading, as it is shown.</summary>
/// <param name="Step">Id of the step that has it; empty for a parameter.</param>
/// <param name="Name">Of the parameter, or the size's field.</param>
/// <param name="Words">As people call it.</param>
/// <param name="Shown">Its value.</param>
/// <param name="Slope">By how much the reading grows, with its unit.</param>
/// <param name="Note">What is to be said beside it: another slope downwards, how far it may be off.</param>
/// <param name="Share">Of all that moves the reading, signed.</param>
public sealed record DriveRow(string Step, string Name, string Words, string Shown, string Slope, string Note, double Share);

/// <summary>An answer as JSON, or why there is none.</summary>
/// <param name="Answer">UTF-8.</param>
/// <param name="Code">Of the refusal.</param>
/// <param name="Refusal">In words.</param>
/// <param name="Where">What the refusal is about.</param>
public sealed record AskAnswer(byte[]? Answer, string? Code, string? Refusal, string? Where);

/// <summary>A text, or why there is none.</summary>
public sealed record TextAnswer(string? Text, string? Refusal);

/// <summary>What an imported file holds, or why it cannot be used.</summary>
public sealed record ImportAnswer(string[] Faces, string Name, string? Colour, double Volume, string? Refusal)
{
    /// <summary>The names of its bodies, empty for those without; none where it holds one.</summary>
    public string[] Bodies { get; init; } = [];

    /// <summary>Their colours, empty for those without.</summary>
    public string[] Colours { get; init; } = [];
}

/// <summary>Curves with the names of their faces, as kinds and flat numbers, or why there are none.</summary>
public sealed record SectionAnswer(string[] Faces, string[] Curves, double[][] Numbers, string? Refusal);

/// <summary>A file, or why there is none.</summary>
public sealed record FileAnswer(byte[]? File, string? Refusal);

/// <summary>Triangles of a file, or why there are none.</summary>
/// <param name="Mesh">As <see cref="Core.Kernel.TriangleMesh.ToBytes"/> gives them.</param>
/// <param name="Unit">What the file says of its numbers, null where it says nothing.</param>
/// <param name="Name">The name in it, or empty.</param>
/// <param name="Said">What of it was left out.</param>
/// <param name="Refusal">Why it cannot be used.</param>
public sealed record MeshAnswer(byte[]? Mesh, Core.Meshes.MeshUnit? Unit, string Name, string[] Said, string? Refusal);
