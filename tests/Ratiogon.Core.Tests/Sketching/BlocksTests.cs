using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Tests.Sketching;

public class BlocksTests
{
    [Fact]
    public void Outlines_that_only_touch_are_blocks_of_their_own()
    {
        // Two triangles that share a vertex, a tail, and a loop.
        var block = Blocks.Of(7, [(0, 1), (1, 2), (2, 0), (2, 3), (3, 4), (4, 2), (4, 5), (6, 6)]);
        block[..3].Distinct().Count().ShouldBe(1);
        block[3..6].Distinct().Count().ShouldBe(1);
        block.Distinct().Count().ShouldBe(4);
    }
}
