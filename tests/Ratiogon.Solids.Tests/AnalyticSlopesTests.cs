using Ratiogon.Core;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Solids.Tests;

/// <summary>Slopes that are derived through sketches and datums, against closed forms to 1e-8.</summary>
public sealed class AnalyticSlopesTests : IDisposable
{
    private const double Exactly = 1e-8;
    private readonly Rebuilder rebuilder = new(new NativeKernel());
    private int built;

    public void Dispose() => rebuilder.Dispose();

    private DrivesAnswer Asked(Part part)
    {
        built = 0;
        var answer = DrivesOf.Of(part, "Read", p =>
        {
            built++;
            return rebuilder.Rebuild(p, withMesh: false);
        });
        answer.Refusal?.Message.ShouldBeNull();
        return answer.Value;
    }

    private static AddStep Read(string what, params string[] of) => new(new ReadingStep("read", 0, "Read", what, [.. of]));

    private static void Holds(DrivesAnswer answer, string words, double slope)
    {
        var drive = answer.Drives.SingleOrDefault(d => d.Words == words);
        if (slope == 0)
        {
            drive.ShouldBeNull(words);
            return;
        }

        drive.ShouldNotBeNull(words);
        drive.Exact.ShouldBeTrue(words);
        drive.Slope.ShouldBe(slope, Exactly * Math.Abs(slope), words);
        Math.Abs(drive.Slope - slope).ShouldBeLessThanOrEqualTo(drive.Error + (1e-10 * Math.Abs(slope)), $"{words}: within what is told");
    }

    /// <summary>A triangle by its three sides, the first along x: its height over that one is twice its area (Heron) by the side.</summary>
    private static PartCommand[] Triangle(double a, double b, double c)
    {
        var foot = ((b * b) + (c * c) - (a * a)) / (2 * c);
        var tip = new Vec2(foot, Math.Sqrt((b * b) - (foot * foot)));
        return Parts.Sketched(
            "s",
            World.Xy,
            new SketchEdit
            {
                Add =
                [
                    new PointEntity("A", Vec2.Zero),
                    new PointEntity("B", new Vec2(c, 0)),
                    new PointEntity("C", tip),
                    new LineEntity("c", "A", "B"),
                    new LineEntity("a", "B", "C"),
                    new LineEntity("b", "A", "C"),
                ],
                Tie = [new("t1", "coincident", ["A", Sketch.Origin]), new("t2", "horizontal", ["c"])],
                Size =
                [
                    new("da", "distance", ["a"], FormattableString.Invariant($"{a:R} mm")),
                    new("db", "distance", ["b"], FormattableString.Invariant($"{b:R} mm")),
                    new("dc", "distance", ["c"], FormattableString.Invariant($"{c:R} mm")),
                ],
            }
        );
    }

    [Fact]
    public void Of_random_triangles_of_all_sizes()
    {
        var random = new Random(11);
        for (var i = 0; i < 60; i++)
        {
            // Acute ones, so that the foot of the height lies within the side.
            var size = Math.Pow(10, (random.NextDouble() * 5.5) - 1.5);
            double Side() => size * (1 + (0.3 * random.NextDouble()));
            var (a, b, c) = (Side(), Side(), Side());
            var answer = Asked(Parts.Of([.. Triangle(a, b, c), Read("distance", "s/C", "s/c")]));
            var area = Math.Sqrt(
                ((2 * ((a * a * b * b) + (b * b * c * c) + (c * c * a * a))) - (a * a * a * a) - (b * b * b * b) - (c * c * c * c)) / 16
            );
            double OfArea(double x, double y, double z) => x * ((y * y) + (z * z) - (x * x)) / (8 * area);
            answer.Value.ShouldBe(2 * area / c, Exactly * size);
            Holds(answer, "da of s", 2 * OfArea(a, b, c) / c);
            Holds(answer, "db of s", 2 * OfArea(b, a, c) / c);
            Holds(answer, "dc of s", (2 * OfArea(c, a, b) / c) - (2 * area / (c * c)));
        }
    }

