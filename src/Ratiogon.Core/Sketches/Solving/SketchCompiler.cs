using System.Runtime.InteropServices;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>Turns a sketch into unknowns and equations.</summary>
internal static class SketchCompiler
{
    /// <param name="sketch">A sketch that passes <see cref="SketchCheck"/>.</param>
    /// <param name="values">The values of its driving dimensions, by id, in millimetres and radians; a driving
    /// dimension that is missing here is left out.</param>
    /// <param name="reducing">Whether rules that only identify or fix unknowns are taken out of the system.</param>
    /// <param name="repeatable">Whether it can be had again with other sizes.</param>
    public static SystemWriter Write(Sketch sketch, IReadOnlyDictionary<string, double> values, bool reducing, bool repeatable = false)
    {
        var writer = new SystemWriter(sketch, SketchContacts.Of(sketch), reducing, repeatable);
        foreach (var entity in sketch.Entities)
        {
            writer.From(new Owner(OwnerKind.Entity, entity.Id));
            OwnRules.Write(writer, entity);
        }

        // Rules that reduce come first, so that the others see what is already one unknown; then those that put points on curves.
        foreach (var constraint in sketch.Constraints.OrderBy(c => ConstraintCatalog.Find(c.Kind)!.Turn))
        {
            Patience.Look();
            writer.From(new Owner(OwnerKind.Constraint, constraint.Id));
            ConstraintCatalog.Find(constraint.Kind)!.Write(writer, constraint, sketch.FindAll(constraint.Of)!);
        }

        writer.BeginSizes();
        foreach (var dimension in sketch.Dimensions)
        {
            writer.From(new Owner(OwnerKind.Dimension, dimension.Id));
            var value = dimension.ValueIn(values);
            if (value is { } number)
            {
                WriteSize(writer, dimension, number);
            }
            else
            {
                DimensionCatalog.Find(dimension.Kind)!.WriteFree(writer, sketch.FindAll(dimension.Of)!);
            }

            writer.EndSize(value);
        }

        writer.Close();
        return writer;
    }

    internal static void WriteSize(SystemWriter writer, SketchDimension dimension, double value) =>
        DimensionCatalog.Find(dimension.Kind)!.Write(writer, writer.Sketch.FindAll(dimension.Of)!, value);

    /// <summary>The reduced system of a sketch as it stands, from what is kept of it where that differs in the values of its sizes
    /// only.</summary>
    public static SystemWriter WriteKept(Sketch sketch, IReadOnlyDictionary<string, double> values)
    {
        if (KeptWriters.Find(sketch) is { } known && known.WithSizes(sketch, values, WriteSize) is { } again)
        {
            return again;
        }

        var writer = Write(sketch, values, reducing: true, repeatable: true);
        KeptWriters.Keep(writer);
        return writer;
    }

    /// <summary>Start values of a writer's raw unknowns, taken from the same sketch at other positions; what the rules brought along
    /// for themselves stays as it was written.</summary>
    public static double[] Positions(SystemWriter writer, Sketch at)
    {
        var goal = (double[])writer.Start.Clone();
        var moved = Write(at with { Constraints = [], Dimensions = [] }, new Dictionary<string, double>(), reducing: true).Start;
        Array.Copy(moved, goal, Math.Min(moved.Length, goal.Length));
        return goal;
    }

    /// <summary>The same sketch with the positions of a raw solution.</summary>
    public static Sketch WithPositions(Sketch sketch, SystemWriter writer, ReadOnlySpan<double> raw)
    {
        var entities = new SketchEntity[sketch.Entities.Length];
        for (var i = 0; i < entities.Length; i++)
        {
            var (entity, at) = (sketch.Entities[i], writer.Placed[i]);
            entities[i] = entity switch
            {
                PointEntity p => p.At.X == raw[at] && p.At.Y == raw[at + 1] ? p : p with { At = new(raw[at], raw[at + 1]) },
                CircleEntity c => c.Radius == raw[at] ? c : c with { Radius = raw[at] },
                ArcEntity a => a.Radius == raw[at] ? a : a with { Radius = raw[at] },
                _ => entity,
            };
        }

        return sketch.Moved(ImmutableCollectionsMarshal.AsImmutableArray(entities));
    }
}
