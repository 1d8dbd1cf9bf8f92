using Ratiogon.Core;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Forms;

namespace Ratiogon.Exchange;

/// <summary>Everything that the core knows by name. All of it comes from where the core itself looks names up: what is new
/// there is listed here.</summary>
public sealed record Catalog
{
    public static Catalog Current { get; } = new();

    /// <summary>What a sketch is made of.</summary>
    public IReadOnlyList<string> Entities { get; } = Names<SketchEntity>();

    /// <summary>What is kept together in a sketch, with a stem of its own.</summary>
    public IReadOnlyList<string> Shapes { get; } = ShapeCatalog.All;

    /// <summary>The tools of a sketch, with the ways in which each can be used.</summary>
    public IReadOnlyList<CatalogEntry> Tools { get; } =
    [
        .. ToolCatalog.All.Select(t => new CatalogEntry(
            t.Name,
            t.Make() is StagedTool { WaysShown: { IsEmpty: false } ways } ? string.Join("; ", ways.Select(w => w.Label)) : t.Label
        )),
    ];

    public IReadOnlyList<CatalogEntry> Constraints { get; } = [.. ConstraintCatalog.All.Select(k => new CatalogEntry(k.Name, k.Needs))];

    public IReadOnlyList<CatalogEntry> Dimensions { get; } = [.. DimensionCatalog.All.Select(k => new CatalogEntry(k.Name, k.Needs))];

    /// <summary>How datums may stand to what was picked, by the kind of datum and the relation's name.</summary>
    public IReadOnlyList<CatalogEntry> Relations { get; } =
    [
        .. RelationCatalog.All.Select(r => new CatalogEntry(
            $"{Word(r.Makes)} {r.Name}",
            $"{r.Words} {(r.Things == 1 ? "one thing" : "two things")}{string.Concat(r.Fields.Select(f => $", {f.Name}"))}"
        )),
    ];

    /// <summary>Kinds of steps.</summary>
    public IReadOnlyList<string> Steps { get; } = Names<Step>();

    /// <summary>Forms with their fields.</summary>
    public IReadOnlyList<CatalogEntry> Forms { get; } =
    [.. FormCatalog.All.Select(f => new CatalogEntry(f.Kind, string.Join("; ", f.Make().Fields.Select(Field))))];

    public IReadOnlyList<CatalogEntry> Readings { get; } = [.. ReadingCatalog.All.Select(k => new CatalogEntry(k.Name, k.Label))];

    public IReadOnlyList<CatalogEntry> Formats { get; } =
    [.. Exporter.Formats.SelectMany(f => f.Endings, (f, ending) => new CatalogEntry(ending, f.Words))];

    /// <summary>What changes a part, as the edit log and the interface send it.</summary>
    public IReadOnlyList<string> Commands { get; } = Names<PartCommand>();

    public IReadOnlyList<string> Units { get; } = [.. Core.Quantities.Units.Names];

    private static List<string> Names<T>() => [.. Kinds.Of(typeof(T)).Select(k => k.Name)];

    private static string Word(DatumKind kind) => kind.ToString().ToLowerInvariant();

    private static string Field(FormField field)
    {
        var options = field is ChoiceField { Options.Length: < 8 } choice
            ? $": {string.Join(", ", choice.Options.Select(o => o.Words))}"
            : "";
        return $"{field.Name} ({field.Label.ToLowerInvariant()}{options})";
    }
}

/// <summary>A name with what it needs or does.</summary>
public sealed record CatalogEntry(string Name, string Needs);
