using System.Collections.Immutable;
using Ratiogon.Core.Sketches.Constraints;
using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Solving;

/// <summary>The compiled systems of the sketches that were last solved or counted: a changed size then compiles nothing. Kept by the
/// entities and rules themselves, which never change; where any is another one, all is written anew.</summary>
internal static class KeptWriters
{
    private const int Most = 256;

    /// <summary>The most raw unknowns in all that is kept: some 50 MB.</summary>
    private const int MostUnknowns = 150_000;

    private static readonly Lock Gate = new();
    private static readonly LinkedList<SystemWriter> Kept = [];
    private static int unknowns;

    /// <summary>What is kept of a sketch with these entities at these places, these rules and these sizes of any values.</summary>
    public static SystemWriter? Find(Sketch sketch)
    {
        lock (Gate)
        {
            for (var node = Kept.First; node is not null; node = node.Next)
            {
                if (
                    Same(node.Value.Sketch.Entities, sketch.Entities)
                    && Same(node.Value.Sketch.Constraints, sketch.Constraints)
                    && SameSizes(node.Value.Sketch.Dimensions, sketch.Dimensions)
                )
                {
                    Kept.Remove(node);
                    Kept.AddFirst(node);
                    return node.Value;
                }
            }

            return null;
        }
    }

    /// <summary>Keeps one, and forgets those that were not asked for longest.</summary>
    public static void Keep(SystemWriter writer)
    {
        lock (Gate)
        {
            Kept.AddFirst(writer);
            unknowns += writer.Start.Length;
            while (Kept.Count > 1 && (Kept.Count > Most || unknowns > MostUnknowns))
            {
                unknowns -= Kept.Last!.Value.Start.Length;
                Kept.RemoveLast();
            }
        }
    }

    private static bool Same<T>(ImmutableArray<T> a, ImmutableArray<T> b)
        where T : class
    {
        if (a == b || a.Length != b.Length)
        {
            return a == b;
        }

        for (var i = 0; i < a.Length; i++)
        {
            if (!ReferenceEquals(a[i], b[i]))
            {
                return false;
            }
        }

        return true;
    }

    private static bool SameSizes(ImmutableArray<SketchDimension> a, ImmutableArray<SketchDimension> b)
    {
        if (a == b || a.Length != b.Length)
        {
            return a == b;
        }

        for (var i = 0; i < a.Length; i++)
        {
            var (x, y) = (a[i], b[i]);
            if (
                !ReferenceEquals(x, y)
                && !(x.Id == y.Id && x.Kind == y.Kind && x.Driving == y.Driving && x.Of.AsSpan().SequenceEqual(y.Of.AsSpan()))
            )
            {
                return false;
            }
        }

        return true;
    }
}
