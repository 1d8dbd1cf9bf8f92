using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Ratiogon.Core.Geometry;

namespace Ratiogon.Core.Forms;

/// <summary>Forms or bodies once more on the other side of a plane.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Number">Place in the build sheet.</param>
/// <param name="Name">As shown.</param>
/// <param name="Of">Forms and bodies.</param>
/// <param name="About">A plane, a planar face or a frame.</param>
[Kind("mirror")]
[FormTool(
    "Mirror",
    'm',
    "M8 1.500v2M8 5v2M8 8.500v2M8 12v2M6 4L2 12h4zM10 4l4 8h-4z",
    Group = FormToolAttribute.CopiesAndBodies,
    Place = 110,
    Offered = OfferedWith.WholeThings
)]
public sealed record MirrorStep(string Id, int Number, string Name, Refs Of, string About) : FormStep(Id, Number, Name)
{
    private static readonly FormFields<MirrorStep> Described = new FormFields<MirrorStep>()
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
        .Pick(
            "about",
            "About",
            PickKind.Plane,
            s => s.About,
            (s, v) => s with { About = v ?? "" },
            hint: "Pick the plane or planar face that it is mirrored in"
        )
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

    /// <summary>What the copy of a body does.</summary>
    public FormOperation Operation { get; init; }

    public override string Kind => "mirror";

    public override ImmutableArray<FormField> Fields => Described.All;

    public override Refs? KeepsTo => Single ? Faces : Of;

    public override Refs Repeats => Single || Whole ? [] : Of;

    public override Outcome<FormResult> Build(FormSite site) =>
        site.Plane(About)
            .Then(plane =>
            {
                IReadOnlyList<(string, Rigid)> places = [("2", Rigid.Mirror(plane))];
                return Single ? FaceCopies.Make(site, Id, Faces, places) : Copies.Make(site, Id, Of, Whole, Operation, places);
            });
}
