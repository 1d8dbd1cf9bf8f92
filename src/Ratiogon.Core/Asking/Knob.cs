using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Core.Asking;

/// <summary>How numbers of one kind are shown: a number in the core's unit times <see cref="Scale"/> has this unit.</summary>
/// <param name="Scale">For example 1/25.4 for inches.</param>
/// <param name="Unit">For example <c>in</c>; empty for a plain number.</param>
public sealed record Measure(double Scale, string Unit)
{
    public static Measure Of(Dimension kind, LengthUnit unit)
    {
        var inch = unit == LengthUnit.Inch && kind is { Length: >= 1 and <= 3, Angle: 0, Mass: 0 };
        return kind == Dimension.OfAngle
            ? new Measure(180 / Math.PI, "deg")
            : new Measure(
                inch ? Math.Pow(25.4, -kind.Length) : 1,
                inch
                    ? kind.Length switch
                    {
                        2 => "in²",
                        3 => "in³",
                        _ => "in",
                    }
                    : kind.Unit.Replace("^2", "²", StringComparison.Ordinal).Replace("^3", "³", StringComparison.Ordinal)
            );
    }

    /// <summary>A value with its unit, to six digits.</summary>
    public string Show(double value) => $"{(value * Scale).ToString("G6", CultureInfo.InvariantCulture)} {Unit}".Trim();
}

/// <summary>Something that can be turned: a parameter, or a size of a step, that is a number of its own.</summary>
/// <param name="Step">Id of the step that has the size; empty for a parameter.</param>
/// <param name="Name">The parameter's name, or the size's field.</param>
/// <param name="Words">As people call it.</param>
/// <param name="Value">What it is now.</param>
public sealed record Knob(string Step, string Name, string Words, Quantity Value)
{
    /// <summary>A range that nobody gave goes to this much less and more.</summary>
    private const double Assumed = 10;

    /// <summary>The least it may be, in mm, rad or as a number; null for no bound.</summary>
    public double? Least { get; init; }

    /// <summary>The most it may be.</summary>
    public double? Most { get; init; }

    /// <summary><see cref="Least"/>, or minus infinity.</summary>
    [JsonIgnore]
    public double Floor => Least ?? double.NegativeInfinity;

    /// <summary><see cref="Most"/>, or infinity.</summary>
    [JsonIgnore]
    public double Ceiling => Most ?? double.PositiveInfinity;

    /// <summary>What it goes by; null for anything in between.</summary>
    public double? Stride { get; init; }

    /// <summary>Whether somebody gave both ends of its range.</summary>
    [JsonIgnore]
    public bool Ranged => Least is not null && Most is not null;

    /// <summary>Its range, with assumed ends where none are given: a tenth and ten times of what it is.</summary>
    [JsonIgnore]
    public Bounds Span
    {
        get
        {
            var value = Value.Value;
            var (low, high) =
                value == 0 ? (-Assumed, Assumed)
                : value > 0 ? (value / Assumed, value * Assumed)
                : (value * Assumed, value / Assumed);
            return new Bounds(Least ?? Math.Min(low, Ceiling), Most ?? Math.Max(high, Floor));
        }
    }

    /// <summary>All of a part that are numbers of their own; what is a formula of others moves with those.</summary>
    public static IReadOnlyList<Knob> All(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        var found = new List<Knob>();
        foreach (var parameter in part.Parameters)
        {
            if (Plain(parameter.Value) is { } value)
            {
                var (least, most) = parameter.Range;
                found.Add(
                    new Knob("", parameter.Name, parameter.Name, value)
                    {
                        Least = double.IsFinite(least) ? least : null,
                        Most = double.IsFinite(most) ? most : null,
                        Stride = parameter.StrideValue ?? (IsCount(value) ? 1 : null),
                    }
                );
            }
        }

        foreach (var step in part.Steps.Where(s => !part.Leaves(s) && s is not Gauging.ReadingStep))
        {
            foreach (var size in step.Sizes)
            {
                if (Plain(size.Formula) is { } value)
                {
                    found.Add(
                        new Knob(step.Id, size.Field, $"{size.Field} of {step.Name}", value)
                        {
                            Least = size.MayBeNegative ? null : 0,
                            Stride = IsCount(value) ? 1 : null,
                        }
                    );
                }
            }
        }

        return found;
    }

