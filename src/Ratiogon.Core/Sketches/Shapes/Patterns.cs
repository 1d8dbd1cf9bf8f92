using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Editing;

namespace Ratiogon.Core.Sketches.Shapes;

/// <summary>Patterns: the picked entities again and again, in rows or about a point. One rule makes every copy follow the
/// original; the number is a formula and can be changed afterwards.</summary>
public static class Patterns
{
    /// <summary>In degrees: a ring this near to a whole turn is one.</summary>
    private const double WholeRing = 1e-6;

    public const int Most = 1000;

    /// <summary>Copies about a point.</summary>
    /// <param name="id">Of the pattern.</param>
    /// <param name="sketch">Where the originals are.</param>
    /// <param name="of">The originals, points first.</param>
    /// <param name="centre">A point.</param>
    /// <param name="count">How many instances, the original among them.</param>
    /// <param name="step">Degrees from one to the next.</param>
    /// <param name="formula">The formula of the number.</param>
    public static SketchEdit Ring(
        string id,
        Sketch sketch,
        ImmutableArray<SketchEntity> of,
        string centre,
        int count,
        double step,
        string formula
    )
    {
        ArgumentNullException.ThrowIfNull(sketch);
        var originals = of.RemoveAll(e => e.Id == centre);
        var (add, rule) = Turned(new Members(id, originals), centre, sketch.At(centre), count, step);
        return new SketchEdit
        {
            Add = add,
            Tie = [rule],
            Shapes = [new SketchShape(id, "ring") { Count = formula }],
        };
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
    public static SketchEdit Grid(
        string id,
        ImmutableArray<SketchEntity> of,
        int columns,
        Vec2 across,
        int rows,
        Vec2 up,
        string count,
        string rowCount
    )
    {
        var (add, rule) = Rows(new Members(id, of), columns, across, rows, up);
        return new SketchEdit
        {
            Add = add,
            Tie = [rule],
            Shapes = [new SketchShape(id, "grid") { Count = count, Rows = rows > 1 ? rowCount : null }],
        };
    }

    /// <summary>The id of a copy: the pattern's, the number of the instance, the place in the list of originals.</summary>
    public static string CopyId(string pattern, int instance, int index) => $"{pattern}.{instance}.{index}";

    /// <summary>The same pattern with other numbers; instances that are left out stay left out.</summary>
    internal static Sketch WithCounts(Sketch sketch, SketchShape shape, int columns, int rows)
    {
        var rule = sketch.Constraints.First(c => c.Id == $"{shape.Id}.copies");
        var turned = rule.Kind == "turned-copies";
        if (!turned && Math.Max(1, rule.Columns) != columns && rows > 1)
        {
            // Instances are numbered row by row, so another number of columns gives them other numbers.
            sketch = Renumbered(sketch, rule, shape.Id, Math.Max(1, rule.Columns), columns);
            rule = sketch.Constraints.First(c => c.Id == rule.Id);
        }

        var head = turned ? 1 : 0;
        var originals = rule.Of.Skip(head).Take(rule.Each).Select(o => sketch.Find(o)!).ToImmutableArray();
        var members = new Members(
            shape.Id,
            originals,
            [.. rule.Of.Skip(head + rule.Each).Take(rule.Each).Select(copy => copy[(copy.LastIndexOf('.') + 1)..])],
            rule
        );
        ImmutableArray<SketchEntity> add;
        SketchConstraint next;
        if (turned)
        {
            var had = Instances.Numbers(rule, head).Last() + 1;
            while (rule.Leaves(had))
            {
                had++;
            }

            // What filled the circle goes on filling it.
            var full = Math.Abs(Math.Abs(rule.Step * had) - 360) < WholeRing;
            (add, next) = Turned(
                members,
                rule.Of[0],
                sketch.At(rule.Of[0]),
                columns,
                full ? Math.CopySign(360.0 / columns, rule.Step) : rule.Step
            );
        }
        else
        {
            var (across, up) = StepsOf(sketch, rule);
            (add, next) = Rows(members, columns, across, rows, up);
        }

        var wanted = add.Select(e => e.Id).ToHashSet(StringComparer.Ordinal);
        var bare = sketch with { Constraints = sketch.Constraints.Remove(rule) };
        var kept = Removal.Without(bare, [.. rule.Of.Skip(head + rule.Each).Where(id => !wanted.Contains(id))]);

        // Copies that stay go straight to their new places: the solver need not find the way.
        var made = add.ToDictionary(e => e.Id);
        var placed = kept.Entities.Select(e => made.Remove(e.Id, out var now) ? now with { Construction = e.Construction } : e).ToList();
        return kept with
        {
            Entities = [.. placed, .. add.Where(e => made.ContainsKey(e.Id))],
            Constraints = kept.Constraints.Add(next),
            Shapes = sketch.Shapes,
        };
    }

    /// <summary>The steps of a grid as drawn; a direction in which there is one instance only has none.</summary>
    private static (Vec2 Across, Vec2 Up) StepsOf(Sketch sketch, SketchConstraint rule)
    {
        var columns = Math.Max(1, rule.Columns);
        Vec2 Place(int index) => sketch.At(LinearCopies.Lead(sketch.Find(rule.Of[index * rule.Each])!));
        var lead = Place(0);
        var copies = Instances.Numbers(rule, 0).Select((n, index) => (I: n % columns, J: n / columns, index)).Skip(1).ToList();
        var (first, second) = (copies[0], copies.Find(c => (copies[0].I * c.J) - (copies[0].J * c.I) != 0));
        var a = Place(first.index) - lead;
        if (second == default)
        {
            return (first.I != 0 ? a / first.I : Vec2.Zero, first.J != 0 ? a / first.J : Vec2.Zero);
        }

        var b = Place(second.index) - lead;
        double determinant = (first.I * second.J) - (first.J * second.I);
        return (((a * second.J) - (b * first.J)) / determinant, ((b * first.I) - (a * second.I)) / determinant);
    }

    private static Sketch Renumbered(Sketch sketch, SketchConstraint rule, string id, int from, int to)
    {
        var names = new Dictionary<string, string>(StringComparer.Ordinal);
        int? Number(int n) => n % from < to ? ((n / from) * to) + (n % from) : null;
        foreach (var entity in sketch.Entities.Where(e => e.Id.StartsWith(id + ".", StringComparison.Ordinal)))
        {
            var parts = entity.Id[(id.Length + 1)..].Split('.');
            if (parts.Length == 2 && int.TryParse(parts[0], out var n))
            {
                names[entity.Id] = $"{id}.{(Number(n) is { } number ? $"{number}" : $"x{n}")}.{parts[1]}";
            }
        }

        var renamed = Renaming.Of(sketch, names);
        ImmutableArray<int> left = rule.Out.IsDefault ? default : [.. rule.Out.Select(Number).OfType<int>().Order()];
        return renamed with { Constraints = [.. renamed.Constraints.Select(c => c.Id == rule.Id ? c with { Out = left } : c)] };
    }

    /// <summary>What is repeated: the originals, what their copies' ids end with, and the rule so far.</summary>
    private sealed record Members(
        string Id,
        ImmutableArray<SketchEntity> Originals,
        ImmutableArray<string> Suffixes,
        SketchConstraint? Rule = null
    )
    {
        public Members(string id, ImmutableArray<SketchEntity> originals)
            : this(id, originals, [.. originals.Select((_, k) => $"{k}")]) { }

        public string Copy(int instance, int k) => $"{Id}.{instance}.{Suffixes[k]}";

        /// <summary>The numbers of the copies among so many instances.</summary>
        public IEnumerable<int> Copies(int count) => Enumerable.Range(1, Math.Max(0, count - 1)).Where(n => Rule?.Leaves(n) != true);

        public ImmutableArray<SketchEntity> Instance(int n, Func<Vec2, Vec2> move)
        {
            var names = Originals.Select((e, k) => (e.Id, Copy: Copy(n, k))).ToDictionary(p => p.Id, p => p.Copy, StringComparer.Ordinal);
            return Copying.Of(Originals, e => names.GetValueOrDefault(e, e), move);
        }

        public IEnumerable<string> Names(int count) =>
            Originals
                .Select(e => e.Id)
                .Concat(Copies(count).SelectMany(n => Enumerable.Range(0, Originals.Length).Select(k => Copy(n, k))));
    }

    private static (ImmutableArray<SketchEntity> Add, SketchConstraint Rule) Turned(
        Members members,
        string centre,
        Vec2 about,
        int count,
        double step
    )
    {
        var add = ImmutableArray.CreateBuilder<SketchEntity>();
        foreach (var n in members.Copies(count))
        {
            var (sin, cos) = Math.SinCos(n * step * Math.PI / 180);
            add.AddRange(
                members.Instance(n, p =>
                    about + new Vec2(((p.X - about.X) * cos) - ((p.Y - about.Y) * sin), ((p.X - about.X) * sin) + ((p.Y - about.Y) * cos))
                )
            );
        }

        return (
            add.ToImmutable(),
            new SketchConstraint($"{members.Id}.copies", "turned-copies", [centre, .. members.Names(count)])
            {
                Each = members.Originals.Length,
                Step = step,
                Out = members.Rule?.Out ?? default,
            }
        );
    }

    private static (ImmutableArray<SketchEntity> Add, SketchConstraint Rule) Rows(
        Members members,
        int columns,
        Vec2 across,
        int rows,
        Vec2 up
    )
    {
        var add = ImmutableArray.CreateBuilder<SketchEntity>();
        foreach (var n in members.Copies(columns * rows))
        {
            var shift = (across * (n % columns)) + (up * (n / columns));
            add.AddRange(members.Instance(n, p => p + shift));
        }

        return (
            add.ToImmutable(),
            new SketchConstraint($"{members.Id}.copies", "linear-copies", [.. members.Names(columns * rows)])
            {
                Each = members.Originals.Length,
                Columns = columns,
                Out = members.Rule?.Out ?? default,
            }
        );
    }
}
