using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Forms and bodies repeated in other places: what mirrors and patterns share.</summary>
internal static class Copies
{
    /// <param name="site">Where.</param>
    /// <param name="step">The step that repeats: its copies are named by it.</param>
    /// <param name="of">Forms and bodies.</param>
    /// <param name="whole">Whether each means the body that it began, as it stands now, with all that was done to it.</param>
    /// <param name="operation">What copies of bodies do; forms do again what they did.</param>
    /// <param name="places">A label and a motion for every copy, the original left out.</param>
    public static Outcome<FormResult> Make(
        FormSite site,
        string step,
        Refs of,
        bool whole,
        FormOperation operation,
        IReadOnlyList<(string Label, Rigid By)> places
    )
    {
        var all = ImmutableArray.CreateBuilder<MaterialResult>();
        foreach (var reference in of)
        {
            var standing = whole || World.IsBody(reference);
            var forms = standing ? [] : site.Material(reference);
            var body = site.Bodies.FirstOrDefault(b => b.IsCalled(reference));
            if (forms.IsEmpty && body is null)
            {
                return standing && site.Part.Find(World.StepOf(reference)) is { } begun ? Gone(site, begun.Name, reference)
                    : site.Part.Find(reference) is FormStep form
                        ? new Refusal(
                            "copy.no-material",
                            $"{form.Name} changes faces of a body and makes no material of its own: repeat the body, or the form that it "
                                + "works on.",
                            reference
                        )
                    : new Refusal("copy.nothing", $"'{reference}' is neither a form nor a body.", reference);
            }

            // A form by its own name; the body that it began where it made nothing to be repeated.
            foreach (var material in forms.IsEmpty ? [AsItStands(site, body!, operation)] : forms)
            {
                // What stands alone makes a body of its own in every place; all else goes into its bodies at once.
                foreach (
                    var some in material.Operation == FormOperation.Body
                        ? places.Select(p => (IReadOnlyList<(string Label, Rigid By)>)[p])
                        : [places]
                )
                {
                    var copied = Copied(site, step, material, some);
                    if (!copied.Done)
                    {
                        return copied.Refusal!;
                    }

                    all.Add(copied.Value);
                }
            }
        }

        return new SeveralResult(all.ToImmutable())
        {
            Holes = [.. all.SelectMany(m => m.Holes)],
            Threads = [.. all.SelectMany(m => m.Threads)],
        };
    }

    private static Outcome<MaterialResult> Copied(
        FormSite site,
        string step,
        MaterialResult material,
        IReadOnlyList<(string Label, Rigid By)> places
    ) =>
        Placed(site, step, material.Tools, places)
            .Map(tools =>
                material with
                {
                    Tools = tools,
                    Round = [.. places.SelectMany(p => material.Round.Select(r => r.Moved(p.By, $"{step}/{p.Label}/")))],
                    Notes = [],
                    Threads =
                    [
                        .. places.SelectMany(p =>
                            material.Threads.Select(t =>
                                t with
                                {
                                    Axis = new Line3(p.By.Apply(t.Axis.Origin), p.By.Turn(t.Axis.Direction)),
                                }
                            )
                        ),
                    ],
                    Holes =
                    [
                        .. places.SelectMany(p =>
                            material.Holes.Select(h =>
                                h with
                                {
                                    Centre = $"{h.Centre} copy {p.Label}",
                                    At = p.By.Apply(h.At),
                                    Direction = p.By.Turn(h.Direction),
                                    Notes = [],
                                    Stretches = [],
                                }
                            )
                        ),
                    ],
                }
            );

    private static MaterialResult AsItStands(FormSite site, FormBody body, FormOperation operation) =>
        new([body.Shape], operation, operation == FormOperation.Join ? [body.Name] : [])
        {
            Threads =
            [
                .. site.Earlier().SelectMany(r => r.Threads).Where(t => Fittings.Has(body, t.Axis, t.Radius, DrawnThread.Off * 1.02)),
            ],
            Holes = [.. site.Earlier().SelectMany(r => r.Holes).Where(h => Fittings.Has(body, h))],
        };

    private static Refusal Gone(FormSite site, string name, string reference) =>
        new(
            "copy.no-body",
            site.Bodies.IsEmpty
                ? $"{name} has begun no body that is there yet."
                : $"{name} is no body of its own now. There are: {string.Join(", ", site.Bodies.Select(b => b.Name).Take(4))}.",
            reference
        )
        {
            Involved = [.. site.Bodies.Select(b => b.Name).Take(4)],
        };

    /// <summary>Tools in every place, their faces named by the step and the place's label.</summary>
    public static Outcome<ImmutableArray<Shaped>> Placed(
        FormSite site,
        string step,
        ImmutableArray<Shaped> tools,
        IReadOnlyList<(string Label, Rigid By)> places
    )
    {
        var placed = ImmutableArray.CreateBuilder<Shaped>();
        foreach (var (label, by) in places)
        {
            foreach (var tool in tools)
            {
                var moved = site.Kernel.Move(tool.Solid, by);
                if (!moved.Done)
                {
                    return moved.Refusal!;
                }

                placed.Add(Shaped.Of(moved.Value, step, o => $"{step}/{label}/{tool.Bases[o.Index]}", o => tool.Guide(o.Index).Moved(by)));
            }
        }

        return placed.ToImmutable();
    }
}