    /// <summary>The one that a text names: a parameter, or a size as <c>step/field</c> or in words.</summary>
    public static Outcome<Knob> Find(Part part, string name)
    {
        ArgumentNullException.ThrowIfNull(part);
        name = (name ?? "").Trim();
        var all = All(part);
        if (all.FirstOrDefault(k => (k.Step.Length == 0 ? k.Name : $"{k.Step}/{k.Name}") == name || k.Words == name) is { } knob)
        {
            return knob;
        }

        return part.Parameters.Any(p => p.Name == name)
            ? new Refusal("ask.formula", $"'{name}' is a formula of others: turn those.", name)
            : new Refusal(
                "ask.no-knob",
                $"There is no parameter or size '{Ids.Shorten(name)}' that is a number of its own."
                    + (
                        part.Parameters.IsEmpty
                            ? ""
                            : $" Parameters: {string.Join(", ", all.Where(k => k.Step.Length == 0).Select(k => k.Name))}."
                    ),
                name
            );
    }

    /// <summary>The part with this at a value, in the core's unit. Sketches are solved by the rebuild.</summary>
    public Part At(Part part, double value)
    {
        ArgumentNullException.ThrowIfNull(part);
        return WithText(part, Text(value));
    }

    /// <summary>A value as a formula.</summary>
    public string Text(double value)
    {
        var kind = Value.Dimension;
        var number = value.ToString("R", CultureInfo.InvariantCulture);
        return kind == Dimension.OfLength ? $"{number} mm"
            : kind == Dimension.OfAngle ? $"{(value * 180 / Math.PI).ToString("R", CultureInfo.InvariantCulture)} deg"
            : kind == Dimension.OfMass ? $"{number} g"
            : number;
    }

    /// <summary>The nearest value that its stride allows, within its range.</summary>
    public double Snapped(double value)
    {
        if (Stride is { } stride)
        {
            var from = Least ?? 0;
            value = from + (Math.Round((value - from) / stride) * stride);
        }

        return Math.Clamp(value, Floor, Ceiling);
    }

    /// <summary>The part with a formula in its place.</summary>
    internal Part WithText(Part part, string text) =>
        Step.Length == 0 ? part with { Parameters = [.. part.Parameters.Select(p => p.Name == Name ? p with { Value = text } : p)] }
        : part.Find(Step) is { } step ? part.With(step.WithSize(Name, text))
        : part;

    /// <summary>Whether a value is a number of pieces: it goes up and down by one.</summary>
    internal static bool IsCount(Quantity value) => value.Dimension == Dimension.None && value.Value == Math.Round(value.Value);

    internal static Quantity? Plain(string formula) =>
        Formula.Parse(formula) is { Done: true, Value: var parsed }
        && !parsed.Names.Any()
        && parsed.Evaluate(_ => new Refusal("", "")) is { Done: true } q
            ? q.Value
            : null;
}

/// <summary>A reading of a part that is asked about, and what is enough of the part to take it.</summary>
/// <param name="Step">The reading.</param>
/// <param name="Part">The part without what the reading does not see.</param>
/// <param name="Kind">What it measures.</param>
public sealed record AskedReading(Gauging.ReadingStep Step, Part Part, Dimension Kind)
{
    /// <summary>Whether it stands on sketches, datums and curves alone: <see cref="Part"/> has nothing else.</summary>
    public bool Flat { get; private init; }

    /// <summary>Ids of steps that fail as the part is: they are no news.</summary>
    private ImmutableHashSet<string> Standing { get; init; } = [];

    /// <summary>The reading of an id or name, or why there is none.</summary>
    /// <param name="part">The part.</param>
    /// <param name="reading">Id or name.</param>
    /// <param name="build">Builds it, to see what fails as it is.</param>
    public static Outcome<AskedReading> Of(Part part, string reading, Func<Part, Building.RebuildResult> build)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(build);
        if (part.Steps.OfType<Gauging.ReadingStep>().FirstOrDefault(r => r.Id == reading || r.Name == reading) is not { } step)
        {
            var there = part.Steps.OfType<Gauging.ReadingStep>().Select(r => r.Name).ToList();
            return new Refusal(
                "ask.no-reading",
                $"There is no reading '{Ids.Shorten(reading ?? "")}'."
                    + (
                        there.Count == 0
                            ? " The part has none: keep a measurement as a reading first."
                            : $" There are: {string.Join(", ", there)}."
                    ),
                "reading"
            );
        }

        if (Gauging.ReadingCatalog.Find(step.What) is not { Kind: var kind })
        {
            return new Refusal("ask.no-reading", $"{step.Name} cannot be taken.", "reading");
        }

