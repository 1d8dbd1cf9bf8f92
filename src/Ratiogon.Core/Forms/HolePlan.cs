using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>One hole as it lies: for the table, the probe strip and the drawing of its thread. Lengths in millimetres along
/// its axis from its centre.</summary>
/// <param name="Centre">The reference that it stands on.</param>
/// <param name="At">Its centre.</param>
/// <param name="Direction">The way it is drilled.</param>
/// <param name="Size">In words.</param>
/// <param name="Diameter">Of the drill.</param>
/// <param name="Start">Where depth is counted from.</param>
/// <param name="End">Where its full diameter ends.</param>
/// <param name="Thread">How deep it is tapped; 0 for none.</param>
/// <param name="Stretches">The material along the axis before it is drilled.</param>
/// <param name="Notes">What is worth knowing.</param>
public sealed record HoleRow(
    string Centre,
    Vec3 At,
    Vec3 Direction,
    string Size,
    double Diameter,
    double Start,
    double End,
    double Thread,
    ImmutableArray<Stretch> Stretches,
    ImmutableArray<string> Notes
)
{
    /// <summary>Id of the hole step that it was drilled by first, of copies as well.</summary>
    public string By { get; init; } = "";
}

/// <summary>A stretch of material along an axis, with the angles (radians) between the axis and the normals of the faces that it
/// goes in and out by.</summary>
public sealed record Stretch(double From, double To, double In, double Out, string FaceIn, string FaceOut);

/// <summary>Decides where a hole begins and ends from the material along its axis.</summary>
internal static class HolePlan
{
    /// <summary>How far beyond a face, in millimetres, an end that was typed to be on it may be by rounding.</summary>
    private const double Through = 1e-9;

    /// <summary>How much a face may lean, in radians, against a hole that is square to it.</summary>
    private const double Square = 1e-6;

    private const double Slanted = 0.09;
    private const int Ways = 6;

    /// <summary>The stretches of material along an axis, of several bodies, in order.</summary>
    public static ImmutableArray<Stretch> Probe(ISolidKernel kernel, IEnumerable<FormBody> bodies, Line3 axis) =>
        [
            .. bodies
                .SelectMany(b =>
                    kernel
                        .Probe(b.Solid, axis)
                        .Select(s => new Stretch(
                            s.In.At,
                            s.Out.At,
                            Lean(s.In.Normal, axis),
                            Lean(s.Out.Normal, axis),
                            Name(b, s.In.Face),
                            Name(b, s.Out.Face)
                        ))
                )
                .OrderBy(s => s.From),
        ];

    public static Outcome<(HoleRow Row, RoundTool Tool)> Of(
        FormSite site,
        HoleStep step,
        HoleSize size,
        ImmutableArray<FormBody> bodies,
        string centre,
        Line3 axis
    )
    {
        var stretches = Probe(site.Kernel, bodies, axis);
        var ahead = stretches.Where(s => s.To > Tolerances.Length * 10).ToList();
        var beside = ahead.Count == 0 ? Beside(site, bodies, axis, Math.Max(size.HeadDiameter, size.Diameter) / 2) : null;
        if (ahead.Count == 0 && beside is null)
        {
            return Missed(site, stretches, bodies, centre, axis);
        }

        if (beside is { } wall)
        {
            ahead.Add(wall);
        }

        var first = ahead[0];
        var start = step.From == HoleFrom.Point ? 0 : first.From;
        return EndOf(site, step, size, axis, ahead, start)
            .Then<(HoleRow, RoundTool)>(end =>
            {
                if (end <= start + Tolerances.SmallestSize)
                {
                    return new Refusal(
                        "hole.nothing",
                        $"The hole at {centre} would have no depth: it ends {site.Show(start - end)} before it starts.",
                        "depth"
                    );
                }

                if (end + size.PointDepth <= first.From)
                {
                    return new Refusal(
                        "hole.short",
                        $"The hole at {centre} ends {site.Show(first.From - end)} before the first material.",
                        "depth"
                    );
                }

                var notes = beside is not null
                    ? ["its axis runs beside the material: only its wall cuts it"]
                    : Notes(site, step, size, centre, axis, stretches, first, start, end);
                var above = stretches.Where(s => s.From < start - (Tolerances.Length * 10)).ToList();
                var thread =
                    step.Sizing != HoleSizing.Tapped ? 0
                    : size.ThreadDepth > 0 ? size.ThreadDepth
                    : end - start;
                var row = new HoleRow(centre, axis.Origin, axis.Direction, size.Words, size.Diameter, start, end, thread, stretches, notes)
                {
                    By = step.Id,
                };
                // Through is through all, beside the axis as well; where a copy stands in thicker material it goes through that.
                var deep = step.Extent == HoleExtent.Through ? Math.Max(end, site.Reach(axis.Origin)) : end;
                var square = first.FaceIn.Length > 0 && first.In < Square && Flat(bodies, first.FaceIn);
                return (row, Tool(size, step, centre, axis, start, deep, Lift(site, step, axis, first.From, start, square, above)));
            });
    }

