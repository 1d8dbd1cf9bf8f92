using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>Things that a tangency or a symmetry would be met by in name only: one circle on another, one point on another.</summary>
internal static class Overlaps
{
    /// <summary>What came to lie on what, in words, though it lay apart before and nothing says that it should; null when nothing
    /// did.</summary>
    public static string? New(Sketch before, Sketch after)
    {
        Contacts? contacts = null;
        foreach (var tie in after.Constraints)
        {
            if (ConstraintCatalog.Find(tie.Kind) is not { MayCollapse: true } || after.FindAll(tie.Of) is not { } of)
            {
                continue;
            }

            if (tie.Kind == "tangent" && of is [var a, var b] && Same(after, a, b) && !Same(before, a, b))
            {
                return $"{a.Word} {a.Id} on {b.Word} {b.Id}";
            }

            var points = of.SelectMany(e => e is PointEntity ? [e.Id] : e.Points).Distinct().ToList();
            for (var i = 0; i < points.Count; i++)
            {
                for (var k = i + 1; k < points.Count; k++)
                {
                    if (Near(after, points[i], points[k]) && !Near(before, points[i], points[k]))
                    {
                        contacts ??= SketchContacts.Of(after);
                        if (contacts.Root(points[i]) != contacts.Root(points[k]))
                        {
                            return $"point {points[i]} on point {points[k]}";
                        }
                    }
                }
            }
        }

        return null;
    }

    private static bool Near(Sketch sketch, string p, string q) => sketch.At(p).DistanceTo(sketch.At(q)) < Tolerances.SmallestSize;

    private static bool Same(Sketch sketch, SketchEntity first, SketchEntity second)
    {
        var (a, b) = (sketch.Find(first.Id)!, sketch.Find(second.Id)!);
        return a is CircleEntity or ArcEntity
            && b is CircleEntity or ArcEntity
            && Near(sketch, Curves.Centre(a)!, Curves.Centre(b)!)
            && Math.Abs(RimDistance.RadiusOf(a) - RimDistance.RadiusOf(b)) < Tolerances.SmallestSize;
    }
}
