using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Tests.Geometry;

public class RootsTests
{
    [Theory]
    [InlineData(0)]
    [InlineData(0.3)]
    [InlineData(1e-9)]
    [InlineData(-0.7)]
    public void A_root_takes_a_handful_of_evaluations(double root)
    {
        var count = 0;
        double F(double t)
        {
            count++;
            return Math.Sinh(t - root);
        }

        var found = Roots.Brent(F, -1, 1.5, F(-1), F(1.5));
        found.ShouldBe(root, 1e-15 + (1e-15 * Math.Abs(root)));
        count.ShouldBeLessThan(16);
    }
}