    [Fact]
    public void Through_formulas_of_parameters_datums_and_two_sketches()
    {
        var part = Parts.Of([
            new SetParameter("a", "12 mm"),
            new SetParameter("b", "2 * a + 3 mm"),
            new SetParameter("d", "17 mm"),
            new SetParameter("idle", "5 mm"),
            .. Parts.Sketched("s", World.Xy, Parts.Rectangle(50, 30, Vec2.Zero)),
            new SetSize("s", "r.width", "b + a^2 / 10 mm"),
            new AddStep(new PlaneStep("p", 0, "", [new DatumCondition("offset", [World.Xy]) { Values = ["d"] }])),
            .. Parts.Sketched("q", "p", Parts.Rectangle(8, 6, Vec2.Zero)),
            Read("distance", "s/r.p1", "q/r.p3"),
        ]);
        var answer = Asked(part);
        var (a, d) = (12.0, 17.0);
        var (x, y) = ((((2 * a) + 3 + (a * a / 10)) / 2) + 4, 15 + 3.0);
        var far = Math.Sqrt((x * x) + (y * y) + (d * d));
        answer.Value.ShouldBe(far, 1e-9);
        answer.Left.ShouldBeEmpty();
        Holds(answer, "a", x / far * ((2 + (2 * a / 10)) / 2));
        Holds(answer, "d", d / far);
        Holds(answer, "idle", 0);
        Holds(answer, "r.height of s", y / far / 2);
        Holds(answer, "r.width of q", x / far / 2);
        Holds(answer, "r.height of q", y / far / 2);
    }

    /// <summary>Three hundred entities in a row, each as long as its size: the far end goes with all of them alike.</summary>
    [Fact]
    public void Of_three_hundred_entities_from_a_handful_of_rebuilds()
    {
        var part = Parts.Of([.. Chain(100), Read("distance", "s/p0", "s/p100")]);
        part.Steps.OfType<SketchStep>().Single().Sketch.Entities.Length.ShouldBeGreaterThan(200);
        var answer = Asked(part);
        answer.Drives.Length.ShouldBe(100);
        foreach (var drive in answer.Drives)
        {
            (drive.Exact, Math.Abs(drive.Slope - 1) < Exactly).ShouldBe((true, true), drive.Words);
        }

        built.ShouldBeLessThan(80, "not two or more for each of a hundred sizes");
    }

    internal static PartCommand[] Chain(int links) =>
        Parts.Sketched(
            "s",
            World.Xy,
            new SketchEdit
            {
                Add =
                [
                    .. Enumerable.Range(0, links + 1).Select(i => new PointEntity($"p{i}", new Vec2(3 * i, 0))),
                    .. Enumerable.Range(0, links).Select(i => new LineEntity($"l{i}", $"p{i}", $"p{i + 1}")),
                ],
                Tie =
                [
                    new("t", "coincident", ["p0", Sketch.Origin]),
                    .. Enumerable.Range(0, links).Select(i => new SketchConstraint($"h{i}", "horizontal", [$"l{i}"])),
                ],
                Size = [.. Enumerable.Range(0, links).Select(i => new SketchDimension($"d{i}", "distance", [$"l{i}"], "3 mm"))],
            }
        );

    /// <summary>Where something is free, where a formula has a corner: differences of rebuilds answer, as before.</summary>
    [Fact]
    public void What_cannot_be_derived_is_tried()
    {
        var free = Parts.Of([
            .. Parts.Sketched(
                "s",
                World.Xy,
                new SketchEdit
                {
                    Add = [new PointEntity("A", Vec2.Zero), new PointEntity("B", new Vec2(30, 10)), new LineEntity("l", "A", "B")],
                    Tie = [new("t", "coincident", ["A", Sketch.Origin])],
                    Size = [new("d", "distance", ["l"], "31 mm")],
                }
            ),
            Read("distance", "s/B", "world/x"),
        ]);
        Asked(free).Drives.ShouldAllBe(d => !d.Exact);

        var corner = Parts.Of([
            new SetParameter("a", "8 mm"),
            new SetParameter("b", "8 mm"),
            .. Parts.Sketched("s", World.Xy, Parts.Rectangle(8, 6, Vec2.Zero)),
            new SetSize("s", "r.width", "max(a, b)"),
            Read("distance", "s/r.left", "s/r.right"),
        ]);
        var told = Asked(corner).Drives.Single(d => d.Words == "a");
        (told.Exact, told.Kink, Math.Round(told.Slope, 6), Math.Round(told.SlopeDown, 6)).ShouldBe((false, true, 1, 0));
    }
}
