using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Forms;

/// <summary>How an extrude finds where it ends: at the next face, or at what is picked.</summary>
public sealed partial record ExtrudeStep
{
    /// <summary>As far as the first material: what is left of a long prism between its start and the bodies; of a cut, the
    /// first stretch of material that it covers.</summary>
    private Outcome<Shaped> ToNext(FormSite site, Profile profile, Vec3 along) =>
        site.Chosen(Bodies)
            .Then(bodies =>
            {
                if (bodies.IsEmpty)
                {
                    return new Refusal("extrude.no-body", "There is no material to go to yet.", "extent");
                }

                return Prism(site, profile, along, (0, site.Reach(profile.Plane.Origin) / Math.Abs(along.Dot(profile.Plane.Z))))
                    .Then<Shaped>(made =>
                    {
                        var cut = site.Kernel.Cut(made.Solid, [.. bodies.Select(b => b.Solid)]);
                        if (!cut.Done)
                        {
                            return cut.Refusal!;
                        }

                        var left = Shaped.Of(
                            cut.Value,
                            Id,
                            o => o.Kind == OriginKind.Face && o.Input == 0 ? made.Bases[o.Index] : $"{Id}/end",
                            o =>
                                o.Kind != OriginKind.Face ? AxisGuide.None
                                : o.Input == 0 ? made.Guide(o.Index)
                                : bodies[o.Input - 1].Shape.Guide(o.Index)
                        );
                        var starts = Faces(left, $"{Id}/start");
                        var first =
                            starts.Count == 0
                                ? new Refusal("extrude.inside", "It would begin inside the material.")
                                : site.Kernel.PiecesWith(left.Solid, starts);
                        if (!first.Done)
                        {
                            return first.Refusal!;
                        }

                        var piece = Shaped.Of(first.Value, Id, [left]);
                        if (
                            Faces(piece, $"{Id}/end").Count == 0
                            || site.Kernel.Bounds(piece.Solid).Diagonal > site.Reach(profile.Plane.Origin) * 0.9
                        )
                        {
                            return new Refusal("extrude.no-next", "No material lies that way. Flip it, or give a length.", "extent");
                        }

                        if (Operation != FormOperation.Cut)
                        {
                            return piece;
                        }

                        // Through the gap in front and the first stretch of material behind it.
                        var rest = site
                            .Kernel.Cut(made.Solid, piece.Solid)
                            .Then(r => site.Kernel.Common(bodies[0].Solid, r.Solid).Map(c => (Beyond: r, Common: c)));
                        return rest.Done
                            ? FirstStretch(
                                site,
                                Shaped.Of(rest.Value.Common, Id, [bodies[0].Shape, Shaped.Of(rest.Value.Beyond, Id, [made, piece])]),
                                profile,
                                along
                            )
                            : rest.Refusal!;
                    });
            });

    /// <summary>The piece of a body in several that lies first along a direction.</summary>
    private Outcome<Shaped> FirstStretch(FormSite site, Shaped pieces, Profile profile, Vec3 along)
    {
        var topology = site.Kernel.Describe(pieces.Solid);
        var near = Enumerable.Range(0, topology.Faces.Length).MinBy(i => (topology.Faces[i].Centre - profile.Plane.Origin).Dot(along));
        return site.Kernel.PiecesWith(pieces.Solid, [near]).Map(r => Shaped.Of(r, Id, [pieces]));
    }

