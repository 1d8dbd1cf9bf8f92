using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tools.Datums;

/// <summary>A point that a curve runs through: one that is there, or one made along with the curve.</summary>
public sealed record CurvePoint
{
    public string? Reference { get; init; }

    public DatumCondition? Made { get; init; }
}

/// <summary>A 3D curve being made or edited.</summary>
public sealed record CurveDraft
{
    public required CurveShape Shape { get; init; }

    public ImmutableArray<CurvePoint> Points { get; init; } = [];

    public string? Support { get; init; }

    public string? Before { get; init; }

    public string? After { get; init; }

    public string? Radius { get; init; }

    public string? Diameter { get; init; }

    public string? From { get; init; }

    public string? To { get; init; }

    public string Name { get; init; } = "";

    /// <summary>Id of the step that is edited; null for a new one.</summary>
    public string? Step { get; init; }

    public static CurveDraft Of(CurveStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return new CurveDraft
        {
            Shape = step.Shape,
            Points = [.. step.Points.Select(p => new CurvePoint { Reference = p })],
            Support = step.Support,
            Before = step.Before,
            After = step.After,
            Radius = step.Radius,
            Diameter = step.Diameter,
            From = step.From,
            To = step.To,
            Name = step.Name,
            Step = step.Id,
        };
    }

    internal CurveStep ToStep(string id, ImmutableArray<string> points) =>
        new(id, 0, Name, Shape, points)
        {
            Support = Support,
            Before = Before,
            After = After,
            Radius = Radius,
            Diameter = Diameter,
            From = From,
            To = To,
        };
}

/// <summary>What the bench answers of a curve: places to draw it by, what is asked for, and what accepting sends.</summary>
public sealed record CurveAnswer
{
    public required CurveDraft Draft { get; init; }

    public required string Prompt { get; init; }

    /// <summary>Places along the curve.</summary>
    public ImmutableArray<Vec3> Drawn { get; init; } = [];

    /// <summary>The points in words, with where they are.</summary>
    public ImmutableArray<PickView> Points { get; init; } = [];

    public ImmutableArray<Vec3> Places { get; init; } = [];

    public string Length { get; init; } = "";

    public Refusal? Refusal { get; init; }

    public PartCommand? Command { get; init; }
}

/// <summary>Makes and edits 3D curves; the screen holds the draft.</summary>
public static class CurveDrafting
{
    public static CurveAnswer Answer(Model model, CurveDraft draft)
    {
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(draft);
        // What is neither there nor to be made is no point.
        draft = Completed(model, draft with { Points = [.. draft.Points.Where(p => p.Reference is not null || p.Made is not null)] });

        // Points made along with the curve are built first, under the ids that the part would give them.
        var taken = model.Part.Steps.Select(s => s.Id).ToHashSet(StringComparer.Ordinal);
        var (commands, references, views, places) = (new List<PartCommand>(), new List<string>(), new List<PickView>(), new List<Vec3>());
        foreach (var point in draft.Points)
        {
            var reference = point.Reference;
            if (point.Made is { } made)
            {
                reference = Ids.Next("point", taken);
                var step = new PointStep(reference, 0, "", [made]);
                var built = model.Build(step with { Name = reference });
                if (!built.Done)
                {
                    return new CurveAnswer
                    {
                        Draft = draft,
                        Prompt = built.Refusal!.Message,
                        Refusal = model.Wording.In(built.Refusal!),
                    };
                }

                commands.Add(new AddStep(step));
            }

            var found = model.Find(reference!);
            views.Add(new PickView(reference!, found.Done ? found.Value.Words : $"{reference} (lost)", !found.Done));
            if (found.Done && found.Value.Place is { } at)
            {
                places.Add(at);
            }

            references.Add(reference!);
        }

        var answer = new CurveAnswer
        {
            Draft = draft,
            Prompt = Next(draft),
            Points = [.. views],
            Places = [.. places],
        };
        var needed = draft.Shape is CurveShape.Line or CurveShape.Spline ? 2 : 1;
        if (references.Count < needed)
        {
            return answer;
        }

        var curve = draft.ToStep(draft.Step ?? "", [.. references]);
        var path = SpaceCurves.Make(model, curve);
        if (!path.Done)
        {
            return answer with { Prompt = model.InWords(path.Refusal!.Message), Refusal = model.Wording.In(path.Refusal) };
        }

        PartCommand last = draft.Step is null ? new AddStep(curve) : new ReplaceStep(curve);
        return answer with
        {
            Drawn = [.. path.Value.Curves.SelectMany(c => c.Steps().Select(c.At))],
            Length = Units.Show(Quantity.Length(path.Value.Length), model.Part.Units),
            Command = commands.Count == 0 ? last : new Several([.. commands, last], last.Words),
        };
    }

    private static CurveDraft Completed(Model model, CurveDraft draft)
    {
        if (draft.Shape is CurveShape.Line or CurveShape.Spline)
        {
            return draft;
        }

        var inch = model.Part.Units == LengthUnit.Inch;
        return draft with
        {
            Support = draft.Support ?? World.Xy,
            Radius = draft.Radius ?? (draft.Diameter is null ? (inch ? "1/2 in" : "10 mm") : null),
            From = draft.Shape == CurveShape.Arc ? draft.From ?? "0 deg" : null,
            To = draft.Shape == CurveShape.Arc ? draft.To ?? "90 deg" : null,
        };
    }

    private static string Next(CurveDraft draft) =>
        (draft.Shape, draft.Points.Length) switch
        {
            (CurveShape.Line, 0) => "Pick where the line begins: a point, or a place on an edge or a face",
            (CurveShape.Line, 1) => "Pick where the line ends",
            (CurveShape.Line, _) => "Enter accepts; lengthen it past either end with the values",
            (CurveShape.Spline, < 2) => "Pick the points that the spline runs through, in order",
            (CurveShape.Spline, _) => "Pick further points, or Enter accepts",
            (_, 0) => "Pick the centre",
            _ => "Pick a plane or a face that it is parallel to, or Enter accepts",
        };
}
