using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Regions;

namespace Ratiogon.Core.Forms;

/// <summary>What a form leaves on bodies besides their shape.</summary>
/// <param name="Holes">It made them.</param>
/// <param name="Threads">It drew them.</param>
public sealed record FormTraces(ImmutableArray<HoleRow> Holes, ImmutableArray<DrawnThread> Threads);

/// <summary>Where a form is built: the model and the bodies as they stand just before it.</summary>
public sealed class FormSite
{
    public required ISolidKernel Kernel { get; init; }

    public required IModel Model { get; init; }

    public required ImmutableArray<FormBody> Bodies { get; init; }

    /// <summary>A built sketch with its plane, or null.</summary>
    public required Func<string, PlacedDrawing?> Sketch { get; init; }

    /// <summary>The material that an earlier form added or took, before it met the bodies; none for forms of another kind.</summary>
    public required Func<string, ImmutableArray<MaterialResult>> Material { get; init; }

    /// <summary>The holes and the drawn threads of the steps before; looked up when asked for.</summary>
    public Func<IEnumerable<FormTraces>> Earlier { get; init; } = () => [];

    /// <summary>Whether what is built is a picture of a moment: joins then only stand side by side.</summary>
    public bool Quick { get; init; }

    /// <summary>The same place with other bodies.</summary>
    public FormSite With(ImmutableArray<FormBody> bodies) =>
        new()
        {
            Kernel = Kernel,
            Model = Model,
            Bodies = bodies,
            Sketch = Sketch,
            Material = Material,
            Earlier = Earlier,
            Quick = Quick,
        };

    public Part Part => Model.Part;

    /// <summary>A box about all bodies; empty where there are none.</summary>
    public Box? Box =>
        Bodies.IsEmpty
            ? null
            : new Box(
                new Vec3(Bodies.Min(b => b.Box.Low.X), Bodies.Min(b => b.Box.Low.Y), Bodies.Min(b => b.Box.Low.Z)),
                new Vec3(Bodies.Max(b => b.Box.High.X), Bodies.Max(b => b.Box.High.Y), Bodies.Max(b => b.Box.High.Z))
            );

    /// <summary>A length that reaches from a place beyond everything there is.</summary>
    public double Reach(Vec3 from) => Box is { } box ? box.Diagonal + ((box.Low + box.High) * 0.5).DistanceTo(from) + 10 : 1000;

    public Outcome<double> Value(string? formula, Dimension kind, string field) =>
        Formula
            .Parse(formula)
            .Then(f => f.Evaluate(Model.Values.Of))
            .Then<double>(q =>
                q.Dimension == kind
                    ? q.Value
                    : new Refusal(
                        "formula.kind",
                        $"{StepSize.WordsOf(field)} needs {kind.Words}; '{formula}' is {q.Dimension.Words}.",
                        field
                    )
            );

    public Outcome<double> Length(string? formula, string field) => Value(formula, Dimension.OfLength, field);

    public Outcome<double> Angle(string? formula, string field) => Value(formula, Dimension.OfAngle, field);

    /// <summary>A whole number from a formula.</summary>
    public Outcome<int> Count(string? formula, string field, int least, int most) =>
        Value(formula, Dimension.None, field)
            .Then<int>(v =>
                Math.Abs(v - Math.Round(v)) > Tolerances.WholeNumber || v < least || v > most
                    ? new Refusal(
                        "form.count",
                        $"{StepSize.WordsOf(field)} is a whole number from {least} to {most}, not {v:0.###}.",
                        field
                    )
                    : (int)Math.Round(v)
            );

    /// <summary>A length as people read it.</summary>
    public string Show(double millimetres) => Units.Show(Quantity.Length(millimetres), Part.Units);

    /// <summary>A place as people read it, in the part's unit of length.</summary>
    public string Show(Vec3 place) => Part.Units == LengthUnit.Inch ? (place * (1 / 25.4)).ToString() : place.ToString();

    /// <summary>A length that would do.</summary>
    public Fitting Fitting(double millimetres) => new(Show(millimetres), FormattableString.Invariant($"{millimetres:R} mm"));

    /// <summary>An angle that would do.</summary>
    public static Fitting FittingAngle(double radians) =>
        new(Degrees(radians), FormattableString.Invariant($"{radians * 180 / Math.PI:R} deg"));

    public static string Degrees(double radians) => Units.Show(Quantity.Angle(radians), LengthUnit.Millimetre);

