using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketching.Editing;

namespace Ratiogon.Core.Sketching;

/// <summary>Patterns: the picked entities again and again, in rows or about a point. One rule makes every copy follow the
/// original; the number is a formula and can be changed afterwards.</summary>
public static class Patterns
{
    public const int Most = 1000;

    /// <summary>Copies about a point.</summary>
    /// <param name="id">Of the pattern.</param>
    /// <param name="sketch">Where the originals are.</param>
    /// <param name="of">The originals, points first.</param>
    /// <param name="centre">A point.</param>
    /// <param name="count">How many instances, the original among them.</param>
    /// <param name="step">Degrees from one to the next.</param>
    /// <param name="formula">The formula of the number.</param>
    public static SketchEdit Ring(string id, Sketch sketch, ImmutableArray<SketchEntity> of, string centre, int count, double step, string formula)
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var originals = of.RemoveAll(e => e.Id == centre);
        var (add, rule) = Turned(id, originals, centre, sketch.At(centre), count, step);
        return new SketchEdit { Add = add, Tie = [rule], Shapes = [new SketchShape(id, "ring") { Count = formula }] };
    }

    /// <summary>Copies in rows and columns.</summary>
    /// <param name="id">Of the pattern.</param>
    /// <param name="of">The originals, points first.</param>
    /// <param name="columns">How many along the first direction.</param>
    /// <param name="across">The step along it, in millimetres.</param>
    /// <param name="rows">How many along the second; 1 for a single row.</param>
    /// <param name="up">The step along that.</param>
    /// <param name="count">The formula of the columns.</param>
    /// <param name="rowCount">The formula of the rows.</param>
    public static SketchEdit Grid(string id, ImmutableArray<SketchEntity> of, int columns, Vec2 across, int rows, Vec2 up, string count, string rowCount)
    {
        var (add, rule) = Rows(id, of, columns, across, rows, up);
        return new SketchEdit { Add = add, Tie = [rule], Shapes = [new SketchShape(id, "grid") { Count = count, Rows = rows > 1 ? rowCount : null }] };
    }

    /// <summary>The id of a copy: the pattern's, the number of the instance, the place in the list of originals.</summary>
    public static string CopyId(string pattern, int instance, int index) => $"{pattern}.{instance}.{index}";

    /// <summary>The same pattern with other numbers.</summary>
    internal static Sketch WithCounts(Sketch sketch, SketchShape shape, int columns, int rows)
    {
        var rule = sketch.Constraints.First(c => c.Id == $"{shape.Id}.copies");
        var turned = rule.Kind == "turned-copies";
        var head = turned ? 1 : 0;
        var originals = rule.Of.Skip(head).Take(rule.Each).Select(o => sketch.Find(o)!).ToImmutableArray();
        ImmutableArray<SketchEntity> add;
        SketchConstraint next;
        if (turned)
        {
            var had = (rule.Of.Length - 1) / rule.Each;
            var full = Math.Abs((rule.Step * had) - 360) < 1e-6;
            (add, next) = Turned(shape.Id, originals, rule.Of[0], sketch.At(rule.Of[0]), columns, full ? 360.0 / columns : rule.Step);
        }
        else
        {
            var lead = sketch.At(LinearCopies.Lead(originals[0]));
            Vec2 Step(int instance) => sketch.Find(rule.Of.ElementAtOrDefault(instance * rule.Each) ?? "") is { } e ? sketch.At(LinearCopies.Lead(e)) - lead : default;
            var hadColumns = Math.Max(1, rule.Columns);
            (add, next) = Rows(shape.Id, originals, columns, Step(1), rows, Step(hadColumns));

            // Instances are numbered row by row, so another number of columns gives them other numbers.
            if (hadColumns != columns && rows > 1)
            {
                sketch = Renumbered(sketch, shape.Id, rule.Each, hadColumns, columns);
                rule = sketch.Constraints.First(c => c.Id == rule.Id);
            }
        }

        var wanted = add.Select(e => e.Id).ToHashSet(StringComparer.Ordinal);
        var bare = sketch with { Constraints = sketch.Constraints.Remove(rule) };
        var gone = bare.Entities.Where(e => IsCopy(shape.Id, e.Id) && !wanted.Contains(e.Id)).Select(e => e.Id).ToImmutableArray();
        var kept = Removal.Without(bare, gone);

        // Copies that stay go straight to their new places: the solver need not find the way.
        var made = add.ToDictionary(e => e.Id);
        var placed = kept.Entities.Select(e => made.Remove(e.Id, out var now) ? now with { Construction = e.Construction } : e).ToList();
        return kept with { Entities = [.. placed, .. add.Where(e => made.ContainsKey(e.Id))], Constraints = kept.Constraints.Add(next), Shapes = sketch.Shapes };
    }

    private static bool IsCopy(string pattern, string id) =>
        id.StartsWith(pattern + ".", StringComparison.Ordinal) && id[(pattern.Length + 1)..].Split('.') is [var n, var k] && n.TrimStart('x').All(char.IsAsciiDigit) && k.All(char.IsAsciiDigit);

    private static Sketch Renumbered(Sketch sketch, string id, int each, int from, int to)
    {
        var names = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var entity in sketch.Entities.Where(e => e.Id.StartsWith(id + ".", StringComparison.Ordinal)))
        {
            var parts = entity.Id[(id.Length + 1)..].Split('.');
            if (parts.Length == 2 && int.TryParse(parts[0], out var n) && int.TryParse(parts[1], out var k) && k < each)
            {
                var (column, row) = (n % from, n / from);
                names[entity.Id] = column < to ? CopyId(id, (row * to) + column, k) : $"{id}.x{n}.{k}";
            }
        }

        return Renaming.Of(sketch, names);
    }

    private static (ImmutableArray<SketchEntity> Add, SketchConstraint Rule) Turned(string id, ImmutableArray<SketchEntity> originals, string centre, Vec2 about, int count, double step)
    {
        var add = ImmutableArray.CreateBuilder<SketchEntity>();
        for (var n = 1; n < count; n++)
        {
            var (sin, cos) = Math.SinCos(n * step * Math.PI / 180);
            add.AddRange(Instance(id, originals, n, p => about + new Vec2(((p.X - about.X) * cos) - ((p.Y - about.Y) * sin), ((p.X - about.X) * sin) + ((p.Y - about.Y) * cos))));
        }

        return (add.ToImmutable(), new SketchConstraint($"{id}.copies", "turned-copies", [centre, .. originals.Select(e => e.Id), .. Names(id, originals.Length, count)]) { Each = originals.Length, Step = step });
    }

    private static (ImmutableArray<SketchEntity> Add, SketchConstraint Rule) Rows(string id, ImmutableArray<SketchEntity> originals, int columns, Vec2 across, int rows, Vec2 up)
    {
        var add = ImmutableArray.CreateBuilder<SketchEntity>();
        for (var n = 1; n < columns * rows; n++)
        {
            var shift = (across * (n % columns)) + (up * (n / columns));
            add.AddRange(Instance(id, originals, n, p => p + shift));
        }

        return (add.ToImmutable(), new SketchConstraint($"{id}.copies", "linear-copies", [.. originals.Select(e => e.Id), .. Names(id, originals.Length, columns * rows)]) { Each = originals.Length, Columns = columns });
    }

    private static IEnumerable<string> Names(string id, int each, int count) => Enumerable.Range(1, Math.Max(0, count - 1)).SelectMany(n => Enumerable.Range(0, each).Select(k => CopyId(id, n, k)));

    private static ImmutableArray<SketchEntity> Instance(string id, ImmutableArray<SketchEntity> originals, int n, Func<Vec2, Vec2> move)
    {
        var names = originals.Select((e, k) => (e.Id, Copy: CopyId(id, n, k))).ToDictionary(p => p.Id, p => p.Copy, StringComparer.Ordinal);
        return Copying.Of(originals, e => names.GetValueOrDefault(e, e), move);
    }
}
