using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Forms;

/// <summary>How the copies of a pattern lie.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<PatternLayout>))]
public enum PatternLayout
{
    /// <summary>In a row, or in rows.</summary>
    [JsonStringEnumMemberName("linear")]
    Linear,

    /// <summary>About an axis.</summary>
    [JsonStringEnumMemberName("circular")]
    Circular,

    /// <summary>Along a path.</summary>
    [JsonStringEnumMemberName("path")]
    Path,
}

/// <summary>Forms or bodies repeated in rows, about an axis or along a path.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Of">Forms and bodies.</param>
[Kind("pattern")]
[FormTool(
    "Pattern",
    'p',
    "M2 6h3v4H2zM6.500 6h3v4h-3zM11 6h3v4h-3z",
    Group = FormToolAttribute.CopiesAndBodies,
    Place = 120,
    Offered = OfferedWith.WholeThings
)]
public sealed record PatternStep(string Id, int Number, string Name, Refs Of) : FormStep(Id, Number, Name)
{
    private const int Most = 2000;

    private static readonly FormFields<PatternStep> Described = new FormFields<PatternStep>()
        .Flag("single", "Single faces", s => s.Single, (s, v) => s with { Single = v })
        .Flag("whole", "Bodies as they stand", s => s.Whole, (s, v) => s with { Whole = v, Of = v == s.Whole ? s.Of : [] }, s => !s.Single)
        .Picks(
            "of",
            "What",
            PickKind.Form | PickKind.Body,
            s => s.Of,
            (s, v) => s with { Of = v },
            when: s => !s.Single && !s.Whole,
            hint: "Pick forms in the build sheet, or a body"
        )
        .Picks(
            "bodies",
            "Bodies",
            PickKind.Body,
            s => s.Of,
            (s, v) => s with { Of = v },
            when: s => !s.Single && s.Whole,
            hint: "Pick the bodies that are repeated with all that was done to them"
        )
        .Picks(
            "faces",
            "Faces",
            PickKind.Face,
            s => s.Faces,
            (s, v) => s with { Faces = v },
            when: s => s.Single,
            hint: "Pick all faces of a pocket or of a boss"
        )
        .Choice(
            "layout",
            "Layout",
            s => s.Layout,
            (s, v) => s with { Layout = v },
            null,
            new(PatternLayout.Linear, "in rows"),
            new(PatternLayout.Circular, "about an axis"),
            new(PatternLayout.Path, "along a path")
        )
        .Pick(
            "along",
            "Direction",
            PickKind.Straight,
            s => s.Along,
            (s, v) => s with { Along = v },
            when: s => s.Layout == PatternLayout.Linear,
            hint: "Pick the direction of the row"
        )
        .Pick(
            "axis",
            "Axis",
            PickKind.Straight,
            s => s.Axis,
            (s, v) => s with { Axis = v },
            when: s => s.Layout == PatternLayout.Circular,
            hint: "Pick the axis: a round face, an edge, a sketch line or a datum axis"
        )
        .Picks(
            "path",
            "Path",
            PickKind.Path,
            s => s.Path,
            (s, v) => s with { Path = v },
            when: s => s.Layout == PatternLayout.Path,
            hint: "Pick the curves of the path one after the other"
        )
        .Number("count", "Count", s => s.Count, (s, v) => s with { Count = v })
        .Length("spacing", "Spacing", s => s.Spacing, (s, v) => s with { Spacing = v }, s => s.Layout != PatternLayout.Circular, true)
        .Angle("angle", "Over", s => s.Angle, (s, v) => s with { Angle = v }, s => s.Layout == PatternLayout.Circular, true)
        .Pick(
            "across",
            "Second direction",
            PickKind.Straight,
            s => s.Across,
            (s, v) => s with { Across = v },
            optional: true,
            when: s => s.Layout == PatternLayout.Linear
        )
        .Number("rows", "Rows", s => s.Rows, (s, v) => s with { Rows = v }, s => s.Layout == PatternLayout.Linear && s.Across is not null)
        .Length(
            "rowSpacing",
            "Row spacing",
            s => s.RowSpacing,
            (s, v) => s with { RowSpacing = v },
            s => s.Layout == PatternLayout.Linear && s.Across is not null,
            true
        )
        .Flag("turning", "Turns with the path", s => s.Turning, (s, v) => s with { Turning = v }, s => s.Layout == PatternLayout.Path)
        .Choice(
            "operation",
            "Bodies become",
            s => s.Operation,
            (s, v) => s with { Operation = v },
            s => !s.Single,
            new(FormOperation.Join, "one with the original"),
            new(FormOperation.Body, "bodies of their own")
        );

    /// <summary>Whether what is picked means bodies as they stand, with all that was done to them, and not the forms that began
    /// them.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Whole { get; init; }

    /// <summary>Whether single faces are repeated, by the pocket or the boss that they enclose.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Single { get; init; }

    public Refs Faces { get; init; } = [];

    public PatternLayout Layout { get; init; }

    public string? Along { get; init; }

    public string? Axis { get; init; }

    public Refs Path { get; init; } = [];

