using System.Collections.Concurrent;
using System.Collections.Immutable;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Building;

/// <summary>What a rebuild has so far. Only the thread that rebuilds changes it; forms that are being made read of it.</summary>
internal sealed class RebuildState
{
    private readonly ISolidKernel kernel;

    public RebuildState(Part part, ISolidKernel kernel)
    {
        this.kernel = kernel;
        (Part, Order, Results) = (part, BuildOrder.Of(part), new StepResult[part.Steps.Length]);
        Model = new Model(part with { Readings = ImmutableDictionary<string, Quantity>.Empty });
        foreach (var reading in part.Steps.OfType<ReadingStep>())
        {
            Model.Add(
                reading,
                new Refusal(
                    "formula.unknown-name",
                    $"'{reading.Name}' is read in step {reading.Number}: only steps after it can use it.",
                    reading.Name
                )
            );
        }
    }

    public Part Part { get; }

    public BuildOrder Order { get; }

    /// <summary>The place of the step that is only to look like what it will be; -1 for none.</summary>
    public int Quick { get; init; } = -1;

    /// <summary>All but the bodies.</summary>
    public Model Model { get; }

    /// <summary>With all bodies there are now.</summary>
    public Model Whole => Model.Seeing([.. Bodies]);

    public ParameterValues Values => Model.Values;

    public ConcurrentDictionary<string, (Sketches.Sketch Sketch, Frame Plane)> Sketches { get; } = new(StringComparer.Ordinal);

    /// <summary>For every step that was built, a text that changes when what it gives does.</summary>
    public Dictionary<string, string> Prints { get; } = new(StringComparer.Ordinal);

    public ConcurrentDictionary<string, ImmutableArray<MaterialResult>> Material { get; } = new(StringComparer.Ordinal);

    public Dictionary<string, string> Missing { get; } = new(StringComparer.Ordinal);

    /// <summary>By the places of the steps.</summary>
    public StepResult[] Results { get; }

    /// <summary>In the order of the steps that began them.</summary>
    public ImmutableArray<FormBody> Bodies { get; private set; } = [];

    /// <summary>What was read as triangles, by step.</summary>
    public Dictionary<string, Meshes.ReferenceBody> References { get; } = new(StringComparer.Ordinal);

    /// <summary>The model as a step sees it, and the bodies that it sees as they stand before it.</summary>
    public (Model Model, ImmutableArray<FormBody> Bodies) At(int step)
    {
        ImmutableArray<FormBody> bodies = [.. Bodies.Where(b => Order.Sees(step, b.Name))];
        var model = Model.Seeing([.. bodies]);
        ImmutableArray<Meshes.ReferenceBody> references = [.. References.Values.Where(r => Order.PlaceOf(r.Name) < step)];
        if (!bodies.IsEmpty || !references.IsEmpty)
        {
            model.Section = plane =>
                Cut(kernel, bodies, references, plane)
                    .Map(cuts =>
                        cuts.Select(e => (e.Face, Curve: ShapeNumbers.CurveOf(e.Curve)))
                            .Where(e => e.Curve is not null)
                            .Select(e => new SectionCurve(e.Face, e.Curve!))
                            .ToImmutableArray()
                    );
        }

        return (model, bodies);
    }

    /// <summary>The bodies that a step sees, as they stand after it.</summary>
    public void Take(int step, ImmutableArray<FormBody> now)
    {
        Bodies = [.. Bodies.Where(b => !Order.Sees(step, b.Name)).Concat(now).OrderBy(b => Order.PlaceOf(b.Name))];
    }

    /// <summary>The values that a step's formulas read, for its content key.</summary>
    public IEnumerable<string> ValueTexts(Step step) =>
        step.NamesUsed()
            .Distinct()
            .Order(StringComparer.Ordinal)
            .Select(name => Values.Of(name) is { Done: true } v ? $"{name}={v.Value.Value:R}" : $"{name}=?");

    /// <summary>The curves where bodies meet a plane, with the faces that they lie on.</summary>
    public static Outcome<ImmutableArray<FaceCurve>> Cut(
        ISolidKernel kernel,
        ImmutableArray<FormBody> bodies,
        IEnumerable<Meshes.ReferenceBody> references,
        Frame plane
    )
    {
        var all = ImmutableArray.CreateBuilder<FaceCurve>();
        foreach (var body in bodies)
        {
            var cut = kernel.Section(body.Solid, plane);
            if (!cut.Done)
            {
                return cut.Refusal!;
            }

            all.AddRange(cut.Value.Select(e => new FaceCurve(body.Names.Faces[e.Face], e.Curve)));
        }

        all.AddRange(references.SelectMany(r => r.Section(plane)));
        return all.ToImmutable();
    }
}
