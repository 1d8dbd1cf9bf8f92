using System.Collections.Immutable;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Rebuilding;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketching;
using Ratiogon.Core.Sketching.Editing;

namespace Ratiogon.Core.Tools;

/// <summary>Something that the picks can become.</summary>
/// <param name="Id">Stable name of the offer.</param>
/// <param name="Label">In words.</param>
/// <param name="Detail">The value it would have, or empty.</param>
/// <param name="Command">What a press sends; null for a value that is only read.</param>
public sealed record Offer(string Id, string Label, string Detail, PartCommand? Command);

/// <summary>Everything that the current picks determine.</summary>
public static class Offers
{
    /// <summary>For picks in a sketch.</summary>
    public static ImmutableArray<Offer> InSketch(Part part, SketchStep step, ImmutableArray<string> picks)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(step);
        var sketch = step.Sketch;
        if (picks.IsDefaultOrEmpty || sketch.FindAll(picks) is not { } of)
        {
            return [];
        }

        var offers = ImmutableArray.CreateBuilder<Offer>();
        var taken = sketch.UsedIds();
        foreach (var kind in DimensionCatalog.All.Where(k => k.Check(sketch, of) is null))
        {
            var now = kind.Measure(sketch, of);
            var drives = kind.CheckValue(now) is null;
            var shown = Units.Show(new Quantity(now, kind.Of), part.Units, 4);
            var id = Ids.Next("d", new HashSet<string>(taken));
            offers.Add(new Offer($"size-{kind.Name}", kind.Name.Replace('-', ' '), shown,
                drives ? new EditSketch(step.Id, new SketchEdit { Size = [new SketchDimension(id, kind.Name, picks, shown)] }, $"{kind.Name} {shown}") : null));
        }

        foreach (var kind in ConstraintCatalog.All.Where(k => k.Check(of) is null))
        {
            var id = Ids.Next("k", new HashSet<string>(taken));
            offers.Add(new Offer($"tie-{kind.Name}", kind.Name.Replace('-', ' '), "", new EditSketch(step.Id, new SketchEdit { Tie = [new SketchConstraint(id, kind.Name, picks)] }, kind.Name)));
        }

        var own = picks.Where(p => !Sketch.IsBuiltIn(p)).ToImmutableArray();
        if (own.Length > 0)
        {
            offers.Add(new Offer("construction", "construction on or off", "", new EditSketch(step.Id, new SketchEdit { ToggleConstruction = own }, "construction")));
            var gone = Removal.Gone(sketch, own).Count;
            offers.Add(new Offer("remove", "remove", gone > own.Length ? $"{gone} things in all" : "", new EditSketch(step.Id, new SketchEdit { Remove = own }, "remove")));
        }

        return offers.ToImmutable();
    }

    /// <summary>For faces, edges and vertices picked on the model.</summary>
    /// <param name="part">The part.</param>
    /// <param name="built">Its last rebuild.</param>
    /// <param name="picks">Names.</param>
    /// <param name="distance">The smallest distance between two picks in millimetres, when it is known.</param>
    public static ImmutableArray<Offer> OnModel(Part part, RebuildResult built, ImmutableArray<string> picks, double? distance)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        var offers = ImmutableArray.CreateBuilder<Offer>();
        string Show(double value, Dimension kind) => Units.Show(new Quantity(value, kind), part.Units);
        if (picks is [var one])
        {
            if (World.Plane(one) is not null || part.Find(one) is PlaneStep || FaceIsPlanar(built, one))
            {
                offers.Add(new Offer("sketch-here", "sketch here", "", new AddStep(new SketchStep("", 0, "", one, Sketch.Empty))));
                offers.Add(new Offer("plane-at", "plane at a distance", Show(10, Dimension.OfLength), new AddStep(new PlaneStep("", 0, "", one, part.Units == LengthUnit.Inch ? "1/2 in" : "10 mm"))));
            }

            if (Face(built, one) is { } face)
            {
                offers.Add(new Offer("face-area", $"area of this {face.Surface}", Show(face.Area, Dimension.OfArea), Reading("face-area", one)));
            }

            if (Edge(built, one) is { } edge)
            {
                offers.Add(new Offer("edge-length", $"length of this {edge.Curve}", Show(edge.Length, Dimension.OfLength), Reading("edge-length", one)));
                if (edge.Radius > 0)
                {
                    offers.Add(new Offer("radius", "radius", Show(edge.Radius, Dimension.OfLength), null));
                }
            }
        }

        if (picks is [var a, var b] && distance is { } d)
        {
            offers.Add(new Offer("distance", "smallest distance", Show(d, Dimension.OfLength), Reading("distance", a, b)));
        }

        foreach (var body in built.Bodies)
        {
            offers.Add(new Offer("volume", "volume of the part", Show(body.Mass.Volume, Dimension.OfVolume), Reading("volume")));
            offers.Add(new Offer("mass", $"mass in {part.Material.Name}", Show(Gauging.Mass.Grams(body.Mass.Volume, part.Material), Dimension.OfMass), Reading("mass")));
        }

        return offers.ToImmutable();
    }

    private static AddStep Reading(string what, params string[] of) => new(new ReadingStep("", 0, what.Replace('-', ' '), what, [.. of]));

    private static bool FaceIsPlanar(RebuildResult built, string name) => Face(built, name)?.Plane is not null;

    private static Forms.FaceShape? Face(RebuildResult built, string name) =>
        built.Bodies.Select(b => name.Contains('^', StringComparison.Ordinal) || b.Names.FindFace(name) is not (var i and >= 0) ? null : b.Topology.Faces[i]).FirstOrDefault(f => f is not null);

    private static Forms.EdgeShape? Edge(RebuildResult built, string name) =>
        built.Bodies.Select(b => b.Names.Find(name) is { Kind: Forms.SubShapeKind.Edge } found ? b.Topology.Edges[found.Index] : null).FirstOrDefault(e => e is not null);
}