    /// <summary>How many, the original counted.</summary>
    public string Count { get; init; } = "3";

    /// <summary>From one to the next.</summary>
    public string Spacing { get; init; } = "20 mm";

    /// <summary>The angle that they are shared out over; all round, the last does not fall on the first.</summary>
    public string Angle { get; init; } = "360 deg";

    public string? Across { get; init; }

    public string Rows { get; init; } = "2";

    public string RowSpacing { get; init; } = "20 mm";

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Turning { get; init; }

    /// <summary>Copies left out, by their labels.</summary>
    public Refs Left { get; init; } = [];

    /// <summary>What copies of bodies do.</summary>
    public FormOperation Operation { get; init; }

    public override string Kind => "pattern";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Single ? Faces : Of;

    public override Refs Repeats => Single || Whole ? [] : Of;

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Count(Count, "count", 1, Most)
            .Then(n => Places(site, n))
            .Then(places =>
            {
                List<(string, Rigid)> kept = [.. places.Where(p => !Left.Contains(p.Label))];
                return Single ? FaceCopies.Make(site, Id, Faces, kept) : Copies.Make(site, Id, Of, Whole, Operation, kept);
            });

    private Outcome<List<(string Label, Rigid By)>> Places(FormSite site, int count) =>
        Layout switch
        {
            PatternLayout.Linear => Rowed(site, count),
            PatternLayout.Circular => Round(site, count),
            _ => Strung(site, count),
        };

    private static string Label(int i) => (i + 1).ToString(CultureInfo.InvariantCulture);

    private Outcome<List<(string Label, Rigid By)>> Rowed(FormSite site, int count) =>
        site.Straight(Along!)
            .Then(along =>
                site.Length(Spacing, "spacing")
                    .Then(spacing =>
                    {
                        var row = Enumerable.Range(0, count).Select(i => (Label: Label(i), By: along.Direction * (spacing * i))).ToList();
                        if (Across is null)
                        {
                            return row.Skip(1).Select(p => (p.Label, Rigid.By(p.By))).ToList();
                        }

                        return site.Straight(Across)
                            .Then(across =>
                                site.Count(Rows, "rows", 1, Most)
                                    .Then(rows =>
                                        site.Length(RowSpacing, "rowSpacing")
                                            .Then<List<(string, Rigid)>>(apart =>
                                                rows * count > Most
                                                    ? new Refusal("form.count", $"{rows} rows of {count} are more than {Most}.", "rows")
                                                : across.Direction.Cross(along.Direction).Length < Tolerances.DrawnAngle
                                                    ? new Refusal(
                                                        "pattern.parallel",
                                                        "The two directions are parallel: the rows would lie in one line.",
                                                        "across"
                                                    )
                                                : Enumerable
                                                    .Range(0, rows)
                                                    .SelectMany(r =>
                                                        row.Select(p =>
                                                            (
                                                                Label: r == 0 ? p.Label : $"{p.Label}-{Label(r)}",
                                                                By: p.By + (across.Direction * (apart * r))
                                                            )
                                                        )
                                                    )
                                                    .Skip(1)
                                                    .Select(p => (p.Label, Rigid.By(p.By)))
                                                    .ToList()
                                            )
                                    )
                            );
                    })
            );

    private Outcome<List<(string Label, Rigid By)>> Round(FormSite site, int count) =>
        site.Straight(Axis!)
            .Then(axis =>
                site.Angle(Angle, "angle")
                    .Map(over =>
                    {
                        var whole = Math.Abs(Math.Abs(over) - (2 * Math.PI)) < Tolerances.Angle;
                        var step = over / (whole ? count : Math.Max(1, count - 1));
                        return Enumerable.Range(1, count - 1).Select(i => (Label(i), Rigid.About(axis, step * i))).ToList();
                    })
            );

    private Outcome<List<(string Label, Rigid By)>> Strung(FormSite site, int count) =>
        site.Path(Path)
            .Then(path =>
                site.Length(Spacing, "spacing")
                    .Then<List<(string, Rigid)>>(spacing =>
                    {
                        var longest = path.Length;
                        if (!path.Closed && spacing * (count - 1) > longest + Tolerances.Length)
                        {
                            return new Refusal(
                                "pattern.short",
                                $"{count} copies {site.Show(spacing)} apart need {site.Show(spacing * (count - 1))} of path; it is "
                                    + $"{site.Show(longest)} long.",
                                "spacing"
                            );
                        }

                        var frames = MovingFrames.Along(path, Vec3.AlongX, 257);
                        MovingFrame At(double length)
                        {
                            var near = frames[(int)Math.Clamp(Math.Round(length / longest * 256), 0, 256)];
                            var (at, tangent) = path.AtLength(length);
                            return new MovingFrame(at, tangent, (near.Normal - (tangent * near.Normal.Dot(tangent))).Unit);
                        }

                        var first = At(0);
                        return Enumerable
                            .Range(1, count - 1)
                            .Select(i =>
                                (Label(i), Turning ? Rigid.Between(first, At(spacing * i)) : Rigid.By(At(spacing * i).At - first.At))
                            )
                            .ToList();
                    })
            );
}