    private static Outcome<double> EndOf(FormSite site, HoleStep step, HoleSize size, Line3 axis, List<Stretch> ahead, double start)
    {
        switch (step.Extent)
        {
            case HoleExtent.Depth:
                return start + size.Depth;
            case HoleExtent.Through:
                return ahead[^1].To;
            default:
                return site.Find(step.To!)
                    .Then<double>(t =>
                    {
                        if ((t.Plane ?? t.Frame) is { } plane)
                        {
                            var lean = axis.Direction.Dot(plane.Z);
                            return Math.Abs(lean) < Tolerances.DrawnAngle
                                ? new Refusal("hole.to-parallel", $"{t.Words} runs along the hole: it is never met.", "to")
                                : (plane.Origin - axis.Origin).Dot(plane.Z) / lean;
                        }

                        var met = ahead
                            .SelectMany(s => new[] { (s.From, s.FaceIn), (s.To, s.FaceOut) })
                            .Where(m => m.Item2 == step.To && m.Item1 > start + Tolerances.Length)
                            .Select(m => m.Item1)
                            .ToList();
                        return met.Count > 0 ? met[0] : new Refusal("hole.to-missed", $"The hole does not meet {t.Words}.", "to");
                    });
        }
    }

    /// <summary>
    /// How far before its start a hole clears what stands in its way. Nothing where it goes square into a flat skin, or begins
    /// inside: material that stands beside it is left, to the last bit. All of it where that is wished, and where the skin leans
    /// or bends, for a drill comes from outside; from within a body, from the middle of the room that there is.
    /// </summary>
    private static double Lift(FormSite site, HoleStep step, Line3 axis, double skin, double start, bool square, List<Stretch> above)
    {
        var outside = Math.Max(site.Reach(axis.Origin), 0) + start;
        if (step.Clear)
        {
            return outside;
        }

        if (square || Math.Abs(start - skin) > Tolerances.KernelLength)
        {
            return 0;
        }

        return above.Count > 0 ? Math.Max(0, start - above[^1].To) / 2 : outside;
    }

    private static bool Flat(IEnumerable<FormBody> bodies, string face) =>
        bodies.Any(b => b.Names.Faces.IndexOf(face) is var i && i >= 0 && b.Topology.Faces[i].Plane is not null);

    private static RoundTool Tool(HoleSize size, HoleStep step, string centre, Line3 axis, double start, double end, double lift)
    {
        var top = Math.Max(size.HeadDiameter, size.Diameter) / 2;
        var from = start - lift;
        var r = size.Diameter / 2;
        var outline = ImmutableArray.CreateBuilder<TurnedCorner>();
        outline.Add(new TurnedCorner(from, 0, ""));
        if (size.HeadDiameter > 0)
        {
            outline.Add(new TurnedCorner(from, top, "top"));
            if (step.Head == HoleHead.Counterbore)
            {
                outline.Add(new TurnedCorner(start + size.HeadDepth, top, "head"));
                outline.Add(new TurnedCorner(start + size.HeadDepth, r, "seat"));
            }
            else
            {
                if (start - from > Through)
                {
                    outline.Add(new TurnedCorner(start, top, "head"));
                }

                outline.Add(new TurnedCorner(start + size.HeadDepth, r, "sink"));
            }
        }
        else
        {
            outline.Add(new TurnedCorner(from, r, "top"));
        }

        outline.Add(new TurnedCorner(end, r, "wall"));
        outline.Add(new TurnedCorner(end + size.PointDepth, 0, size.PointDepth > 0 ? "point" : "floor"));
        return new RoundTool(axis, outline.ToImmutable(), $"{step.Id}/", $"/({centre})");
    }

    private static ImmutableArray<string> Notes(
        FormSite site,
        HoleStep step,
        HoleSize size,
        string centre,
        Line3 axis,
        ImmutableArray<Stretch> all,
        Stretch first,
        double start,
        double end
    )
    {
        var notes = ImmutableArray.CreateBuilder<string>();
        if (first.In > Slanted && Math.Abs(start - first.From) < Tolerances.KernelLength)
        {
            notes.Add($"enters at {FormSite.Degrees(first.In)} to the square: a drill may wander");
        }

        var stock = all.Where(s => s.From < start - Tolerances.KernelLength).Sum(s => Math.Min(s.To, start) - s.From);
        if (stock > Tolerances.KernelLength)
        {
            notes.Add(
                step.Clear
                    ? $"{site.Show(stock)} of stock above the start is cleared"
                    : $"{site.Show(stock)} of stock is left above the start"
            );
        }

        if (step.Extent != HoleExtent.Through)
        {
            var within = all.FirstOrDefault(s => end > s.From - Through && end <= s.To + Through);
            if (within is null)
            {
                notes.Add("ends in the open");
            }
            else if (size.PointDepth > 0 && end + size.PointDepth > within.To + Through && end < within.To - Through)
            {
                notes.Add($"the drill's point breaks out by {site.Show(end + size.PointDepth - within.To)}");
            }
        }
        else if (all[^1].Out > Slanted)
        {
            notes.Add($"leaves at {FormSite.Degrees(all[^1].Out)} to the square");
        }

        var middle = (Math.Max(start, first.From) + Math.Min(end, first.To)) / 2;
        if (Wall(site, axis, middle, size.Diameter / 2) is { } wall && wall < Math.Min(size.Diameter / 4, 2))
        {
            notes.Add(wall <= 0 ? "breaks out of the side" : $"leaves a wall of {site.Show(wall)}");
        }

        var words = site.Find(centre) is { Done: true, Value.Words: var w } ? w : centre;
        return [.. notes.Select(n => $"{words}: {n}")];
    }

