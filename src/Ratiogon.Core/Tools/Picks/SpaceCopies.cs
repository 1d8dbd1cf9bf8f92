using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Tools.Picks;

/// <summary>
/// Curves, sketches and datums once more elsewhere, in one press: in a plane as a mirror, along something straight, or about it so that
/// they go all round. Each copy stands on copies of the points that its original stands on, so it follows them, the plane and the axis;
/// where a point lies on the plane or the axis the copy shares it. A sketch's copy lies on a copy of its plane, with its axes.
/// </summary>
internal static class SpaceCopies
{
    private const string Group = "Copies in space";

    /// <summary>How many there are all round; each shares 360 deg out in whole degrees.</summary>
    private static readonly ImmutableArray<int> Rounds = [2, 3, 4, 6];

    /// <param name="model">The model.</param>
    /// <param name="picks">Curves and datums, and last the plane or what is straight.</param>
    public static IEnumerable<Offer> Of(Model model, ImmutableArray<string> picks)
    {
        if (picks.Length < 2 || picks[..^1].Any(p => model.Part.Find(p) is not (CurveStep or DatumStep or SketchStep)))
        {
            yield break;
        }

        // One datum alone is made by its own relations.
        var of = picks[..^1].Select(p => model.Part.Find(p)!).ToImmutableArray();
        if (
            (of.Length == 1 && of[0] is not (CurveStep or SketchStep))
            || model.Find(picks[^1]) is not { Done: true, Value: var by }
            || of.Any(s => s.Id == picks[^1])
        )
        {
            yield break;
        }

        if (by.Plane is { } plane)
        {
            var copying = new Copying(model, "mirrored", picks[^1], p => Math.Abs(Plane3.Of(plane).Side(p)));
            yield return Offered("copies-mirrored", $"mirrored in {by.Words}", copying.Make(of, ["mirrored"], [null]));
        }

        if (by.Straight is { } line)
        {
            foreach (var n in Rounds)
            {
                var turns = Enumerable.Range(1, n - 1).ToList();
                var copying = new Copying(model, "spun", picks[^1], p => line.DistanceTo(p));
                yield return Offered(
                    $"copies-round-{n}",
                    $"{n} all round {by.Words}",
                    copying.Make(of, [.. turns.Select(k => $"turn {k}")], [.. turns.Select(k => $"{360 * k / n} deg")])
                );
            }

            var taken = model.Part.Parameters.Select(p => p.Name).ToHashSet(StringComparer.Ordinal);
            var shift = Ids.Next("shift", taken);
            var moving = new Copying(model, "moved", picks[^1], _ => double.PositiveInfinity);
            var first = new SetParameter(shift, model.Part.Units == LengthUnit.Inch ? "1 in" : "20 mm", "how far copies are moved");
            yield return Offered($"copies-moved", $"moved along {by.Words}", [first, .. moving.Make(of, ["moved"], [shift])]);
        }
    }

    private static Offer Offered(string id, string label, IReadOnlyList<PartCommand> commands)
    {
        var command = new Several([.. commands], $"copies {label}");
        return new Offer(id, label, "", command) { Group = Group };
    }

    /// <summary>Gathers the steps of copies.</summary>
    private sealed class Copying(Model model, string how, string by, Func<Vec3, double> away)
    {
        private readonly HashSet<string> taken = [.. model.Part.Steps.Select(s => s.Id)];
        private readonly List<PartCommand> made = [];

        /// <param name="of">What is copied.</param>
        /// <param name="words">Of each copy, behind its original's name.</param>
        /// <param name="values">Of each copy, the value of its motion; null where it has none.</param>
        public List<PartCommand> Make(ImmutableArray<Step> of, ImmutableArray<string> words, ImmutableArray<string?> values)
        {
            for (var i = 0; i < words.Length; i++)
            {
                var copies = new Dictionary<string, string>(StringComparer.Ordinal);
                foreach (var step in of)
                {
                    Copy(step, words[i], values[i], copies);
                }
            }

            return made;
        }

        private void Copy(Step step, string words, string? value, Dictionary<string, string> copies)
        {
            var name = $"{step.Name} {words}";
            if (step is CurveStep curve)
            {
                var points = curve.Points.Select(p => Point(p, value, copies)).ToImmutableArray();
                var support = curve.Support is { } s ? Support(s, value, copies) : null;
                Add(curve with { Id = Ids.Next("curve", taken), Number = 0, Name = name, Points = points, Support = support });
            }
            else if (step is SketchStep sketch)
            {
                var frame = Ids.Next("frame", taken);
                Add(new FrameStep(frame, 0, "", [Condition(step.Id, value)]) { Hidden = true });
                Add(new SketchStep(Ids.Next("sketch", taken), 0, name, frame, SketchStep.Held(sketch.Sketch)) { Like = sketch.Id });
            }
            else if (step is DatumStep { Makes: var kind } datum && !copies.ContainsKey(step.Id))
            {
                var draft = new Datums.DatumDraft
                {
                    Makes = kind,
                    Conditions = [Condition(step.Id, value)],
                    Name = name,
                };
                var copy = draft.ToStep() with { Id = Ids.Next(datum.Kind, taken) };
                copies[step.Id] = copy.Id;
                Add(copy);
            }
        }

        /// <summary>A point of the copy, hidden as what carries it; that of the original where the motion leaves it in place.</summary>
        private string Point(string reference, string? value, Dictionary<string, string> copies)
        {
            if (model.Find(reference) is { Done: true, Value.Place: { } place } && away(place) < Tolerances.Length)
            {
                return reference;
            }

            if (!copies.TryGetValue(reference, out var copy))
            {
                copies[reference] = copy = Ids.Next("point", taken);
                Add(new PointStep(copy, 0, "", [Condition(reference, value)]) { Hidden = true });
            }

            return copy;
        }

        /// <summary>The plane or frame that a circle or arc is parallel to. A mirrored plane is turned over, so that angles still count
        /// from its x to its y; of a mirrored frame x and y are images anyway.</summary>
        private string Support(string reference, string? value, Dictionary<string, string> copies)
        {
            var key = $"{reference} as a support";
            if (!copies.TryGetValue(key, out var copy))
            {
                var frame = model.Find(reference) is { Done: true, Value.Frame: not null };
                copies[key] = copy = Ids.Next(frame ? "frame" : "plane", taken);
                Add(
                    frame
                        ? new FrameStep(copy, 0, "", [Condition(reference, value)]) { Hidden = true }
                        : new PlaneStep(copy, 0, "", [Condition(reference, value)]) { Flip = how == "mirrored", Hidden = true }
                );
            }

            return copy;
        }

        private DatumCondition Condition(string of, string? value) => new(how, [of, by]) { Values = value is null ? [] : [value] };

        private void Add(Step step) => made.Add(new AddStep(step));
    }
}
