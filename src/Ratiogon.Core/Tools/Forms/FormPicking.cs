using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Tools.Forms;

/// <summary>What a pick means to a field.</summary>
internal static class FormPicking
{
    /// <summary>The references that a pick gives to a field: mostly itself, of a sketch for a hole all its centres; none where
    /// the field does not take it.</summary>
    public static IReadOnlyList<string> For(Model model, PickField field, string reference)
    {
        var id = World.StepOf(reference);
        var accepts = field.Accepts;
        if (accepts == PickKind.Region)
        {
            return [];
        }

        if (accepts.HasFlag(PickKind.Form) && model.Part.Find(id) is FormStep)
        {
            return [id];
        }

        if (
            accepts.HasFlag(PickKind.Sketch)
            && model.SketchOf(id) is { } sketch
            && (reference == id || !(accepts.HasFlag(PickKind.Point) || accepts.HasFlag(PickKind.Path)))
        )
        {
            return accepts.HasFlag(PickKind.Point) && field.Name == "centres"
                ? [.. Centres(sketch.Sketch).Select(c => $"{id}/{c.Id}")]
                : [id];
        }

        if (accepts.HasFlag(PickKind.Body) && model.BodyOf(reference) is { } body)
        {
            return [body];
        }

        if (model.Find(reference) is not { Done: true, Value: var thing })
        {
            return [];
        }

        return Takes(model, accepts, thing, reference) ? [reference] : [];
    }

    private static bool Takes(Model model, PickKind accepts, Thing thing, string reference)
    {
        var onBody = model.BodyOf(reference) is not null;
        var edge = reference.Contains('^', StringComparison.Ordinal);
        return (accepts.HasFlag(PickKind.Straight) && (thing.Straight is not null || thing.Plane is not null || thing.Frame is not null))
            || (accepts.HasFlag(PickKind.Plane) && (thing.Plane ?? thing.Frame) is not null)
            || (accepts.HasFlag(PickKind.Face) && onBody && !edge && (thing.Surface is not null || thing.Plane is not null))
            || (accepts.HasFlag(PickKind.Edge) && onBody && edge && thing.Path is not null)
            || (accepts.HasFlag(PickKind.Point) && thing.Place is not null)
            || (accepts.HasFlag(PickKind.Path) && thing.Path is not null);
    }

    /// <summary>The things of a sketch that are centres of holes by themselves: circles, and points that nothing hangs on.</summary>
    public static IEnumerable<SketchEntity> Centres(Sketch sketch)
    {
        var used = sketch.Entities.SelectMany(e => e.Points).ToHashSet(StringComparer.Ordinal);
        foreach (var entity in sketch.Entities.Where(e => !Sketch.IsBuiltIn(e.Id)))
        {
            if (entity is CircleEntity || (entity is PointEntity && !used.Contains(entity.Id)))
            {
                yield return entity;
            }
        }
    }

    /// <summary>What a field takes, in words.</summary>
    public static string Words(PickKind accepts)
    {
        (PickKind Kind, string Words)[] all =
        [
            (PickKind.Sketch, "a sketch"),
            (PickKind.Straight, "something straight"),
            (PickKind.Plane, "a plane or planar face"),
            (PickKind.Face, "a face"),
            (PickKind.Edge, "an edge"),
            (PickKind.Point, "a point"),
            (PickKind.Path, "an edge or a curve"),
            (PickKind.Body, "a body"),
            (PickKind.Form, "a form"),
            (PickKind.Region, "a region of the sketch"),
        ];
        return string.Join(" or ", all.Where(a => accepts.HasFlag(a.Kind)).Select(a => a.Words));
    }
}
