using System.Collections.Immutable;
using System.Text.Json;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Shapes;

namespace Ratiogon.Core.Tests.Parts;

/// <summary>Whatever a command did can be taken back and done again, exact to the bit.</summary>
public class UndoTests
{
    private static readonly Type[] Kinds =
    [
        .. typeof(PartCommand).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(PartCommand)) && !t.IsAbstract),
    ];

    [Fact]
    public void Every_kind_of_command_is_taken_back_and_done_again_to_the_bit()
    {
        var done = new Dictionary<Type, int>();
        foreach (var (file, build) in DemoParts.All)
        {
            for (var seed = 0; seed < 6; seed++)
            {
                var (random, log) = (new Random(seed), new List<(string Before, PartChange Change, string After)>());
                var part = new AddStep(new ReadingStep("far", 0, "", "distance", [World.Origin, World.Xy])).Apply(build()).Value;
                var drawn = part.Steps.OfType<SketchStep>().First().Id;
                part = new AddStep(new SketchStep("likewise", 0, "", World.Xy, Sketch.Empty) { Like = drawn }).Apply(part).Value;
                for (var n = 0; n < 150; n++)
                {
                    var command = Command(random, part);
                    if (command.Apply(part) is not { Done: true, Value: var after })
                    {
                        continue;
                    }

                    var change = PartChange.FromJson(PartChange.Between(part, after).ToJson());
                    log.Add((Text(part), change, Text(after)));
                    Text(change.Apply(part)).ShouldBe(Text(after), $"{file} {seed} {n} {command}");
                    Text(change.Reversed().Apply(after)).ShouldBe(Text(part), $"{file} {seed} {n} {command}");
                    done[command.GetType()] = done.GetValueOrDefault(command.GetType()) + 1;
                    part = after;
                }

                // All of it back to the beginning, and forth again.
                foreach (var (before, change, _) in Enumerable.Reverse(log))
                {
                    part = change.Reversed().Apply(part);
                    Text(part).ShouldBe(before);
                }

                foreach (var (_, change, after) in log)
                {
                    part = change.Apply(part);
                    Text(part).ShouldBe(after);
                }
            }
        }

        Kinds.Where(k => !done.ContainsKey(k)).ShouldBeEmpty("every kind of command was tried");
    }

    private static string Text(Part part) => JsonSerializer.Serialize(part, PartJson.Compact);

    private static PartCommand Command(Random random, Part part)
    {
        T Any<T>(IReadOnlyList<T> of) => of[random.Next(of.Count)];
        var kind = Any(Kinds);
        if (part.Steps.IsEmpty)
        {
            return new AddStep(new SketchStep($"s{random.Next(1000)}", 0, "", World.Xy, Sketch.Empty));
        }

        var step = Any(part.Steps);
        var sketches = part.Steps.OfType<SketchStep>().ToList();
        var sketch = sketches.Count > 0 ? Any(sketches) : new SketchStep("none", 0, "", World.Xy, Sketch.Empty);
        var name = $"n{random.Next(6)}";
        var sizes = part.Steps.SelectMany(s => s.Sizes.Select(z => (Step: s.Id, z.Field, z.Formula))).ToList();
        var parameter = part.Parameters.IsEmpty ? name : Any(part.Parameters).Name;
        return kind.Name switch
        {
            nameof(RenamePart) => new RenamePart($"Part {random.Next(9)}"),
            nameof(SetUnits) => new SetUnits((LengthUnit)random.Next(2)),
            nameof(SetMaterial) => new SetMaterial("Steel", 1 + random.Next(7)),
            nameof(SetParameter) => new SetParameter(
                random.Next(2) == 0 ? name : parameter,
                $"{random.Next(1, 60)}.{random.Next(99)} mm",
                "x"
            ),
            nameof(RenameParameter) => new RenameParameter(parameter, name),
            nameof(RemoveParameter) => new RemoveParameter(parameter),
            nameof(AddStep) => new AddStep(
                new SketchStep($"s{random.Next(1000)}", 0, "", Any([World.Xy, World.Yz, World.Xz]), Sketch.Empty)
            ),
            nameof(ReplaceStep) => new ReplaceStep(
                step is SketchStep s ? s with { Turn = $"{random.Next(90)} deg" } : step with { Name = $"Step {random.Next(9)}" }
            ),
            nameof(RemoveStep) => new RemoveStep(step.Id, random.Next(2) == 0),
            nameof(RenameStep) => new RenameStep(step.Id, $"Name {random.Next(99)}"),
            nameof(SuppressStep) => new SuppressStep(step.Id, random.Next(2) == 0),
            nameof(LeaveOutBody) => part.Steps.OfType<ImportStep>().FirstOrDefault() is { } import
                ? new LeaveOutBody(import.Id, random.Next(1, 4), random.Next(2) == 0)
                : new AddStep(new ImportStep($"i{random.Next(1000)}", 0, "", "three.step", "file") { Bodies = ["one", "two", ""] }),
            nameof(SetMeshUnit) => part.Steps.OfType<MeshStep>().FirstOrDefault() is { } mesh
                ? new SetMeshUnit(mesh.Id, Enum.GetValues<Core.Meshes.MeshUnit>()[random.Next(6)])
                : new AddStep(
                    new MeshStep(
                        "",
                        0,
                        "",
                        "a.stl",
                        ImportedFile.Pack(new Core.Kernel.TriangleMesh([default, Vec3.AlongX, Vec3.AlongY], [0, 1, 2]).ToBytes())
                    )
                ),
            nameof(ShowStep) => new ShowStep(step.Id, random.Next(2) == 0),
            nameof(ShowKind) => new ShowKind(step.Kind, random.Next(2) == 0),
            nameof(MoveStep) => new MoveStep(step.Id, random.Next(4) == 0 ? null : Any(part.Steps).Id),
            nameof(DuplicateStep) => new DuplicateStep(step.Id),
            nameof(MendReference) => step.References.Count > 0 && Any(step.References) is { } lost
                ? new MendReference(step.Id, lost, Any([World.Xy, World.Yz, World.Xz]))
                : new RenameStep(step.Id, "M"),
            nameof(GroupSteps) => new GroupSteps(
                [.. part.Steps.Select(s => s.Id).Take(random.Next(1, 4))],
                random.Next(3) == 0 ? null : $"Group {random.Next(3)}"
            ),
            nameof(KeepMaterial) => new KeepMaterial(new Material($"Own {random.Next(3)}", 1 + random.Next(9))),
            nameof(DropMaterial) => new DropMaterial($"Own {random.Next(3)}"),
            nameof(Several) => new Several(
                [new RenamePart("Both"), new RenameStep(step.Id, $"Of several {random.Next(9)}")],
                "two at once"
            ),
            nameof(SetSize) when sizes.Count > 0 && Any(sizes) is var z => new SetSize(
                z.Step,
                z.Field,
                random.Next(3) > 0 ? $"({z.Formula}) * 1.0{random.Next(1, 9)}" : z.Formula
            ),
            nameof(SetStopLine) => new SetStopLine(random.Next(3) == 0 ? null : random.Next(part.Steps.Length)),
            nameof(SetLimits) => new SetLimits(
                part.Steps.OfType<ReadingStep>().FirstOrDefault()?.Id ?? step.Id,
                $"{random.Next(9)} mm",
                null
            ),
            nameof(LimitParameter) => new LimitParameter(
                parameter,
                random.Next(2) == 0 ? null : $"0.{random.Next(1, 9)} mm",
                random.Next(2) == 0 ? null : $"{random.Next(200, 900)} mm",
                random.Next(2) == 0 ? null : "0.5 mm"
            ),
            nameof(PlaceParameter) => new PlaceParameter(parameter, random.Next(9), random.Next(2) == 0 ? null : "Sizes"),
            nameof(SetParameters) => new SetParameters([
                new SetParameter(name, $"{random.Next(1, 60)} mm"),
                new SetParameter($"m{random.Next(3)}", $"{name} * 2"),
            ]),
            nameof(SetTolerance) when sizes.Count > 0 && Any(sizes) is var z => new SetTolerance(
                z.Step,
                z.Field,
                Any(["±0.1", "+0.2 -0.1", "H7", "+0.1/0", ""])
            ),
            nameof(SetTolerance) => new SetTolerance(step.Id, "nothing", "±0.1"),
            nameof(SetGeneralTolerance) => new SetGeneralTolerance(random.Next(3) == 0 ? null : (GeneralTolerance)random.Next(4)),
            nameof(SetVariants) => new SetVariants([
                new Variant($"V{random.Next(3)}", [new VariantValue(parameter, $"{random.Next(1, 60)} mm")])
                {
                    Suppressed = random.Next(2) == 0 ? null : [step.Id],
                    Material = random.Next(2) == 0 ? null : new Material("Steel", 7.8),
                },
            ]),
            nameof(ChooseVariant) => new ChooseVariant(part.Variants.IsEmpty ? "none" : Any(part.Variants).Name),
            nameof(EditSketch) => new EditSketch(sketch.Id, Edit(random, sketch.Sketch)),
            nameof(TakeIntoSketch) => Taken(random, sketch),
            nameof(OwnSketch) => new OwnSketch(part.Steps.OfType<SketchStep>().FirstOrDefault(s => s.Like is not null)?.Id ?? sketch.Id),
            nameof(PlaceSketch) => new PlaceSketch(sketch.Id, Any([World.Xy, World.Yz, World.Xz]), $"{random.Next(90)} deg"),
            _ => throw new InvalidOperationException($"{kind.Name} is a new kind of command: say here how it is tried"),
        };
    }

    private static SketchEdit Edit(Random random, Sketch sketch)
    {
        var at = new Vec2(random.Next(-90, 90), random.Next(-90, 90)) + new Vec2(random.NextDouble(), random.NextDouble());
        return random.Next(4) switch
        {
            0 when sketch.Entities.Length > 0 => new SketchEdit { Remove = [sketch.Entities[random.Next(sketch.Entities.Length)].Id] },
            1 when sketch.Dimensions.Length > 0 && sketch.Dimensions[random.Next(sketch.Dimensions.Length)] is var d => new SketchEdit
            {
                Size = [d with { TextAt = at }],
            },
            2 when sketch.Entities.OfType<PointEntity>().ToList() is { Count: > 0 } points => new SketchEdit
            {
                Move = ImmutableDictionary<string, Vec2>.Empty.Add(points[random.Next(points.Count)].Id, at),
            },
            _ => ShapeCatalog.RectangleByCorners(Ids.Next("u", sketch.UsedIds()), at, at + new Vec2(7, 3 + random.NextDouble())),
        };
    }

    private static TakeIntoSketch Taken(Random random, SketchStep sketch)
    {
        var id = Ids.Next("t", sketch.Sketch.UsedIds());
        var edit = new SketchEdit
        {
            Add = [new PointEntity(id, new Vec2(random.Next(50), random.NextDouble()))],
            Tie = [new SketchConstraint($"{id}.held", "fixed", [id])],
        };
        return new TakeIntoSketch(sketch.Id, edit, new SketchCopy(CopyHow.Copy, World.Origin, [id]));
    }
}
