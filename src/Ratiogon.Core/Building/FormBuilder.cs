using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;

namespace Ratiogon.Core.Building;

/// <summary>Builds forms and imported bodies, and makes their material the part's.</summary>
internal sealed class FormBuilder(ISolidKernel kernel, BuildCache cache)
{
    /// <summary>A form or an import, ready to be made.</summary>
    public Making Make(RebuildState state, Model model, ImmutableArray<FormBody> bodies, Step step) =>
        step is ImportStep import ? Make(state, model, bodies, import) : Make(state, model, bodies, (FormStep)step);

    private Making Make(RebuildState state, Model model, ImmutableArray<FormBody> bodies, FormStep step)
    {
        var site = Site(state, model, bodies, step);
        var key = ContentKey.Of(
            step,
            [
                .. site.Bodies.Select(b => b.Key),
                .. step.References.Select(World.StepOf).Distinct().Select(r => state.Prints.GetValueOrDefault(r) ?? ""),
                .. state.ValueTexts(step),
            ]
        );
        return new Making(key, () =>
            step.Check() is { } wrong ? wrong : step.Build(site).Then(result => Applied(site, step.Id, key, result))
        );
    }

    private Making Make(RebuildState state, Model model, ImmutableArray<FormBody> bodies, ImportStep step)
    {
        var site = Site(state, model, bodies, step);
        var key = ContentKey.Of(step, site.Bodies.Select(b => b.Key));
        return new Making(key, () => ImportedFile
                .Unpack(step.Content)
                .Then(file => ReadOnce(step.Format, file))
                .Then(read =>
                {
                    var count = kernel.Faces(read.Solid);
                    var shape = new Shaped(
                        read.Solid,
                        [
                            .. Enumerable
                                .Range(0, count)
                                .Select(i => $"{step.Id}/face/{(step.Faces.Count == count ? step.Faces[i] : $"{i + 1}")}"),
                        ]
                    );
                    return Imported(shape, read, step).Then(result => Applied(site, step.Id, key, result));
                }));
    }

    private Outcome<ReadBodies> ReadOnce(BodyFormat format, ReadOnlyMemory<byte> file) =>
        cache.Expected(ContentKey.Of(format, file)) is { } read ? read : kernel.Read(format, file);

    /// <summary>Every solid of a file is a body of its own.</summary>
    private Outcome<FormResult> Imported(Shaped all, ReadBodies read, ImportStep step)
    {
        var bodies = ImmutableArray.CreateBuilder<MaterialResult>();
        var count = kernel.Solids(all.Solid);
        for (var i = 0; i < count && count > 1; i++)
        {
            if (step.LeavesOut(i + 1))
            {
                continue;
            }

            var one = kernel.Solid(all.Solid, i);
            if (!one.Done)
            {
                return one.Refusal!;
            }

            bodies.Add(
                new MaterialResult([Guided(Shaped.Of(one.Value, step.Id, [all]))], FormOperation.Body, []) { Begins = step.BodyOf(i + 1) }
            );
        }

        ImmutableArray<string> notes =
        [
            .. count > 1 ? [$"{count} bodies{(count > bodies.Count ? $", {count - bodies.Count} left out" : "")}"] : Array.Empty<string>(),
            .. read.Said,
        ];
        return count <= 1 ? new MaterialResult([Guided(all)], step.Apart ? FormOperation.Body : FormOperation.Join, []) { Notes = notes }
            : bodies.Count == 0
                ? new Refusal("import.all-left-out", "Every body of the file is left out; take one in again, or remove the step.")
            : new SeveralResult(bodies.ToImmutable()) { Notes = notes };
    }

    /// <summary>An import does not move by itself: the axes that its faces have here are carried along with their copies.</summary>
    private Shaped Guided(Shaped shape) =>
        shape with
        {
            Guides = [.. kernel.Describe(shape.Solid).Faces.Select(f => f.Plane is { } plane ? AxisGuide.Of(plane) : AxisGuide.None)],
        };

    private Outcome<Built> Applied(FormSite site, string step, string key, FormResult result)
    {
        ImmutableArray<MaterialResult> material = result switch
        {
            MaterialResult one => [one],
            SeveralResult several => several.All,
            _ => [],
        };
        if (result is BodiesResult changed)
        {
            var bodies = site.Bodies.ToBuilder();
            foreach (var (name, now) in changed.Bodies)
            {
                var old = bodies.FirstOrDefault(b => b.Name == name);
                if (now is null)
                {
                    bodies.Remove(old!);
                }
                else if (old is null)
                {
                    bodies.Add(new FormBody(kernel, name, $"{key}:{name}", now));
                }
                else
                {
                    bodies[bodies.IndexOf(old)] = Combining.Renewed(site, old, key, now);
                }
            }

            return new Built(bodies.ToImmutable(), [], result);
        }

        var present = site.Bodies;
        foreach (var (one, i) in material.Select((m, i) => (m, i)))
        {
            var next = Combining.Apply(site.With(present), step, i == 0 ? key : $"{key}.{i}", one);
            if (!next.Done)
            {
                return next.Refusal!;
            }

            present = next.Value;
        }

        return new Built(present, material, result);
    }

    private FormSite Site(RebuildState state, Model model, ImmutableArray<FormBody> bodies, Step step) =>
        new()
        {
            Kernel = kernel,
            Model = model,
            Bodies = bodies,
            Sketch = id => state.Sketches.TryGetValue(id, out var s) ? new PlacedDrawing(s.Sketch, s.Plane) : null,
            Material = id => state.Material.TryGetValue(id, out var m) ? m : [],
            Quick = state.Quick >= 0 && ReferenceEquals(state.Part.Steps[state.Quick], step),

            // Of steps that this one waits for all are there; what others make lies on other bodies.
            Earlier = () =>
                state
                    .Results.Take(state.Part.Steps.IndexOf(step))
                    .Where(r => r is { State: StepState.Built })
                    .Select(r => new FormTraces(r.Holes, r.Threads)),
        };
}
