using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Constraints;

/// <summary>
/// A round end that closes two concentric arcs, tangent to both. Said at once, since four separate tangencies would leave
/// the last one both needed and dependent: the end's centre lies between its two corners and on the ray to the outer one.
/// </summary>
internal sealed class EndCap : ConstraintKind
{
    public const string KindName = "end-cap";

    public override string Name => KindName;

    internal override SketchConstraint? Reshaped(Sketch sketch, SketchConstraint constraint, SketchEntity old, SketchEntity now) => null;

    internal override void Note(SmoothJoints joints, SketchConstraint constraint) => joints.Touch(constraint.Of);

    internal override void Note(Contacts contacts, SketchConstraint constraint, IReadOnlyList<SketchEntity> of)
    {
        if (of is [ArcEntity cap, ArcEntity outer, ArcEntity inner] && Corners(cap, outer, inner) is var (_, corner))
        {
            contacts.Cap(cap, inner, corner);
        }
    }

    public override string Needs => "an arc that joins the ends of two concentric arcs, and those two, the outer first";

    public override bool TiedByHand => false;

    public override int Turn => 1;

    protected override bool Fits(IReadOnlyList<SketchEntity> of) =>
        of is [ArcEntity cap, ArcEntity outer, ArcEntity inner] && outer.Centre == inner.Centre && Corners(cap, outer, inner) is not null;

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        var (cap, outer, inner) = ((ArcEntity)of[0], (ArcEntity)of[1], (ArcEntity)of[2]);
        var (a, b) = Corners(cap, outer, inner)!.Value;
        var (c, p, q, o) = (writer.PointIndex(outer.Centre), writer.PointIndex(cap.Centre), writer.PointIndex(a), writer.PointIndex(b));
        AngledLines.WriteSigned(writer, [c, c + 1, p, p + 1], [c, c + 1, q, q + 1], 0);
        writer.Add(new Linear([p, q, o], [1, -0.5, -0.5], 0));
        writer.Add(new Linear([p + 1, q + 1, o + 1], [1, -0.5, -0.5], 0));
    }

    /// <summary>The corners at the outer and at the inner arc.</summary>
    internal static (string Outer, string Inner)? Corners(ArcEntity cap, ArcEntity outer, ArcEntity inner)
    {
        string[] ends = [cap.From, cap.To];
        return
            ends.FirstOrDefault(e => e == outer.From || e == outer.To) is { } a
            && ends.FirstOrDefault(e => e == inner.From || e == inner.To) is { } b
            && a != b
            ? (a, b)
            : null;
    }
}
