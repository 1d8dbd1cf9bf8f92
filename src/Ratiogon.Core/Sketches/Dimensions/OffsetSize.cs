using System.Collections.Immutable;
using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Dimensions;

/// <summary>
/// A chain of lines and arcs that keeps one distance from another: pairs of a curve and its offset. Lines stay
/// parallel, arcs concentric. Where two neighbours meet tangentially their offsets meet square to the joint, which the
/// two distances alone would leave open.
/// </summary>
internal sealed class OffsetSize : DimensionKind
{
    public const string KindName = "offset";

    /// <summary>The cosine of how far the foot of an offset may be off square.</summary>
    private const double Square = 1e-5;

    public override string Name => KindName;

    public override MeasuredSpan Span(Sketch sketch, IReadOnlyList<SketchEntity> of)
    {
        if (of[0] is LineEntity l)
        {
            var m = (sketch.At(l.From) + sketch.At(l.To)) / 2;
            return MeasuredSpan.Between(m, m.FootOn(sketch.At(of[1].Points[0]), sketch.At(of[1].Points[1])));
        }

        var c = PlaceOf(sketch, of[0]);
        var heading = of[0] is ArcEntity arc ? Arcs.Start(sketch, arc) + (Arcs.Sweep(sketch, arc) / 2) : Math.PI / 4;
        return MeasuredSpan.Between(
            c + Vec2.Polar(heading, RimDistance.RadiusOf(of[0])),
            c + Vec2.Polar(heading, RimDistance.RadiusOf(of[1]))
        );
    }

    public override Dimension Of => Dimension.OfLength;

    public override string Needs => "pairs of a line, circle or arc and its offset";

    public override bool FitsAnywhere(Sketch sketch, ImmutableArray<string> of) => true;

    public override bool OfPicks => false;

    protected override bool MayRepeat => true;

    internal override void Note(Contacts contacts, Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        contacts.Imply(ImpliedEnds(sketch, contacts.Smooth, of));

    internal override void Note(SmoothJoints joints, SketchDimension dimension)
    {
        foreach (var pair in dimension.Of.Chunk(2))
        {
            joints.Follow(pair[1], pair[0]);
        }
    }

    /// <summary>The dimension without the pairs that lost a curve; null where none is left.</summary>
    public static SketchDimension? Without(SketchDimension offset, IReadOnlySet<string> gone)
    {
        ImmutableArray<string> left =
        [
            .. Enumerable
                .Range(0, offset.Of.Length / 2)
                .Where(i => !gone.Contains(offset.Of[2 * i]) && !gone.Contains(offset.Of[(2 * i) + 1]))
                .SelectMany(i => new[] { offset.Of[2 * i], offset.Of[(2 * i) + 1] }),
        ];
        return left.IsEmpty ? null
            : left.Length == offset.Of.Length ? offset
            : offset with { Of = left };
    }

    public override double Measure(Sketch sketch, IReadOnlyList<SketchEntity> of) => Math.Abs(Signed(sketch, of[0], of[1]));

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of, double value)
    {
        var distance = writer.Unknown(value);
        writer.Fix(distance, value);
        WriteKept(writer, of, distance, value);
    }

    /// <summary>Without a value the chain still keeps one distance everywhere, whatever it is.</summary>
    public override void WriteFree(SystemWriter writer, IReadOnlyList<SketchEntity> of) =>
        WriteKept(writer, of, writer.Unknown(Measure(writer.Sketch, of)), null);

