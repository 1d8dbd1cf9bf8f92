using System.Collections.Immutable;
using Ratiogon.Core.Numerics;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Dimensions;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Core.Sketches.Rules;
using Ratiogon.Core.Sketches.Shapes;
using Ratiogon.Core.Sketches.Solving;

namespace Ratiogon.Core.Sketches.Applying;

/// <summary>Applies changes to sketches under the rules of the solver: what would be redundant or would clash is
/// refused with the smallest set it stands against, and nothing already there is removed silently.</summary>
public static class SketchEditor
{
    /// <summary>The most entities a sketch may hold.</summary>
    public const int MostEntities = 20_000;

    public static Outcome<Sketch> Apply(Sketch sketch, SketchEdit edit, ParameterValues parameters)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        ArgumentNullException.ThrowIfNull(edit);
        return Changed(sketch, edit, parameters).Map(after => LetsFollow(edit) ? WithoutWhatFollows(sketch, after, edit) : after);
    }

    /// <summary>Whether an edit may make rules follow that were there: curves become others or get pieces drawn on them, points become
    /// one, ties are
    /// inferred, an arc ends where something stands, a chain gets an offset.</summary>
    private static bool LetsFollow(SketchEdit edit) =>
        !edit.Replace.IsEmpty
        || !edit.Merge.IsEmpty
        || !edit.Retie.IsEmpty
        || (edit.Draws && !edit.Inferred.IsEmpty)
        || edit.Add.Any(e => e is ArcEntity or EllipticArcEntity && e.Points.Any(p => edit.Add.All(n => n.Id != p)))
        || edit.Size.Any(d => d.Kind == OffsetSize.KindName);

    /// <summary>Where curves became others, or points one, or a chain got an offset, a rule that was there may now follow from the
    /// rest: it goes, a size becomes one that
    /// only reads. Nothing is freed by that.</summary>
    private static Sketch WithoutWhatFollows(Sketch before, Sketch after, SketchEdit edit)
    {
        var touched = Touched(before, edit);
        var excerpt = Excerpt.Around(after, touched).Part;
        var sizesFirst = excerpt
            .Dimensions.Where(d => d.Driving)
            .Select(d => new Owner(OwnerKind.Dimension, d.Id))
            .Concat(excerpt.Constraints.Select(c => new Owner(OwnerKind.Constraint, c.Id)));
        var follows = Diagnosis.AllRedundant(excerpt, sizesFirst);
        if (follows.Count == 0)
        {
            return after;
        }

        var had = Diagnosis.AllRedundant(Excerpt.Around(before, touched).Part).Select(r => r.Rule).ToHashSet();
        return follows.Where(f => !had.Contains(f.Rule)).Aggregate(after, (sketch, f) => Without(sketch, f.Rule));

        static Sketch Without(Sketch sketch, Owner rule) =>
            rule.Kind == OwnerKind.Constraint
                ? Diagnosis.Without(sketch, rule)
                : sketch with
                {
                    Dimensions = [.. sketch.Dimensions.Select(d => d.Id == rule.Id ? d with { Value = null } : d)],
                };
    }

    private static Outcome<Sketch> Changed(Sketch sketch, SketchEdit edit, ParameterValues parameters)
    {
        foreach (
            var id in edit
                .Remove.Concat(edit.Move.Keys)
                .Concat(edit.Resize.Keys)
                .Concat(edit.ToggleConstruction)
                .Concat(edit.Replace.Select(e => e.Id))
                .Concat(edit.Retie.Select(c => c.Id))
        )
        {
            if (!Knows(sketch, id))
            {
                return new Refusal(
                    "sketch.unknown-id",
                    Sketch.IsBuiltIn(id) ? $"'{id}' belongs to every sketch and stays." : $"There is no '{Ids.Shorten(id)}' in the sketch.",
                    Ids.Shorten(id)
                );
            }
        }

        if (Merging.Check(sketch, edit.Merge) is { } apart)
        {
            return apart;
        }

        var drawn = Moved(Removal.Without(Replaced(Merging.Of(sketch, edit.Merge), edit), edit.Remove), edit);
        drawn = drawn with
        {
            Entities =
            [
                .. drawn
                    .Entities.AddRange(edit.Add)
                    .Select(e => edit.ToggleConstruction.Contains(e.Id) ? e with { Construction = !e.Construction } : e),
            ],
            Shapes = drawn.Shapes.AddRange(edit.Shapes),
        };
        if (drawn.Entities.Length > MostEntities)
        {
            return new Refusal("sketch.too-large", $"A sketch may hold {MostEntities} entities; this would be {drawn.Entities.Length}.");
        }

        if (Restyled(drawn, edit) is { } restyled)
        {
            return restyled;
        }

        var known = drawn.Dimensions.ToDictionary(d => d.Id);
        var sizes = edit.Size.ToDictionary(d => d.Id);
        var all = drawn with
        {
            Constraints = drawn.Constraints.AddRange(edit.Tie),
            Dimensions =
            [
                .. drawn.Dimensions.Select(d => sizes.GetValueOrDefault(d.Id, d)),
                .. edit.Size.Where(d => !known.ContainsKey(d.Id)),
            ],
        };
        var turned = OtherSides.Of(all, edit, parameters);
        if (!turned.Done)
        {
            return turned.Refusal!;
        }

        (all, edit) = turned.Value;
        drawn = drawn with { Entities = all.Entities };
        sizes = edit.Size.ToDictionary(d => d.Id);
        drawn = drawn with { Dimensions = drawn.Dimensions.RemoveAll(d => sizes.ContainsKey(d.Id)) };
        if (SketchCheck.Check(all) is { } wrong)
        {
            return wrong;
        }

        // Everything at once is the ordinary case and costs one solve; only when it fails is each rule tried in turn. A
        // dimension that only gets another value says nothing new.
        var fresh = Owners(edit)
            .Where(o =>
                o.Kind == OwnerKind.Constraint
                || !(
                    known.TryGetValue(o.Id, out var was)
                    && was.Driving
                    && was.Kind == sizes[o.Id].Kind
                    && was.Of.SequenceEqual(sizes[o.Id].Of)
                )
            )
            .ToList();
        var touched = Touched(sketch, edit);
        if (fresh.Count > 0 && Diagnosis.AnyDependent(Excerpt.Around(all, touched).Part, fresh))
        {
            return InOrder(OneByOne(drawn, edit, parameters, touched, null), all);
        }

        var (adding, draws) = (Adding(edit), edit.Draws && Adding(edit));
        if (adding && Held(all, edit, parameters) is { } beside)
        {
            return beside;
        }

        var rules = edit.Tie.Length + edit.Size.Count(d => d.Driving);
        var solved = draws
            ? new Refusal("sketch.would-move", "It does not fit beside what is there.")
            : Solved(
                all,
                parameters,
                edit.Move.Count > 0 ? edit.Move.Keys.ToHashSet(StringComparer.Ordinal) : null,
                fresh.Count > 0 ? fresh.ToHashSet() : null,
                explain: rules == 0,
                touched
            );
        return solved.Done || (rules == 0 && !draws) ? solved : InOrder(OneByOne(drawn, edit, parameters, touched, solved.Refusal), all);
    }

    /// <summary>Whether an edit only brings new things.</summary>
    private static bool Adding(SketchEdit edit) =>
        !edit.Add.IsEmpty
        && edit.Remove.IsEmpty
        && edit.Replace.IsEmpty
        && edit.Retie.IsEmpty
        && edit.Merge.IsEmpty
        && edit.Move.IsEmpty
        && edit.Resize.IsEmpty;

    /// <summary>The sketch with new things brought to their rules while all that was there stays; null where they cannot be.</summary>
    private static Sketch? Held(Sketch all, SketchEdit edit, ParameterValues parameters)
    {
        var excerpt = Excerpt.Holding(
            all,
            edit.Add.Select(e => e.Id).ToHashSet(StringComparer.Ordinal),
            edit.Tie.Select(c => c.Id).Concat(edit.Size.Select(d => d.Id)).ToHashSet(StringComparer.Ordinal)
        );
        return
            Counts.Refresh(all, parameters) is { Done: true } counted
            && ReferenceEquals(counted.Value, all)
            && SketchValues.Of(excerpt.Part, parameters) is { Done: true } values
            && SketchSolver.Solve(excerpt.Part, values.Value) is { Solved: true } report
            && excerpt.Back(report.Sketch) is var back
            && SketchSolver.Meets(Excerpt.Around(back, edit.Add.Select(e => e.Id)).Part, values.Value)
            ? back
            : null;
    }

    /// <summary>What an edit speaks of, and what a rule that goes spoke of: all that may have to move hangs together with it.</summary>
    private static HashSet<string> Touched(Sketch sketch, SketchEdit edit)
    {
        var gone = edit.Remove.IsEmpty ? new HashSet<string>() : Removal.Gone(sketch, edit.Remove);
        return
        [
            .. edit.Add.Concat(edit.Replace).SelectMany(e => e.Points.Append(e.Id)),
            .. edit.Move.Keys,
            .. edit.Resize.Keys,
            .. edit.Merge.Keys,
            .. edit.Merge.Values,
            .. edit.Tie.Concat(edit.Retie).SelectMany(c => c.Of),
            .. edit.Size.SelectMany(d => d.Of),
            .. sketch.Constraints.Where(c => gone.Contains(c.Id)).SelectMany(c => c.Of),
            .. sketch.Dimensions.Where(d => gone.Contains(d.Id)).SelectMany(d => d.Of),
            .. sketch.Entities.Where(e => gone.Contains(e.Id)).SelectMany(e => e.Points),
        ];
    }

    /// <summary>The dimensions in the order in which they were before the rules were tried one by one.</summary>
    private static Outcome<Sketch> InOrder(Outcome<Sketch> outcome, Sketch all) =>
        outcome.Map(sketch =>
        {
            var place = all.Dimensions.Select((d, i) => (d.Id, i)).ToDictionary(p => p.Id, p => p.i);
            return sketch with { Dimensions = [.. sketch.Dimensions.OrderBy(d => place.GetValueOrDefault(d.Id, int.MaxValue))] };
        });

    /// <summary>The sketch with dimensions that only moved their text, or stopped driving: nothing to solve. Null for any other
    /// change.</summary>
    private static Sketch? Restyled(Sketch sketch, SketchEdit edit)
    {
        var old = sketch.Dimensions.ToDictionary(d => d.Id);
        var restyles =
            edit.Size.Length > 0
            && edit.Add.IsEmpty
            && edit.Tie.IsEmpty
            && edit.Remove.IsEmpty
            && edit.Move.IsEmpty
            && edit.Resize.IsEmpty
            && edit.Replace.IsEmpty
            && edit.Merge.IsEmpty
            && edit.Size.All(d => old.TryGetValue(d.Id, out var was) && (d with { TextAt = was.TextAt }).Equals(was));
        return restyles
            ? sketch with
            {
                Dimensions = [.. sketch.Dimensions.Select(d => edit.Size.FirstOrDefault(n => n.Id == d.Id) ?? d)],
            }
            : null;
    }

    /// <summary>The sketch solved for the present values, or why it cannot be.</summary>
    /// <param name="sketch">To be solved.</param>
    /// <param name="parameters">Their values.</param>
    /// <param name="held">Points that should rather stay where they are drawn than run after the others.</param>
    /// <param name="fresh">Rules that are new.</param>
    /// <param name="explain">Whether a failure is to be explained by the rules that cannot hold together.</param>
    /// <param name="touched">What has changed, where that is known: only what hangs together with it is solved.</param>
    public static Outcome<Sketch> Solved(
        Sketch sketch,
        ParameterValues parameters,
        IReadOnlySet<string>? held = null,
        IReadOnlySet<Owner>? fresh = null,
        bool explain = true,
        IReadOnlySet<string>? touched = null
    ) =>
        Counts
            .Refresh(sketch, parameters)
            .Then(counted =>
                SketchValues
                    .Of(counted, parameters)
                    .Then<Sketch>(values =>
                    {
                        // Where the rest holds already, it takes no part.
                        var excerpt =
                            touched is not null
                            && ReferenceEquals(counted, sketch)
                            && Excerpt.Around(sketch, touched) is var around
                            && SketchSolver.Meets(around.Rest, values)
                                ? around
                                : null;
                        var part = excerpt?.Part ?? counted;
                        var report = SketchSolver.Solve(part, values, held, fresh);
                        return report.Solved ? excerpt?.Back(report.Sketch) ?? report.Sketch
                            : explain ? Explained(part, values, report)
                            : Unsolved(report);
                    })
            );

    private static Refusal Unsolved(SolveReport report) =>
        new($"sketch.{Code(report.End)}", report.Message) { Involved = [.. report.Unmet.Select(o => o.Id)] };

    /// <summary>Why a sketch does not solve: the smallest set that cannot hold together where that was shown, else how it ended.</summary>
    private static Refusal Explained(Sketch sketch, IReadOnlyDictionary<string, double> values, SolveReport report) =>
        Conflicts.Find(sketch, values) is { Rules.Count: > 0 } conflict
            ? new Refusal(
                "sketch.clash",
                $"These cannot all hold: {SketchWords.List(sketch, conflict.Rules)}.{(conflict.Note is { } note ? $" ({note})" : "")}"
            )
            {
                Involved = [.. conflict.Rules.Select(o => o.Id)],
            }
            : Unsolved(report);

    private static Outcome<Sketch> OneByOne(
        Sketch drawn,
        SketchEdit edit,
        ParameterValues parameters,
        IReadOnlySet<string> touched,
        Refusal? whole
    )
    {
        var (adding, draws, none) = (Adding(edit), edit.Draws && Adding(edit), edit with { Tie = [], Size = [] });
        var before =
            adding && Held(drawn, none, parameters) is { } beside ? beside
            : Solved(drawn, parameters, touched: touched) is var free && draws ? WouldMove(drawn, null, free)
            : free;
        if (!before.Done)
        {
            return before;
        }

        // What was only inferred comes last: it gives way to what was asked for.
        var sketch = before.Value;
        foreach (var rule in Owners(edit).OrderBy(o => edit.Inferred.Contains(o.Id)))
        {
            var (tie, size) = (
                edit.Tie.FirstOrDefault(c => rule.Kind == OwnerKind.Constraint && c.Id == rule.Id),
                edit.Size.FirstOrDefault(d => rule.Kind == OwnerKind.Dimension && d.Id == rule.Id)
            );
            var with = tie is not null
                ? sketch with
                {
                    Constraints = sketch.Constraints.Add(tie),
                }
                : sketch with
                {
                    Dimensions = sketch.Dimensions.Add(size!),
                };
            var values = SketchValues.Of(with, parameters);
            if (!values.Done)
            {
                return values.Refusal!;
            }

            var excerpt = Excerpt.Around(with, tie?.Of ?? size!.Of);
            var finding = Diagnosis.Judge(excerpt.Part, rule, values.Value);
            if (finding.Novelty == Novelty.Independent)
            {
                var (inferred, moved) = (edit.Inferred.Contains(rule.Id), excerpt.Back(finding.Report.Sketch));
                var stays = adding ? Held(with, none, parameters) : moved;
                if (stays is null && edit.Draws && !inferred)
                {
                    return WouldMove(with, rule, moved);
                }

                sketch = stays ?? (inferred && edit.Draws ? sketch : moved);
            }
            else if (!edit.Inferred.Contains(rule.Id))
            {
                return Refused(with, rule, finding);
            }
        }

        sketch = sketch with { Dimensions = sketch.Dimensions.AddRange(edit.Size.Where(d => !d.Driving)) };
        return SketchCheck.Check(sketch) is { } wrong ? wrong
            : whole is not null
            && !draws
            && sketch.Constraints.Length + sketch.Dimensions.Length == drawn.Constraints.Length + drawn.Dimensions.Length
                ? whole
            : sketch;
    }

    /// <summary>Why something cannot be drawn as it is: what is there already would have to move.</summary>
    private static Refusal WouldMove(Sketch drawn, Owner? rule, Outcome<Sketch> moved)
    {
        var what = rule is { } r ? SketchWords.Describe(drawn, r) : "What is drawn";
        var far = moved.Done
            ? moved
                .Value.Entities.OfType<PointEntity>()
                .Select(p => (p.Id, By: drawn.Find(p.Id) is PointEntity was ? was.At.DistanceTo(p.At) : 0))
                .MaxBy(p => p.By)
            : default;
        return new Refusal(
            "sketch.would-move",
            far.By > Tolerances.SmallestSize
                ? $"{what} does not fit beside what is there: {far.Id} would have to move by {far.By:0.###} mm. Draw it apart, and "
                    + "tie it afterwards."
                : $"{what} does not fit beside what is there. Draw it apart, and tie it afterwards."
        )
        {
            Where = rule?.Id ?? "",
            Involved = far.Id is null ? [] : [far.Id],
        };
    }

    private static Refusal Refused(Sketch sketch, Owner rule, Finding finding)
    {
        var what = SketchWords.Describe(sketch, rule);
        var others = finding.Others.Count == 0 ? "the shape of the entities themselves" : SketchWords.List(sketch, finding.Others);
        var ways = finding.Others.Any(o => o.Kind == OwnerKind.Dimension) ? "Change or remove one of them" : "Remove one of them";
        var note = finding.Note is { } limits ? $" ({limits})" : "";
        var refusal = finding.Novelty switch
        {
            Novelty.Redundant => new Refusal(
                "sketch.redundant",
                rule.Kind == OwnerKind.Dimension
                    ? $"{what} follows already from: {others}. It can be kept as a reference dimension.{note}"
                    : $"{what} follows already from: {others}. It was left out.{note}"
            ),
            Novelty.Clash when finding.Others.Count == 0 => new Refusal(
                "sketch.clash",
                $"{what} cannot hold, whatever the other rules: {Lower(finding.Report.Message)}"
            ),
            Novelty.Clash => new Refusal("sketch.clash", $"{what} clashes with: {others}. {ways}, or leave this out.{note}"),
            _ => new Refusal(
                $"sketch.{Code(finding.Report.End)}",
                $"{what}: {Lower(finding.Report.Message)} Bring the geometry nearer to what is wanted first, or go there in smaller steps."
            ),
        };
        return refusal with { Where = rule.Id, Involved = [.. finding.Others.Select(o => o.Id)] };
    }

    private static Owner[] Owners(SketchEdit edit) =>
        [
            .. edit.Tie.Select(c => new Owner(OwnerKind.Constraint, c.Id)),
            .. edit.Size.Where(d => d.Driving).Select(d => new Owner(OwnerKind.Dimension, d.Id)),
        ];

    private static Sketch Replaced(Sketch sketch, SketchEdit edit)
    {
        if (edit.Replace.IsEmpty && edit.Retie.IsEmpty)
        {
            return sketch;
        }

        var (entities, rules) = (edit.Replace.ToDictionary(e => e.Id), edit.Retie.ToDictionary(c => c.Id));

        // A polygon whose sides have other ends has no number any more; it stays what it is.
        var reshaped = edit
            .Replace.Where(e => sketch.Find(e.Id) is { } was && !was.Points.SequenceEqual(e.Points))
            .Select(e => e.Id)
            .ToHashSet(StringComparer.Ordinal);
        return sketch with
        {
            Shapes = sketch.Shapes.RemoveAll(s =>
                s.Kind == "polygon" && reshaped.Any(id => id.StartsWith(s.Id + ".", StringComparison.Ordinal))
            ),
            Entities =
            [
                .. sketch.Entities.Select(e => entities.GetValueOrDefault(e.Id, e)),
                .. edit.Replace.Where(e => sketch.Find(e.Id) is null),
            ],

            // What is repeated or mirrored goes from point to point: a curve with other points is a copy no more.
            Constraints =
            [
                .. sketch
                    .Constraints.Select(c => rules.GetValueOrDefault(c.Id, c))
                    .Select(c =>
                        ConstraintCatalog.Find(c.Kind) is CopyRule copies && c.Of.Any(reshaped.Contains) ? copies.Without(c, reshaped) : c
                    )
                    .OfType<SketchConstraint>(),
            ],
        };
    }

    private static Sketch Moved(Sketch sketch, SketchEdit edit) =>
        edit.Move.IsEmpty && edit.Resize.IsEmpty
            ? sketch
            : sketch with
            {
                Entities =
                [
                    .. sketch.Entities.Select(e =>
                        e switch
                        {
                            PointEntity p when edit.Move.TryGetValue(p.Id, out var at) => p with { At = at },
                            CircleEntity c when edit.Resize.TryGetValue(c.Id, out var r) => c with { Radius = r },
                            ArcEntity a when edit.Resize.TryGetValue(a.Id, out var r) => a with { Radius = r },
                            _ => e,
                        }
                    ),
                ],
            };

    private static bool Knows(Sketch sketch, string id) =>
        (sketch.Find(id) is not null && !Sketch.IsBuiltIn(id))
        || sketch.Constraints.Any(c => c.Id == id)
        || sketch.Dimensions.Any(d => d.Id == id)
        || sketch.Shapes.Any(s => s.Id == id);

    private static string Lower(string sentence) => char.ToLowerInvariant(sentence[0]) + sentence[1..];

    private static string Code(SolveEnd end) =>
        end switch
        {
            SolveEnd.Unmet => "no-way",
            SolveEnd.Collapsed => "collapsed",
            _ => "turned-over",
        };
}