    /// <summary>The least material beside a hole at a place along its axis, looked at six ways; null in the open.</summary>
    private static double? Wall(FormSite site, Line3 axis, double at, double radius)
    {
        var (a, b) = axis.Direction.Across();
        var least = default(double?);
        for (var i = 0; i < Ways; i++)
        {
            var (sin, cos) = Math.SinCos(i * 2 * Math.PI / Ways);
            var here = site
                .Bodies.SelectMany(body => site.Kernel.Probe(body.Solid, new Line3(axis.At(at), (a * cos) + (b * sin))))
                .FirstOrDefault(s => s.In.At < Tolerances.KernelLength && s.Out.At > -Tolerances.KernelLength);
            if (here.Length > 0)
            {
                least = Math.Min(least ?? double.MaxValue, here.Out.At - radius);
            }
        }

        return least;
    }

    /// <summary>Where a hole cuts material that its axis misses, from the first to the last of it; null where it cuts none.</summary>
    private static Stretch? Beside(FormSite site, ImmutableArray<FormBody> bodies, Line3 axis, double radius)
    {
        var reach = site.Reach(axis.Origin);
        var near = bodies.Where(b => b.Box.Reaches(axis, 0, reach, radius)).ToList();
        var tool =
            near.Count == 0 ? null
            : new RoundTool(axis, [new(0, 0, ""), new(0, radius, "top"), new(reach, radius, "wall"), new(reach, 0, "floor")], "", "").Make(
                site.Kernel
            )
                is { Done: true } made
                ? made.Value
            : null;
        if (tool is null)
        {
            return null;
        }

        // Upright, the box of what they share tells where it begins and ends.
        var standing = new MovingFrame(axis.Origin, axis.Direction, axis.Direction.Across().A);
        var upright = Rigid.Between(standing, new MovingFrame(Vec3.Zero, Vec3.AlongZ, Vec3.AlongX));
        List<Box> shared =
        [
            .. near.Select(b => site.Kernel.Common(b.Solid, tool.Solid).Then(c => site.Kernel.Move(c.Solid, upright)))
                .Where(c => c.Done)
                .Select(c => site.Kernel.Bounds(c.Value.Solid)),
        ];
        return shared.Count == 0 ? null : new Stretch(shared.Min(b => b.Low.Z), shared.Max(b => b.High.Z), 0, 0, "", "");
    }

    private static Refusal Missed(FormSite site, ImmutableArray<Stretch> all, ImmutableArray<FormBody> bodies, string centre, Line3 axis)
    {
        if (all.Length > 0)
        {
            return new Refusal(
                "hole.behind",
                $"The hole at {centre} meets no material that way; it lies {site.Show(-all[^1].To)} behind. Flip it.",
                "flip"
            );
        }

        var nearest = bodies
            .Select(b => (Foot: b.Topology.Faces.Select(f => f.Centre).MinBy(axis.DistanceTo), b))
            .MinBy(f => axis.DistanceTo(f.Foot))
            .Foot;
        var near = bodies.Min(b => Gap(b, axis));
        return new Refusal(
            "hole.no-material",
            $"The hole at {centre} meets no material: its axis passes {site.Show(near)} beside the nearest, about "
                + $"{site.Show(nearest)}. Move the centre, or pick another direction.",
            "centres"
        );
    }

    /// <summary>How far a line passes beside a body: to the nearest of its edges.</summary>
    private static double Gap(FormBody body, Line3 axis) =>
        body
            .Topology.Edges.Select(ShapeNumbers.CurveOf)
            .OfType<SpaceCurve>()
            .Min(curve => CurvePath.Of(curve).Value is var path ? axis.DistanceTo(path.AtLength(path.NearestTo(axis)).At) : 0);

    private static double Lean(Vec3 normal, Line3 axis) =>
        normal.Length < Square ? 0 : Math.Acos(Math.Clamp(Math.Abs(normal.Dot(axis.Direction)), 0, 1));

    private static string Name(FormBody body, int face) => face >= 0 && face < body.Names.Faces.Length ? body.Names.Faces[face] : "";
}
