using System.Collections.Concurrent;
using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Building;

/// <summary>Datums and curves built of what their conditions name.</summary>
public sealed partial class Model
{
    /// <summary>A condition with its things and values, ready to be solved.</summary>
    public Outcome<Condition> Resolve(DatumKind kind, DatumCondition condition)
    {
        ArgumentNullException.ThrowIfNull(condition);
        if (condition.Check(kind) is { } wrong)
        {
            return wrong;
        }

        var relation = RelationCatalog.Find(kind, condition.Relation)!;
        var things = ImmutableArray.CreateBuilder<Thing>();
        foreach (var reference in condition.Of)
        {
            var thing = Find(reference);
            if (!thing.Done)
            {
                return thing.Refusal!;
            }

            things.Add(thing.Value);
        }

        if (!relation.Fits(things))
        {
            return new Refusal(
                "datum.unfit",
                $"'{relation.Words}' cannot be said of {string.Join(" and ", things.Select(t => t.Words))}.",
                condition.Of.FirstOrDefault()
            );
        }

        var values = ImmutableArray.CreateBuilder<double>();
        for (var i = 0; i < relation.Fields.Length; i++)
        {
            var field = relation.Fields[i];
            var value = Formula
                .Parse(condition.Values[i])
                .Then(f => f.Evaluate(Values.Of))
                .Then<double>(q =>
                    q.Dimension == field.Kind
                        ? q.Value
                        : new Refusal(
                            "formula.kind",
                            $"{field.Name} needs {field.Kind.Words}; '{condition.Values[i]}' is {q.Dimension.Words}.",
                            field.Name
                        )
                );
            if (!value.Done)
            {
                return value.Refusal!;
            }

            values.Add(value.Value);
        }

        return new Condition(relation, things.ToImmutable(), values.ToImmutable());
    }

    /// <summary>Every condition resolved, or the first refusal.</summary>
    public Outcome<ImmutableArray<Condition>> Resolve(DatumKind kind, IEnumerable<DatumCondition> conditions)
    {
        ArgumentNullException.ThrowIfNull(conditions);
        var all = ImmutableArray.CreateBuilder<Condition>();
        foreach (var c in conditions)
        {
            var resolved = Resolve(kind, c);
            if (!resolved.Done)
            {
                return resolved.Refusal!;
            }

            all.Add(resolved.Value);
        }

        return all.ToImmutable();
    }

    /// <summary>Where a datum lies, and that it is named from now on.</summary>
    public Outcome<Frame> Build(DatumStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return Resolve(step.Makes, step.Conditions)
            .Then<Frame>(conditions =>
            {
                var determined = DatumSolver.Solve(step.Makes, conditions);
                if (determined.Refusal is null && determined.Free > 0 && step.Makes != DatumKind.Frame)
                {
                    var why = determined.Redundant ? Reasons.Of(step.Makes, conditions)?.Message + " " : "";
                    return new Refusal(
                        "datum.free",
                        $"{why.TrimStart()}{(determined.Free == 1 ? "One freedom is" : $"{determined.Free} freedoms are")} left: "
                            + $"{string.Join("; ", determined.Left)}."
                    );
                }

                return DatumSolver
                    .Choose(determined, step.Choice)
                    .Map(s =>
                    {
                        var frame = step.Flip ? Flipped(step.Makes, s.Frame) : s.Frame;
                        Add(step, frame);
                        return frame;
                    });
            });
    }

    /// <summary>A 3D curve, named from now on.</summary>
    public Outcome<CurvePath> Build(CurveStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return SpaceCurves
            .Make(this, step)
            .Map(path =>
            {
                curves[step.Id] = Thing.OfCurve(step.Id, step.Name, path);
                return path;
            });
    }

    /// <summary>A datum the other way round: the normal of a plane, the direction of an axis.</summary>
    public static Frame Flipped(DatumKind kind, Frame frame) =>
        kind switch
        {
            DatumKind.Plane => frame.Flipped(),
            DatumKind.Axis => frame with { X = -frame.X },
            DatumKind.Frame => frame with { X = -frame.X, Y = frame.Y },
            _ => frame,
        };
}
