using System.Collections.Concurrent;
using System.Collections.Immutable;
using Ratiogon.Core.Datums;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Building;

/// <summary>What references name, as the model stands: filled step by step while a part is built, or at once from a finished
/// rebuild. Nothing of it changes the part.</summary>
public sealed partial class Model : IModel
{
    private readonly ConcurrentDictionary<string, (Step Step, Frame Frame)> frames = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, Thing> curves = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, PlacedSketch> sketches = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, INamedBody> references = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Thing> known = new(StringComparer.Ordinal);
    private readonly ImmutableArray<INamedBody> bodies = [];
    private Wording? wording;

    /// <param name="part">Its steps lend their names to the words.</param>
    public Model(Part part) => (Part, Values) = (part, part.Values);

    private Model(Model of, ImmutableArray<INamedBody> bodies)
    {
        (Part, Values) = (of.Part, of.Values);
        (frames, curves, sketches, references) = (of.frames, of.curves, of.sketches, of.references);
        this.bodies = bodies;
    }

    public Part Part { get; }

    /// <summary>What names in formulas stand for: parameters, and readings once they are taken.</summary>
    public ParameterValues Values { get; private set; }

    /// <summary>Cuts the bodies with a plane, where that can be done.</summary>
    public Func<Frame, Outcome<ImmutableArray<SectionCurve>>>? Section { get; set; }

    /// <summary>The model after a finished rebuild.</summary>
    public static Model Of(Part part, RebuildResult built)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        var model = new Model(part).Seeing([.. built.Bodies]);
        built.References.ToList().ForEach(model.Add);

        foreach (var step in part.Steps)
        {
            if (built.Step(step.Id) is { State: StepState.Built } result)
            {
                if (step is SketchStep sketch && result.Frame is { } plane)
                {
                    model.Add(sketch, result.Followed() ?? sketch.Sketch, plane);
                }
                else if (step is ReadingStep reading && result.Reading is { } read && ReadingCatalog.Find(reading.What) is { } kind)
                {
                    model.Add(reading, new Quantity(read, kind.Kind));
                }
                else if (step is CurveStep curve)
                {
                    _ = model.Build(curve);
                }
                else if (result.Frame is { } frame)
                {
                    model.Add(step, frame);
                }
            }
        }

        return model;
    }

    /// <summary>The same model as far as one step sees it: its own bodies and the readings so far; what it names is named here
    /// too. Views may be used side by side.</summary>
    public Model Seeing(ImmutableArray<INamedBody> seen) => new(this, seen);

    /// <summary>Lets formulas use a reading from now on; a parameter of the same name comes first.</summary>
    public void Add(ReadingStep step, Outcome<Quantity> value)
    {
        ArgumentNullException.ThrowIfNull(step);
        if (step.Named && Part.Parameters.All(p => p.Name != step.Name))
        {
            Values = Values.With(step.Name, value);
        }
    }

    /// <summary>Names a plane, axis, point or frame.</summary>
    public void Add(Step step, Frame frame)
    {
        ArgumentNullException.ThrowIfNull(step);
        frames[step.Id] = (step, frame);
    }

    /// <summary>Names the faces, edges and points of a reference.</summary>
    public void Add(INamedBody reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        references[reference.Name] = reference;
    }

    /// <summary>Names a sketch with all its entities.</summary>
    public void Add(SketchStep step, Sketch sketch, Frame plane)
    {
        ArgumentNullException.ThrowIfNull(step);
        sketches[step.Id] = new PlacedSketch(step, sketch, plane);
    }

    /// <summary>A built sketch; null for anything else.</summary>
    public PlacedSketch? SketchOf(string id) => sketches.GetValueOrDefault(id);

    /// <summary>Whether there is a body of material.</summary>
    public bool HasBody => bodies.Any(b => b is not Meshes.ReferenceBody);

    /// <summary>The body of material that a reference names or names a part of; null for anything else, triangles of a file too.</summary>
    public string? BodyOf(string reference) =>
        bodies
            .FirstOrDefault(b => b is not Meshes.ReferenceBody && (World.IsBody(reference, b.Name) || b.Names.Find(reference) is not null))
            ?.Name;

    /// <summary>Every body, those of files too.</summary>
    internal IEnumerable<INamedBody> Named => bodies.Concat(references.Values);

    public string WordsOf(string reference) => Wording.Of(reference);

    public string InWords(string text) => Wording.In(text);

    /// <summary>What people call what references name.</summary>
    public Wording Wording => wording ??= new Wording(this);
}
