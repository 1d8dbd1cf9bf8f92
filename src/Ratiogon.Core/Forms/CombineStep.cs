using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Bodies joined, taken from each other, or left where they overlap.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Body">The body that stays.</param>
/// <param name="Others">The bodies that it is combined with.</param>
[Kind("combine")]
[FormTool(
    "Combine bodies",
    'b',
    "M2 4h7v7H2zM6 6.500h8v7H6z",
    Group = FormToolAttribute.CopiesAndBodies,
    Place = 140,
    Offered = OfferedWith.WholeThings
)]
public sealed record CombineStep(string Id, int Number, string Name, string Body, Refs Others) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<CombineStep> Described = new FormFields<CombineStep>()
        .Pick("body", "Body", PickKind.Body, s => s.Body, (s, v) => s with { Body = v ?? "" }, hint: "Pick the body that stays")
        .Picks(
            "others",
            "With",
            PickKind.Body,
            s => s.Others,
            (s, v) => s with { Others = v },
            hint: "Pick the bodies that it is combined with"
        )
        .Choice(
            "operation",
            "How",
            s => s.Operation,
            (s, v) => s with { Operation = v },
            null,
            new(FormOperation.Join, "joined"),
            new(FormOperation.Cut, "taken from it"),
            new(FormOperation.Intersect, "what they share")
        )
        .Flag("keep", "Keep the others", s => s.Keep, (s, v) => s with { Keep = v });

    public FormOperation Operation { get; init; }

    /// <summary>Whether the others stay as bodies.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Keep { get; init; }

    public override string Kind => "combine";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => [Body, .. Others];

    public override Outcome<FormResult> Build(FormSite site) =>
        site.On(Body)
            .Then(on =>
                site.Chosen(Others)
                    .Then<FormResult>(others =>
                    {
                        var body = on.Body;
                        if (others.Contains(body))
                        {
                            return new Refusal("combine.itself", "A body cannot be combined with itself: pick another.", "others");
                        }

                        var made =
                            Operation == FormOperation.Intersect
                                ? others.Aggregate((Outcome<Shaped>)body.Shape, (so, other) =>
                                    so.Then(left => Together(site.Kernel.Common(left.Solid, other.Solid), [left, other.Shape]))
                                )
                                : Together(
                                    Operation == FormOperation.Cut
                                        ? site.Kernel.Cut(body.Solid, Solids(others))
                                        : site.Kernel.Join(body.Solid, Solids(others)),
                                    [body.Shape, .. others.Select(o => o.Shape)]
                                );
                        if (!made.Done)
                        {
                            return made.Refusal!.Code == "form.nothing-left"
                                ? made.Refusal with
                                {
                                    Message =
                                        Operation == FormOperation.Intersect
                                            ? "The bodies do not all overlap: nothing would be left."
                                            : made.Refusal.Message,
                                }
                                : made.Refusal;
                        }

                        return new BodiesResult([
                            new ChangedBody(body.Name, made.Value),
                            .. Keep ? [] : others.Select(o => new ChangedBody(o.Name, null)),
                        ]);
                    })
            );

    private Outcome<Shaped> Together(Outcome<SolidResult> made, IReadOnlyList<Shaped> inputs) => made.Map(r => Shaped.Of(r, Id, inputs));

    private static ISolid[] Solids(ImmutableArray<FormBody> bodies) => [.. bodies.Select(b => b.Solid)];
}