    /// <summary>The chosen regions of a sketch; none chooses all that are material by even-odd.</summary>
    public Outcome<Profile> Profile(string sketch, IReadOnlyCollection<string> regions)
    {
        if (Sketch(sketch) is not { } built)
        {
            return new Refusal("form.sketch", $"'{sketch}' is not a sketch.", sketch);
        }

        var arrangement = Arrangement.Of(built.Sketch);
        return arrangement.Choose(regions).Map(chosen => new Profile(built.Plane, arrangement.Join(chosen)));
    }

    /// <summary>Curves that follow each other, as one path.</summary>
    public Outcome<CurvePath> Path(Refs curves) =>
        Find(string.Join(World.Next, curves))
            .Then<CurvePath>(t =>
                t.Path is { } path
                    ? path
                    : new Refusal(
                        "path.no-curve",
                        $"{t.Words} is no curve: a path runs over edges, sketch curves and 3D curves.",
                        curves.Count > 0 ? curves[0] : null
                    )
            );

    /// <summary>The plane of anything flat.</summary>
    public Outcome<Frame> Plane(string reference) => Model.PlaneOf(reference);

    public Outcome<Thing> Find(string reference) => Model.Find(reference);

    /// <summary>A line with a direction from anything straight: also the normal of what is flat.</summary>
    public Outcome<Line3> Straight(string reference) =>
        Find(reference)
            .Then<Line3>(t =>
                t.Straight is { } line ? line
                : t.Plane is { } plane ? new Line3(t.Middle ?? plane.Origin, plane.Z)
                : t.Frame is { } frame ? new Line3(frame.Origin, frame.Z)
                : new Refusal(
                    "form.not-straight",
                    $"{t.Words} has no direction: pick a straight edge, a line, an axis, a round face or a plane.",
                    reference
                )
            );

    /// <summary>The body and the one part of it that a reference names.</summary>
    public Outcome<BodyPart> On(string reference) =>
        AllOn(reference)
            .Then<BodyPart>(on =>
                on.Parts.Length == 1 ? new BodyPart(on.Body, on.Parts[0]) : Names.InPieces(reference, on.Parts.Select(on.Body.Names.Of))
            );

    /// <summary>The body and every part of it that a reference names: the pieces, where something was divided since.</summary>
    public Outcome<BodyParts> AllOn(string reference)
    {
        if (FormBody.AllNamed(Bodies, reference) is { Body: not null } named)
        {
            return named;
        }

        var lost = Find(reference);
        return lost.Refusal ?? new Refusal("form.no-body-part", $"{lost.Value.Words} is not part of a body.", reference);
    }

    /// <summary>The bodies of these names; where none is named, all there are.</summary>
    public Outcome<ImmutableArray<FormBody>> Chosen(Refs names)
    {
        var chosen = ImmutableArray.CreateBuilder<FormBody>();
        foreach (var name in names)
        {
            var found = On(name);
            if (!found.Done)
            {
                return found.Refusal!;
            }

            if (!chosen.Contains(found.Value.Body))
            {
                chosen.Add(found.Value.Body);
            }
        }

        return names.Count == 0 ? Bodies : chosen.ToImmutable();
    }

    /// <summary>What the axes of the faces of a swept profile follow: caps the profile's own, sides the way it is swept.</summary>
    public static AxisGuide GuideOf(FaceOrigin origin, Profile profile, Vec3 along) =>
        origin.Kind switch
        {
            OriginKind.Side => new AxisGuide(profile.Plane.X, along),
            OriginKind.StartCap or OriginKind.EndCap => AxisGuide.Of(profile.Plane),
            _ => AxisGuide.None,
        };

    /// <summary>Names a kernel's result where only the faces of bodies and new ones take part.</summary>
    public static string NameOf(string step, FaceOrigin origin, Profile profile) =>
        origin.Kind switch
        {
            OriginKind.Side => $"{step}/side/{profile.Edges[origin.Index].Entity}",
            OriginKind.StartCap => $"{step}/start",
            OriginKind.EndCap => $"{step}/end",
            _ => $"{step}/face",
        };
}

/// <summary>A sketch where it lies in space.</summary>
/// <param name="Sketch">As solved.</param>
/// <param name="Plane">Its plane.</param>
public readonly record struct PlacedDrawing(Sketch Sketch, Frame Plane);
