using Ratiogon.Core.Building;
using Ratiogon.Core.Tools.Picks;

namespace Ratiogon.Solids.Tests;

/// <summary>What is likeliest with what is picked is offered first.</summary>
public sealed class OfferOrderTests : IDisposable
{
    private readonly Rebuilder rebuilder = new(new NativeKernel());

    public void Dispose() => rebuilder.Dispose();

    private List<string> With(params string[] picks)
    {
        var part = Parts.Of([.. Parts.Block(40, 30, 20)]);
        return [.. Offers.OnModel(part, rebuilder.Rebuild(part, withMesh: false), [.. picks], []).Select(o => o.Id)];
    }

    [Fact]
    public void Edges_are_rounded_or_bevelled_before_anything_else() =>
        With("e/side/r.left^e/side/r.top").Take(2).ShouldBe(["form-fillet", "form-chamfer"]);

    [Fact]
    public void A_face_makes_planes_and_sketches_before_forms()
    {
        var offers = With("e/end");
        offers.FindIndex(o => o.StartsWith("plane-", StringComparison.Ordinal)).ShouldBeInRange(0, offers.IndexOf("form-shell"));
        offers.ShouldNotContain("form-fillet");
    }
}