    private Outcome<Shaped> UpTo(FormSite site, Profile profile, Vec3 along) =>
        site.Find(To!)
            .Then<Shaped>(thing =>
            {
                if (thing.Surface is null && thing.Plane is null && thing.Frame is null && thing.Place is null)
                {
                    return new Refusal("extrude.no-place", $"{thing.Words} is neither a face, a plane nor a point.", "to");
                }

                if (thing.Surface is null or FlatSurface && DistanceTo(site, To!, profile, along, "to") is { Done: true, Value: var d })
                {
                    return d > Tolerances.Length ? Prism(site, profile, along, (0, d))
                        : d < -Tolerances.Length ? Prism(site, profile, -along, (0, -d))
                        : new Refusal("extrude.nothing", $"{thing.Words} lies on the sketch plane: there is nothing between.", "to");
                }

                var reach = site.Reach(profile.Plane.Origin) / Math.Abs(along.Dot(profile.Plane.Z));
                var flat = thing.Plane ?? thing.Frame;
                if (flat is { } leaning)
                {
                    var way = Ways(profile, along, leaning);
                    if (Crossed(thing.Words, way) is { } crossed)
                    {
                        return crossed;
                    }

                    reach = Math.Max(reach, way.Max * 1.1);
                }

                var made = Prism(site, profile, along, (0, reach));
                if (!made.Done)
                {
                    return made;
                }

                Shaped left;
                if (flat is { } plane)
                {
                    var facing = plane.Z.Dot(along) > 0 ? plane : plane.Flipped();
                    var below = site.Kernel.Below(made.Value.Solid, facing);
                    if (!below.Done)
                    {
                        return new Refusal("extrude.no-next", $"{thing.Words} is not met that way. Flip it.", "to");
                    }

                    left = Shaped.Of(below.Value, Id, [made.Value], _ => $"{Id}/end", _ => AxisGuide.Of(plane));
                }
                else
                {
                    var on = site.On(To!);
                    if (!on.Done)
                    {
                        return on.Refusal!;
                    }

                    var divided = site.Kernel.Divide(made.Value.Solid, on.Value.Body.Solid, on.Value.Part.Index, reach);
                    if (!divided.Done)
                    {
                        return divided.Refusal!;
                    }

                    left = Shaped.Of(divided.Value, Id, [made.Value], _ => $"{Id}/limit");
                    var starts = Faces(left, $"{Id}/start");
                    var first = site.Kernel.PiecesWith(left.Solid, starts);
                    if (!first.Done)
                    {
                        return first.Refusal!;
                    }

                    left = Shaped.Of(first.Value, Id, [left]);
                }

                // All of the outline is left where the face does not pass through it.
                var faces = site.Kernel.Describe(left.Solid).Faces;
                var whole = site.Kernel.Describe(made.Value.Solid).Faces;
                var (begun, outline) = (
                    Faces(left, $"{Id}/start").Sum(i => faces[i].Area),
                    Faces(made.Value, $"{Id}/start").Sum(i => whole[i].Area)
                );
                if (begun < outline * (1 - Tolerances.Rank))
                {
                    return Crossing(thing.Words);
                }

                // The far cap of the long prism is gone where the face was met all over.
                var ends = faces
                    .Select((f, i) => (f, i))
                    .Any(f => left.Bases[f.i] == $"{Id}/end" && (f.f.Centre - profile.Plane.Origin).Dot(along) > reach * 0.99);
                return ends
                    ? new Refusal("extrude.beyond", $"{thing.Words} does not cover the whole profile: part of it would run past.", "to")
                    : left with
                    {
                        Bases = [.. left.Bases.Select(b => b == $"{Id}/limit" ? $"{Id}/end" : b)],
                    };
            });

    /// <summary>The least and the most way from the outline along a direction to a plane, in millimetres; infinite where it runs along
    /// it.</summary>
    private static (double Min, double Max) Ways(Profile profile, Vec3 along, Frame plane)
    {
        var lean = along.Dot(plane.Z);
        var ways = profile
            .Edges.SelectMany(e => e.Drawn())
            .Select(p => (plane.Origin - profile.Plane.ToWorld(p)).Dot(plane.Z) / lean)
            .ToList();
        return Math.Abs(lean) < Tolerances.Angle ? (double.NegativeInfinity, double.PositiveInfinity) : (ways.Min(), ways.Max());
    }

    private static Refusal? Crossed(string words, (double Min, double Max) way) =>
        double.IsInfinity(way.Max) ? new Refusal("extrude.along", $"{words} runs along the extrude: it is never met.", "to")
        : way.Max < Tolerances.Length ? new Refusal("extrude.no-next", $"{words} is not met that way. Flip it.", "to")
        : way.Min < -Tolerances.Length ? Crossing(words)
        : null;

    private static Refusal Crossing(string words) =>
        new("extrude.crossing", $"{words} passes through the outline: a part of it lies beyond. Start further away, or flip it.", "to");

    private static List<int> Faces(Shaped shape, string name) =>
        [.. Enumerable.Range(0, shape.Bases.Length).Where(i => shape.Bases[i] == name)];
}
