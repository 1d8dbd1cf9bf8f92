using System.Collections.Immutable;
using System.Reflection;
using System.Text.Json;
using Ratiogon.Core;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Exchange;
using Ratiogon.Server.Cluster;
using Ratiogon.Server.Parts;
using Ratiogon.Store;
using Ratiogon.Worker;

namespace Ratiogon.Server.Tests;

/// <summary>What goes between servers comes as it went.</summary>
public class CarriedTests
{
    private static readonly object[] Samples =
    [
        (PartCommand)new SetSize("plate", "length", "20 mm"),
        MotorPlate.Build(),
        new byte[] { 0, 1, 255 },
        (Question)new WhyQuestion("plate", "length"),
        ImmutableArray.Create("a/b", "c"),
        new ExportOptions { Deviation = 0.2, Text = true },
        "words",
        new DrivesReply("r", "1 mm", [], ["left"], 3, null),
        ImmutableArray.Create(new GaugeShown("distance", "Distance", "1 mm", "", [new Vec3(1, 2, 3)], new RenamePart("x"))),
        new SectionAnswer(
            ["f"],
            ["line"],
            [
                [1.5, -0.0, 1e-300],
            ],
            null
        ),
        new ExportPreview(12, 0.1, 99),
        new RebuildResult([new StepResult("a", StepState.Failed, "why") { Points = [new Vec3(1, 2, 3)] }], []) { Rough = true },
        ImmutableArray.Create(new Stretch(1, 2, 0.5, 0.25, "a", "b")),
        ImmutableArray.Create(new Inertia(1, 2, 3, 4, 5, 6)),
        new Refusal("code", "It is so.", "where")
        {
            Involved = ["a"],
            Places = [new Vec3(1, 2, 3)],
            Fits = new Fitting("1 mm", "1"),
        },
    ];

    [Fact]
    public void Everything_that_is_asked_of_an_owner_comes_as_it_went()
    {
        var carried = typeof(IPartGrain)
            .GetMethods()
            .SelectMany(m => m.GetParameters().Select(p => p.ParameterType).Append(m.ReturnType.GenericTypeArguments.FirstOrDefault()))
            .Where(t =>
                t is { IsGenericType: true } && new[] { typeof(Carried<>), typeof(Answer<>) }.Contains(t.GetGenericTypeDefinition())
            )
            .Select(t => t!.GenericTypeArguments[0])
            .Append(typeof(Refusal))
            .Distinct()
            .ToList();
        carried.Count.ShouldBeGreaterThan(10);
        foreach (var type in carried)
        {
            var sample = Samples.FirstOrDefault(type.IsInstanceOfType).ShouldNotBeNull($"there is an example of {type}");
            var back = GetType()
                .GetMethod(nameof(ThereAndBack), BindingFlags.NonPublic | BindingFlags.Static)!
                .MakeGenericMethod(type)
                .Invoke(null, [sample])!;
            Text(back, type).ShouldBe(Text(sample, type), type.ToString());
        }
    }

    private static string Text(object value, Type type) => JsonSerializer.Serialize(value, type, PartJson.Compact);

    private static T ThereAndBack<T>(T value) => Wire.Read<T>(Wire.Write(value));

    /// <summary>Any two states of a part, with what can be undone: the change from one leads to the other, and where one that it builds on
    /// is not there that is said.</summary>
    [Fact]
    public void A_part_travels_as_what_changed()
    {
        var random = new Random(5);
        foreach (var demo in DemoParts.All)
        {
            var (part, log) = (demo.Build(), ImmutableStack<UndoEntry>.Empty);
            var stored = new StoredPart(Guid.NewGuid(), Guid.NewGuid(), part, 1, DateTimeOffset.UtcNow, log, log);
            var known = new Recent();
            for (var revision = 2; revision < 30; revision++)
            {
                var next = Next(random, stored, revision);
                var news = There(MomentNews.Of(next, random.Next(4) == 0 ? null : stored, null, null));
                known.Add(stored);
                var came = news.StoredOver(known.Find)!;
                came.Part.ShouldBe(next.Part);
                (came.Id, came.Owner, came.Revision, came.Changed).ShouldBe((next.Id, next.Owner, next.Revision, next.Changed));
                came.Undo.ShouldBe(next.Undo);
                came.Redo.ShouldBe(next.Redo);
                stored = next;
            }

            var lost = There(MomentNews.Of(Next(random, stored, 31), stored, null, null));
            Should.Throw<LostThreadException>(() => lost.StoredOver(_ => null));
        }
    }

    private static MomentNews There(MomentNews news) => MomentNews.Of(news.Travel());

    private static StoredPart Next(Random random, StoredPart of, int revision)
    {
        var steps = of.Part.Steps;
        var part = random.Next(4) switch
        {
            0 => of.Part with { Name = $"Name {revision}" },
            1 when steps.Length > 2 => of.Part with { Steps = steps.RemoveAt(steps.Length - 1) },
            _ => of.Part.With(steps[random.Next(steps.Length)] with { Name = $"Step {revision}" }),
        };
        return of with
        {
            Part = part,
            Revision = revision,
            Changed = of.Changed.AddSeconds(1.5),
            Undo = random.Next(3) == 0 && !of.Undo.IsEmpty ? of.Undo.Pop() : of.Undo.Push(new UndoEntry(revision, $"edit {revision}")),
            Redo = random.Next(3) == 0 ? [] : of.Redo.Push(new UndoEntry(revision, $"back {revision}")),
        };
    }

    /// <summary>Triangles travel where they are others, and only there.</summary>
    [Fact]
    public void A_model_travels_without_the_triangles_that_are_there()
    {
        static BodyResult Body(string key, byte seed) =>
            new(
                "b" + key,
                key,
                default,
                default,
                new Topology([], [], []),
                new Names([], [], []),
                new SolidMesh([seed, 1], [seed], [seed], [seed], [], [])
            );
        var before = new BuiltPart(3, new RebuildResult([], [Body("same", 1), Body("other", 2)]));
        var after = new BuiltPart(
            4,
            new RebuildResult([], [Body("same", 1), Body("other", 7), Body("new", 9)]) { References = [Body("same", 1)] }
        );
        var news = MomentNews.Of(null, null, after, before);
        news.Travel().Same.ShouldBe(["same"], "the key alone does not say it");
        var came = There(news).BuiltOver(before)!;
        came.Revision.ShouldBe(4);
        foreach (var (a, b) in came.Result.Bodies.Concat(came.Result.References).Zip(after.Result.Bodies.Concat(after.Result.References)))
        {
            a.Mesh!.IsSame(b.Mesh).ShouldBeTrue(b.Key);
        }

        Should.Throw<LostThreadException>(() => There(news).BuiltOver(null));
        There(MomentNews.Of(null, null, after, null))
            .BuiltOver(null)!
            .Result.Bodies[1]
            .Mesh!.IsSame(after.Result.Bodies[1].Mesh)
            .ShouldBeTrue();
    }
}
