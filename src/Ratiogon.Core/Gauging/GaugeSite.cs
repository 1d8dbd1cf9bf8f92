using System.Collections.Immutable;
using Ratiogon.Core.Building;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Meshes;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Gauging;

/// <summary>Where a reading is taken: the model and its bodies as they stand.</summary>
public sealed class GaugeSite
{
    public required ISolidKernel Kernel { get; init; }

    public required IModel Model { get; init; }

    public required ImmutableArray<FormBody> Bodies { get; init; }

    public ImmutableArray<ReferenceBody> References { get; init; } = [];

    public Part Part => Model.Part;

    public string Show(double value, Dimension kind) => Units.Show(new Quantity(value, kind), Part.Units);

    /// <summary>The body that a thing is, or is a part of; null for anything else.</summary>
    public BodyPart? On(Thing thing)
    {
        ArgumentNullException.ThrowIfNull(thing);
        return FormBody.Named(Bodies, thing.Reference);
    }

    /// <summary>The face that a thing is, of a body or of triangles, by its number; null for anything else.</summary>
    public BodyFace? FaceOf(Thing thing)
    {
        ArgumentNullException.ThrowIfNull(thing);
        return On(thing) is { Part: { Kind: SubShapeKind.Face } own } on ? new BodyFace(on.Body, own.Index)
            : OnReference(thing) is { Part: { Kind: SubShapeKind.Face } part } of ? new BodyFace(of.Body, part.Index)
            : null;
    }

    /// <summary>Bodies picked whole; all there are where none is.</summary>
    public Outcome<ImmutableArray<FormBody>> BodiesOf(IReadOnlyList<Thing> picks)
    {
        ArgumentNullException.ThrowIfNull(picks);
        if (Bodies.IsEmpty)
        {
            return new Refusal("reading.no-body", "There is no body to read from yet.");
        }

        var odd = picks.FirstOrDefault(t => On(t) is not { Part.Kind: SubShapeKind.Whole });
        return odd is not null ? new Refusal("reading.no-body", $"{odd.Words} is no body.", odd.Reference)
            : picks.Count == 0 ? Bodies
            : picks.Select(t => On(t)!.Value.Body).Distinct().ToImmutableArray();
    }

    /// <summary>Bodies and triangles of files picked whole; all bodies where nothing is picked.</summary>
    public Outcome<ImmutableArray<INamedBody>> ShapesOf(IReadOnlyList<Thing> picks)
    {
        ArgumentNullException.ThrowIfNull(picks);
        var references = picks.Where(t => OnReference(t) is { Part.Kind: SubShapeKind.Whole }).ToList();
        ImmutableArray<INamedBody> found = [.. references.Select(t => OnReference(t)!.Value.Body).Distinct()];
        return references.Count > 0 && references.Count == picks.Count
            ? found
            : BodiesOf([.. picks.Except(references)]).Map(bodies => (ImmutableArray<INamedBody>)[.. bodies, .. found]);
    }

    /// <summary>The smallest distance: of faces, edges and bodies as they are bounded, of datums as they go on without end.</summary>
    public Outcome<Nearest> Distance(Thing a, Thing b)
    {
        ArgumentNullException.ThrowIfNull(a);
        ArgumentNullException.ThrowIfNull(b);
        if (a.Point is { } p && b.Point is { } q)
        {
            return new Nearest(p.DistanceTo(q), p, q);
        }

        var reach = Reach(a, b);
        if (OnReference(a) is { } first)
        {
            return Triangles(first, b, reach);
        }

        if (OnReference(b) is { } second)
        {
            return Triangles(second, a, reach).Map(n => new Nearest(n.Distance, n.B, n.A));
        }

        using var one = new Held(this, a, reach);
        using var two = new Held(this, b, reach);
        return one.Solid is null || two.Solid is null
            ? new Refusal("reading.no-distance", $"There is no distance between {a.Words} and {b.Words}.")
            : Kernel.Distance(one.Solid, one.Part, two.Solid, two.Part);
    }

    /// <summary>The reference that a thing is, or is a face of; null for anything else, its edges and points too: those are curves and
    /// places like others.</summary>
    private (ReferenceBody Body, SubShape Part)? OnReference(Thing thing) =>
        References
            .Select(r => (r, Part: r.Find(thing.Reference)))
            .FirstOrDefault(f => f.Part is { Kind: SubShapeKind.Whole or SubShapeKind.Face })
            is ({ } body, { } part)
            ? (body, part)
            : null;

    private Outcome<Nearest> Triangles((ReferenceBody Body, SubShape Part) of, Thing other, double reach)
    {
        var (mesh, own) = (of.Body.Mesh, of.Body.Triangles(of.Part));
        if (OnReference(other) is { } also)
        {
            return TriangleDistance.Between(Kernel, mesh, own, also.Body.Mesh, also.Body.Triangles(also.Part));
        }

        if (other.Plane is { } plane && On(other) is null)
        {
            return TriangleDistance.Between(mesh, own, Plane3.Of(plane));
        }

        using var held = new Held(this, other, reach);
        return held.Solid is null
            ? new Refusal("reading.no-distance", $"There is no distance between {of.Body.Name} and {other.Words}.")
            : TriangleDistance.Between(Kernel, mesh, own, held.Solid, held.Part);
    }

    /// <summary>How far datums without end are taken to go, from the place that is nearest to what is measured.</summary>
    private double Reach(Thing a, Thing b) =>
        1000 + (10 * (a.Anchor.DistanceTo(b.Anchor) + Bodies.Select(x => x.Box.Diagonal).DefaultIfEmpty(0).Max()));

    /// <summary>A thing as the kernel measures it; made for it where it is not part of a body.</summary>
    private sealed class Held : IDisposable
    {
        private readonly ISolid? own;

        public Held(GaugeSite site, Thing thing, double reach)
        {
            if (site.On(thing) is var (body, part))
            {
                (Solid, Part) = (body.Solid, part);
                return;
            }

            Solid = own = thing switch
            {
                { Point: { } p } => site.Kernel.Dot(p),
                { Path: { } path } => site.Kernel.Wire(path),
                { Plane: { } plane } => site.Kernel.Sheet(plane, reach),
                { Line: { } line } => site.Kernel.Wire(CurvePath.Of(new SegmentCurve(line.At(-reach), line.At(reach))).Value),
                { Frame: { } frame } => site.Kernel.Dot(frame.Origin),
                _ => null,
            };
        }

        public ISolid? Solid { get; }

        public SubShape Part { get; }

        public void Dispose() => own?.Dispose();
    }
}

/// <summary>A face of a body.</summary>
/// <param name="Body">The body.</param>
/// <param name="Face">Its number.</param>
public readonly record struct BodyFace(INamedBody Body, int Face);
