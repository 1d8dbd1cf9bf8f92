using System.Collections.Immutable;
using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Kinds.Tests;

/// <summary>A round peg that stands on a plane at its origin. Made up, to try how a form is added.</summary>
[Kind("peg")]
[FormTool("Peg", 'g', "M3 13h10M6 13V3h4v10", Begins = true)]
internal sealed record PegStep(string Id, int Number, string Name, string On) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<PegStep> Described = new FormFields<PegStep>()
        .Pick("on", "On", PickKind.Plane, s => s.On, (s, v) => s with { On = v ?? "" })
        .Length("diameter", "Diameter", s => s.Diameter, (s, v) => s with { Diameter = v })
        .Length("length", "Length", s => s.Length, (s, v) => s with { Length = v });

    public string? Diameter { get; init; }

    public string? Length { get; init; }

    public override string Kind => "peg";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => null;

    public override Outcome<FormResult> Build(FormSite site)
    {
        ArgumentNullException.ThrowIfNull(site);
        return site.Plane(On)
            .Then(plane =>
                site.Length(Diameter, "diameter")
                    .Then(diameter =>
                        site.Length(Length, "length")
                            .Map<FormResult>(length =>
                            {
                                TurnedCorner[] outline =
                                [
                                    new(0, 0, ""),
                                    new(0, diameter / 2, "foot"),
                                    new(length, diameter / 2, "side"),
                                    new(length, 0, "top"),
                                ];
                                return new MaterialResult([], FormOperation.Join, [])
                                {
                                    Round = [new RoundTool(new Line3(plane.Origin, plane.Z), [.. outline], $"{Id}/", "")],
                                };
                            })
                    )
            );
    }
}
