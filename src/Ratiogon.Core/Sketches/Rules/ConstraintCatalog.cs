using Ratiogon.Core.Sketches.Constraints;
using Parallel = Ratiogon.Core.Sketches.Constraints.Parallel;

namespace Ratiogon.Core.Sketches.Rules;

/// <summary>Every kind of constraint.</summary>
public static class ConstraintCatalog
{
    public static IReadOnlyList<ConstraintKind> All { get; } =
    [
        new Coincident(),
        new OnCurve(),
        new Crossing(),
        new Midpoint(),
        new Horizontal(),
        new Vertical(),
        new Parallel(),
        new Perpendicular(),
        new Collinear(),
        new Tangent(),
        new Smooth(),
        new Concentric(),
        new Equal(),
        new Symmetric(),
        new Same(),
        new Fixed(),
        new MirrorImage(),
        new LinearCopies(),
        new TurnedCopies(),
        new EndCap(),
        .. Kinds.Brought<ConstraintKind>(),
    ];

    private static readonly Dictionary<string, ConstraintKind> ByName = All.ToDictionary(k => k.Name, StringComparer.Ordinal);

    public static ConstraintKind? Find(string name) => ByName.GetValueOrDefault(name ?? "");
}