    private static void WriteKept(SystemWriter writer, IReadOnlyList<SketchEntity> of, int distance, double? value)
    {
        var sketch = writer.Sketch;
        var done = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i < of.Count; i += 2)
        {
            var side = Signed(sketch, of[i], of[i + 1]) < 0 ? -1 : 1;
            if (of[i] is LineEntity line)
            {
                var e = writer.EndsOf(line);
                foreach (var (own, copy) in line.Points.Zip(of[i + 1].Points))
                {
                    // Where two go straight on into each other, the first places the joint.
                    var (q, p) = (writer.PointIndex(copy), writer.PointIndex(own));
                    var square = StandsSquare(sketch, writer.Contacts.Smooth, of, own, copy);
                    if (square && done.Contains(copy))
                    {
                        continue;
                    }

                    writer.Add(new LineTouchesCircle(q, q + 1, e, distance, side));
                    if (square && done.Add(copy))
                    {
                        // (q - p) . u = 0
                        writer.Add(new SquareTo(e, [p, p + 1, q, q + 1]));
                    }
                }
            }
            else
            {
                WriteRound(writer, of, i, side, distance, value, done);
            }
        }
    }

    private static void WriteRound(
        SystemWriter writer,
        IReadOnlyList<SketchEntity> of,
        int i,
        int side,
        int distance,
        double? value,
        HashSet<string> done
    )
    {
        var (c, d) = (writer.PointOf(of[i]), writer.PointOf(of[i + 1]));
        if (c != d)
        {
            writer.Identify(c.X, d.X);
            writer.Identify(c.Y, d.Y);
        }

        if (value is { } known)
        {
            writer.Identify(writer.RadiusOf(of[i]), writer.RadiusOf(of[i + 1]), side * known);
        }
        else
        {
            writer.Add(new Linear([writer.RadiusOf(of[i + 1]), writer.RadiusOf(of[i]), distance], [1, -1, -side], 0));
        }

        if (of[i] is ArcEntity arc && of[i + 1] is ArcEntity offset)
        {
            foreach (var (own, copy) in new[] { (arc.From, offset.From), (arc.To, offset.To) })
            {
                // Between two arcs, or at a loose end, the offset's end stands on the ray through the end.
                if (StandsSquare(writer.Sketch, writer.Contacts.Smooth, of, own, copy) && !LineAt(of, copy) && done.Add(copy))
                {
                    var (p, q) = (writer.PointIndex(own), writer.PointIndex(copy));
                    AngledLines.WriteSigned(writer, [c.X, c.Y, p, p + 1], [c.X, c.Y, q, q + 1], 0);
                }
            }
        }
    }

    /// <summary>Ends of offset arcs that lie on their circles already: where a curve goes over tangentially into the next,
    /// distance and squareness place the joint, and one circle more says nothing new.</summary>
    internal static IEnumerable<(string Arc, string End)> ImpliedEnds(Sketch sketch, SmoothJoints smooth, IReadOnlyList<SketchEntity> of)
    {
        var placed = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i < of.Count; i += 2)
        {
            if (of[i] is not ArcEntity arc || of[i + 1] is not ArcEntity offset)
            {
                continue;
            }

            foreach (
                var (_, end) in new[] { (arc.From, offset.From), (arc.To, offset.To) }.Where(e =>
                    StandsSquare(sketch, smooth, of, e.Item1, e.Item2)
                )
            )
            {
                // Of two arcs that meet, the first places the joint.
                if (LineAt(of, end) || !placed.Add(end))
                {
                    yield return (offset.Id, end);
                }
            }
        }
    }

    protected override Refusal? Fits(Sketch sketch, IReadOnlyList<SketchEntity> of) =>
        of.Count >= 2
        && of.Count % 2 == 0
        && Enumerable
            .Range(0, of.Count / 2)
            .All(i =>
                of[2 * i] is LineEntity
                    ? of[(2 * i) + 1] is LineEntity
                    : of[2 * i] is CircleEntity or ArcEntity && of[(2 * i) + 1] is CircleEntity or ArcEntity
            )
            ? null
            : DoesNotFit(of);

    /// <summary>How far the copy lies to the left of a line, or outside a round curve.</summary>
    internal static double Signed(Sketch sketch, SketchEntity e, SketchEntity copy)
    {
        if (e is LineEntity l && copy is LineEntity m)
        {
            var a = sketch.At(l.From);
            return (sketch.At(l.To) - a).Unit.Cross(((sketch.At(m.From) + sketch.At(m.To)) / 2) - a);
        }

        return RimDistance.RadiusOf(copy) - RimDistance.RadiusOf(e);
    }

    /// <summary>Whether an end of an offset stands square to the end that it goes with: it does where it is loose, or joins two offsets
    /// whose
    /// originals go over into each other tangentially; not where the offset alone was shortened or led on.</summary>
    private static bool StandsSquare(Sketch sketch, SmoothJoints smooth, IReadOnlyList<SketchEntity> of, string own, string point)
    {
        var pair = Enumerable.Range(0, of.Count / 2).First(i => of[2 * i].Points.Contains(own) && of[(2 * i) + 1].Points.Contains(point));
        var across = sketch.At(point) - sketch.At(own);
        if (Math.Abs(across.Unit.Dot(Direction(sketch, of[2 * pair], of[(2 * pair) + 1], point))) > Square)
        {
            return false;
        }

        var at = Enumerable
            .Range(0, of.Count / 2)
            .Where(i => Curves.Ends(of[(2 * i) + 1]) is var (a, b) && (a == point || b == point))
            .ToList();
        if (at.Count != 2)
        {
            return true;
        }

        var (u, v) = (
            Direction(sketch, of[2 * at[0]], of[(2 * at[0]) + 1], point),
            Direction(sketch, of[2 * at[1]], of[(2 * at[1]) + 1], point)
        );
        return Math.Abs(u.Cross(v)) < Tolerances.DrawnAngle && smooth.Hold(of[2 * at[0]].Id, of[2 * at[1]].Id);
    }

    private static Vec2 Direction(Sketch sketch, SketchEntity e, SketchEntity copy, string point)
    {
        var (from, to) = Curves.Ends(e)!.Value;
        var own = sketch.At(Curves.Ends(copy)!.Value.From == point ? from : to);
        return e is LineEntity ? (sketch.At(to) - sketch.At(from)).Unit : (own - sketch.At(Curves.Centre(e)!)).Unit.Left;
    }

    private static bool LineAt(IReadOnlyList<SketchEntity> of, string point) =>
        of.Where((_, i) => i % 2 == 1).OfType<LineEntity>().Any(l => l.Points.Contains(point));
}
