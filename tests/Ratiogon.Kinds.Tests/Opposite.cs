using Ratiogon.Core;
using Ratiogon.Core.Numerics.Equations;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Kinds.Tests;

/// <summary>Two points stand opposite each other about the sketch's origin. Made up, to try how a constraint is added.</summary>
[Kind("opposite")]
internal sealed class Opposite : ConstraintKind
{
    public override string Name => "opposite";

    public override string Needs => "two points";

    public override char Stroke => 'j';

    public override string Icon => "M3 13L13 3M8 8h.010";

    protected override bool Fits(IReadOnlyList<SketchEntity> of) => of is [PointEntity, PointEntity];

    public override void Write(SystemWriter writer, IReadOnlyList<SketchEntity> of)
    {
        ArgumentNullException.ThrowIfNull(writer);
        ArgumentNullException.ThrowIfNull(of);
        var (p, q) = (writer.PointIndex(of[0].Id), writer.PointIndex(of[1].Id));
        writer.Add(new Linear([p, q], [1, 1], 0));
        writer.Add(new Linear([p + 1, q + 1], [1, 1], 0));
    }
}