        var (enough, flat) = Enough(part, step);
        return new AskedReading(step, enough, kind)
        {
            Flat = flat,
            Standing = [.. build(enough).Steps.Where(s => s.State == Building.StepState.Failed).Select(s => s.Id)],
        };
    }

    /// <summary>What the reading reads in a part that was built, or why nothing. Where a step fails that did not, the rest is not what
    /// was meant, and reads nothing.</summary>
    public Outcome<double> In(Building.RebuildResult built)
    {
        ArgumentNullException.ThrowIfNull(built);
        if (built.Steps.FirstOrDefault(s => s.State == Building.StepState.Failed && !Standing.Contains(s.Id)) is { } failed)
        {
            return new Refusal("ask.failing", $"{Part.Find(failed.Id)?.Name}: {failed.Message}");
        }

        return built.Step(Step.Id) switch
        {
            { Reading: { } value } => value,
            { } failing => new Refusal("ask.failing", $"{Step.Name} reads nothing: {failing.Message}"),
            null => new Refusal("ask.failing", $"{Step.Name} is not built."),
        };
    }

    /// <summary>Its limits in the core's unit, as far as it has any.</summary>
    public AskedLimits Limits
    {
        get
        {
            double? Value(string? formula) =>
                string.IsNullOrWhiteSpace(formula) ? null
                : Formula.Parse(formula).Then(f => f.Evaluate(Part.Values.Of)) is { Done: true } v ? v.Value.Value
                : null;
            return new AskedLimits(Value(Step.Least), Value(Step.Most));
        }
    }

    /// <summary>Steps after it, and readings that nothing here uses, are not seen by it; where it stands on sketches and datums alone,
    /// neither are forms.</summary>
    private static (Part Part, bool Flat) Enough(Part part, Gauging.ReadingStep reading)
    {
        var (needed, open) = (new HashSet<string>(StringComparer.Ordinal), new Queue<Step>([reading]));
        while (open.TryDequeue(out var step))
        {
            if (!needed.Add(step.Id))
            {
                continue;
            }

            foreach (var below in step.References.Select(World.StepOf).Select(part.Find).OfType<Step>())
            {
                open.Enqueue(below);
            }

            foreach (var named in part.Steps.Where(s => s.ValueName is { } name && step.NamesUsed().Contains(name)))
            {
                open.Enqueue(named);
            }
        }

        // A formula of a parameter may use a reading as well.
        var names = part
            .Parameters.SelectMany(p => Formula.Parse(p.Value) is { Done: true } f ? f.Value.Names : [])
            .ToHashSet(StringComparer.Ordinal);
        var flat =
            reading.Of.Length > 0
            && !part.Steps.Any(s => s.ValueName is { } v && names.Contains(v))
            && part.Steps.Where(s => needed.Contains(s.Id)).All(s => s is SketchStep or DatumStep or CurveStep or Gauging.ReadingStep);
        bool Sees(Step s) =>
            flat
                ? needed.Contains(s.Id)
                : s.Number <= reading.Number
                    && (
                        s is not Gauging.ReadingStep r || needed.Contains(r.Id) || UsedIn(part, r, reading.Number) || names.Contains(r.Name)
                    );
        return (part with { Steps = [.. part.Steps.Where(Sees)] }, flat);
    }

    private static bool UsedIn(Part part, Gauging.ReadingStep reading, int until) =>
        reading.ValueName is { } name && part.Steps.Any(s => s.Number <= until && s.NamesUsed().Contains(name));
}

/// <summary>Several that build side by side, each with what it has built before.</summary>
public sealed class Builders(ImmutableArray<Func<Part, Building.RebuildResult>> each)
{
    public int Count => each.Length;

    /// <summary>Builds with the first.</summary>
    public Building.RebuildResult Build(Part part) => each[0](part);

    /// <summary>Does many things, each with one builder that nobody else uses meanwhile.</summary>
    /// <param name="count">How many.</param>
    /// <param name="work">Given its number and a builder; numbers come about in order, but may be done in another.</param>
    /// <param name="cancel">Begins no more.</param>
    public void Run(int count, Action<int, Func<Part, Building.RebuildResult>> work, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(work);
        var next = -1;
        Parallel.For(0, each.Length, new ParallelOptions { MaxDegreeOfParallelism = each.Length }, who =>
        {
            while (!cancel.IsCancellationRequested && Interlocked.Increment(ref next) is var i && i < count)
            {
                work(i, each[who]);
            }
        });
    }
}

/// <summary>Between what a reading is to lie; null where nothing bounds it.</summary>
/// <param name="Least">The least.</param>
/// <param name="Most">The most.</param>
public readonly record struct AskedLimits(double? Least, double? Most);
