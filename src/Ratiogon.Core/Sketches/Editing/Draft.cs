namespace Ratiogon.Core.Sketches.Editing;

/// <summary>Collects a change of a sketch under new ids: what is added, and constraints that are only inferred.</summary>
public sealed class Draft(Sketch sketch)
{
    private readonly HashSet<string> taken = sketch.UsedIds();
    private readonly Dictionary<string, Vec2> places = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> last = new(StringComparer.Ordinal);
    private readonly List<SketchEntity> fresh = [];
    private SketchEdit edit = new();

    public Sketch Sketch => sketch;

    public SketchEdit Edit => Whole();

    public string NewId(string stem)
    {
        // Ids before the last that was given are taken: drawings of thousands of curves do not try them all again.
        var (id, n) = Ids.Next(stem, taken, last.GetValueOrDefault(stem) + 1);
        last[stem] = n;
        return id;
    }

    public void Add(params SketchEntity[] entities)
    {
        foreach (var point in entities.OfType<PointEntity>())
        {
            places[point.Id] = point.At;
        }

        fresh.AddRange(entities);
    }

    /// <summary>Adds a whole shape.</summary>
    public void Add(SketchEdit shape)
    {
        foreach (var point in shape.Add.OfType<PointEntity>())
        {
            places[point.Id] = point.At;
        }

        edit = Whole().With(shape);
    }

    /// <summary>Where a point of the sketch or of this draft is.</summary>
    public Vec2 At(string point) => places.TryGetValue(point, out var at) ? at : sketch.At(point);

    /// <summary>A new point on its own.</summary>
    public string NewPoint(Vec2 at, bool construction = false)
    {
        var id = NewId("p");
        Add(new PointEntity(id, at) { Construction = construction });
        return id;
    }

    /// <summary>A tie that is left out where it would say nothing new.</summary>
    public void Infer(string kind, params string[] of)
    {
        var id = NewId("k");
        edit = edit with { Tie = edit.Tie.Add(new SketchConstraint(id, kind, [.. of])), Inferred = edit.Inferred.Add(id) };
    }

    public string Tie(string kind, params string[] of)
    {
        var id = NewId("k");
        edit = edit with { Tie = edit.Tie.Add(new SketchConstraint(id, kind, [.. of])) };
        return id;
    }

    public string Size(string kind, string value, params string[] of)
    {
        var id = NewId("d");
        edit = edit with { Size = edit.Size.Add(new SketchDimension(id, kind, [.. of], value)) };
        return id;
    }

    /// <summary>An entity of the sketch as this draft has it so far.</summary>
    public SketchEntity Latest(SketchEntity entity) => edit.Replace.LastOrDefault(e => e.Id == entity.Id) ?? entity;

    /// <summary>Draws an entity of the sketch anew, once however often it is changed.</summary>
    public void Redraw(SketchEntity entity) => edit = edit with { Replace = edit.Replace.RemoveAll(e => e.Id == entity.Id).Add(entity) };

    /// <summary>A dimension as this draft has it so far.</summary>
    public SketchDimension Latest(SketchDimension dimension) => edit.Size.LastOrDefault(d => d.Id == dimension.Id) ?? dimension;

    /// <summary>Writes a dimension of the sketch anew, once however often it is changed.</summary>
    public void Resize(SketchDimension dimension) =>
        edit = edit with { Size = edit.Size.RemoveAll(d => d.Id == dimension.Id).Add(dimension) };

    /// <summary>Writes constraints of the sketch anew, each once however often it is changed.</summary>
    /// <param name="ids">Which.</param>
    /// <param name="change">What becomes of each, as this draft has it so far.</param>
    public void Retie(IReadOnlySet<string> ids, Func<SketchConstraint, SketchConstraint> change)
    {
        var latest = edit.Retie.ToDictionary(c => c.Id);
        edit = edit with
        {
            Retie =
            [
                .. edit.Retie.RemoveAll(c => ids.Contains(c.Id)),
                .. sketch.Constraints.Where(c => ids.Contains(c.Id)).Select(c => change(latest.GetValueOrDefault(c.Id, c))),
            ],
        };
    }

    public void Change(Func<SketchEdit, SketchEdit> change) => edit = change(Whole());

    private SketchEdit Whole()
    {
        if (fresh.Count > 0)
        {
            edit = edit with { Add = edit.Add.AddRange(fresh) };
            fresh.Clear();
        }

        return edit;
    }
}
