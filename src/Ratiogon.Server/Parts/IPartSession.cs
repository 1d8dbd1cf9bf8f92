using System.Collections.Immutable;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Exchange;
using Ratiogon.Server.Cluster;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Parts;

/// <summary>Hears what happens to a part; the live link tells it to the browsers.</summary>
public interface IPartAudience
{
    Task ChangedAsync(Guid part, long revision);

    /// <param name="id">Of the part.</param>
    /// <param name="part">As it was built.</param>
    /// <param name="revision">Its revision.</param>
    /// <param name="result">What was built.</param>
    Task RebuiltAsync(Guid id, Part part, long revision, RebuildResult result);

    /// <summary>A rebuild that takes its time has come to a step; null when it has ended.</summary>
    Task BuildingAsync(Guid part, string? step);

    /// <summary>A long read, write or mesh has come so far, from 0 to 1.</summary>
    Task ShareAsync(Guid part, double share);
}

/// <summary>A part at one moment. Never changed: another moment takes its place.</summary>
/// <param name="Stored">As kept.</param>
/// <param name="Present">With its sketches as the model has moved what they copy from it.</param>
/// <param name="Result">The last rebuild that ended.</param>
/// <param name="Revision">The revision that this was of; 0 before the first.</param>
public sealed record PartMoment(StoredPart Stored, Part Present, RebuildResult Result, long Revision)
{
    /// <summary>Whether what was built is what is kept.</summary>
    public bool Settled => Revision >= Stored.Revision;

    /// <summary>A part as kept, and what was built last, of this revision or of one before.</summary>
    internal static PartMoment Of(StoredPart stored, BuiltPart? built) =>
        new(
            stored,
            built?.Revision == stored.Revision ? Followed(stored.Part, built.Result) : stored.Part,
            built?.Result ?? RebuildResult.Empty,
            built?.Revision ?? 0
        );

    /// <summary>The part with the sketches that moved with what they copy, and the readings that formulas may use.</summary>
    private static Part Followed(Part part, RebuildResult result)
    {
        var moved = part;
        foreach (var step in part.Steps.OfType<SketchStep>())
        {
            if (result.Step(step.Id)?.Followed() is { } sketch)
            {
                moved = moved.With(step with { Sketch = sketch });
            }
        }

        var readings = part
            .Steps.OfType<ReadingStep>()
            .Where(r => r.Named && result.Step(r.Id) is { Reading: not null })
            .GroupBy(r => r.Name)
            .ToImmutableDictionary(
                g => g.Key,
                g => new Quantity(result.Step(g.Last().Id)!.Reading!.Value, ReadingCatalog.Find(g.Last().What)!.Kind)
            );
        return readings.IsEmpty && moved.Readings.IsEmpty ? moved : moved with { Readings = readings };
    }
}

/// <summary>One live part as this server shows it. Who changes and builds it may be another server.</summary>
public interface IPartSession
{
    Guid Id { get; }

    /// <summary>How it stands: taken once, what it holds belongs together.</summary>
    PartMoment Now { get; }

    /// <summary>The part as kept now.</summary>
    StoredPart Stored => Now.Stored;

    /// <summary>The part with its sketches as the model has moved what they copy from it.</summary>
    Part Present => Now.Present;

    /// <summary>What references name, as last built; waits for a rebuild under way.</summary>
    Task<Model> ModelAsync();

    /// <summary>Makes and keeps a change. With an expected revision a stale command is refused.</summary>
    Task<Outcome<StoredPart>> ApplyAsync(PartCommand command, Guid account, long? expected = null);

    Task<Outcome<StoredPart>> UndoAsync(Guid account, long? expected = null);

    Task<Outcome<StoredPart>> RedoAsync(Guid account, long? expected = null);

    /// <summary>Does one thing to a draft of the measuring tool, all of it JSON.</summary>
    Task<Outcome<string>> GaugeAsync(string draft, string? input);

    /// <summary>Which parameters and sizes move a reading, by its id.</summary>
    Task<Outcome<DrivesReply>> DrivesAsync(string reading);

    /// <summary>The answer to a question, as JSON in UTF-8; tells whoever follows the part how far it is.</summary>
    Task<Outcome<byte[]>> AskAsync(Core.Asking.Question question);

    /// <summary>Every variant, or one, as files in a zip archive.</summary>
    Task<Outcome<byte[]>> ExportVariantsAsync(string ending, string? only);

    /// <summary>Every reading that picks have.</summary>
    Task<ImmutableArray<GaugeShown>> ReadingsAsync(ImmutableArray<string> picks);

    /// <summary>The curves where the body meets a plane.</summary>
    Task<Outcome<ImmutableArray<SectionCurve>>> SectionAsync(Frame plane);

    /// <summary>The part as a file of a format.</summary>
    Task<Outcome<byte[]>> ExportAsync(string ending, ExportOptions options);

    /// <summary>What that file would come to.</summary>
    Task<Outcome<ExportPreview>> PreviewExportAsync(string ending, ExportOptions options);

    /// <summary>Adds the body of a STEP or IGES file as a step, or puts it in place of the file of one that is there.</summary>
    Task<Outcome<StoredPart>> ImportBodyAsync(byte[] file, string name, string? step, Guid account);

    /// <summary>Triangles as a step, or in the place of those of one.</summary>
    /// <param name="file">All of it.</param>
    /// <param name="name">Its ending says the format.</param>
    /// <param name="unit">What its numbers mean, where the format does not say.</param>
    /// <param name="step">The step whose triangles they take the place of.</param>
    /// <param name="account">Whose edit it is.</param>
    Task<Outcome<Imported>> ImportMeshAsync(byte[] file, string name, Core.Meshes.MeshUnit? unit, string? step, Guid account);

    /// <summary>Adds the curves of an SVG file to a sketch, or as a new one on the world's xy plane.</summary>
    Task<Outcome<Imported>> ImportSvgAsync(byte[] file, string name, string? sketch, Guid account);

    /// <summary>Builds another state of the part without keeping it. The model as kept is not touched.</summary>
    Task<Outcome<RebuildResult>> TryAsync(Part part, bool quick = false);

    /// <summary>Puts another state in the place of this one, as an edit that can be undone.</summary>
    /// <param name="state">What the part will be.</param>
    /// <param name="words">For the log.</param>
    /// <param name="account">Whose edit it is.</param>
    /// <param name="expected">The revision that it is seen from; a stale one is refused.</param>
    Task<Outcome<StoredPart>> ReplaceAsync(Part state, string words, Guid account, long? expected = null);

    /// <summary>A picture of another state, PNG; null where there is nothing to see.</summary>
    Task<Outcome<byte[]?>> PictureAsync(Part state, bool dark);

    /// <summary>The stretches of material along a line.</summary>
    Task<Outcome<ImmutableArray<Stretch>>> ProbeAsync(Line3 line);

    /// <summary>The inertia of every body.</summary>
    Task<Outcome<ImmutableArray<Inertia>>> InertiaAsync();

    /// <summary>Stops a rebuild under way; the part is not changed by it.</summary>
    Task<bool> StopAsync();

    /// <summary>Waits until the present revision is rebuilt, for as long as that may take at most; answers how it stands then.</summary>
    Task<PartMoment> SettledAsync();

    /// <summary>Somebody follows the part, until what is answered is disposed: it stays live so long.</summary>
    IDisposable Watch();
}

/// <summary>A part into which a file was read.</summary>
/// <param name="Part">As it is kept now.</param>
/// <param name="Said">What of the file was left out, and its faults, in words.</param>
public sealed record Imported(StoredPart Part, System.Collections.Immutable.ImmutableArray<string> Said);
