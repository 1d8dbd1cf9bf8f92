using System.Text;
using Ratiogon.Core;

namespace Ratiogon.Solids;

/// <summary>Looks a STEP file over before the library reads it, which goes astray where something that a body stands on is not there
/// or is of another kind: the syntax of the instances (ISO 10303-21, 2016, clauses 5 to 11), that what is referred to exists, and the
/// kinds of what points, curves, edges, faces and shells refer to (ISO 10303-42).</summary>
internal sealed class StepFile
{
    private static readonly string[] Points = ["CARTESIAN_POINT"],
        Directions = ["DIRECTION"],
        Vectors = ["VECTOR"],
        Places = ["AXIS2_PLACEMENT_3D", "AXIS2_PLACEMENT_2D"],
        Corners = ["VERTEX_POINT"],
        Edges = ["EDGE_CURVE", "SEAM_EDGE", "SUBEDGE", "EDGE"],
        Turned = ["ORIENTED_EDGE"],
        Loops = ["EDGE_LOOP", "VERTEX_LOOP", "POLY_LOOP"],
        Bounds = ["FACE_BOUND", "FACE_OUTER_BOUND"],
        Faces = ["ADVANCED_FACE", "FACE_SURFACE", "ORIENTED_FACE", "FACE", "SUBFACE"],
        Closed = ["CLOSED_SHELL", "ORIENTED_CLOSED_SHELL"],
        Curves =

        [
            "LINE",
            "CIRCLE",
            "ELLIPSE",
            "HYPERBOLA",
            "PARABOLA",
            "POLYLINE",
            "TRIMMED_CURVE",
            "COMPOSITE_CURVE",
            "B_SPLINE_CURVE_WITH_KNOTS",
            "BEZIER_CURVE",
            "UNIFORM_CURVE",
            "QUASI_UNIFORM_CURVE",
            "OFFSET_CURVE_2D",
            "PCURVE",
        ];

    /// <summary>For each kind how many parameters it has, and of which kinds are those that refer to something.</summary>
    private static readonly Dictionary<string, (int Count, (int At, string[] Kinds)[] Refer)> Rules = new(StringComparer.Ordinal)
    {
        ["CARTESIAN_POINT"] = (2, []),
        ["DIRECTION"] = (2, []),
        ["VECTOR"] = (3, [(1, Directions)]),
        ["AXIS1_PLACEMENT"] = (3, [(1, Points), (2, Directions)]),
        ["AXIS2_PLACEMENT_2D"] = (3, [(1, Points), (2, Directions)]),
        ["AXIS2_PLACEMENT_3D"] = (4, [(1, Points), (2, Directions), (3, Directions)]),
        ["LINE"] = (3, [(1, Points), (2, Vectors)]),
        ["CIRCLE"] = (3, [(1, Places)]),
        ["ELLIPSE"] = (4, [(1, Places)]),
        ["PLANE"] = (2, [(1, Places)]),
        ["CYLINDRICAL_SURFACE"] = (3, [(1, Places)]),
        ["CONICAL_SURFACE"] = (4, [(1, Places)]),
        ["SPHERICAL_SURFACE"] = (3, [(1, Places)]),
        ["TOROIDAL_SURFACE"] = (4, [(1, Places)]),
        ["SURFACE_OF_LINEAR_EXTRUSION"] = (3, [(2, Vectors)]),
        ["SURFACE_OF_REVOLUTION"] = (3, [(2, ["AXIS1_PLACEMENT"])]),
        ["B_SPLINE_CURVE_WITH_KNOTS"] = (9, [(2, Points)]),
        ["B_SPLINE_SURFACE_WITH_KNOTS"] = (13, [(3, Points)]),
        ["PCURVE"] = (3, [(2, ["DEFINITIONAL_REPRESENTATION"])]),
        ["DEFINITIONAL_REPRESENTATION"] = (3, [(1, Curves)]),
        ["SURFACE_CURVE"] = (4, []),
        ["SEAM_CURVE"] = (4, []),
        ["VERTEX_POINT"] = (2, [(1, Points)]),
        ["EDGE_CURVE"] = (5, [(1, Corners), (2, Corners)]),
        ["ORIENTED_EDGE"] = (5, [(3, Edges)]),
        ["EDGE_LOOP"] = (2, [(1, Turned)]),
        ["VERTEX_LOOP"] = (2, [(1, Corners)]),
        ["FACE_BOUND"] = (3, [(1, Loops)]),
        ["FACE_OUTER_BOUND"] = (3, [(1, Loops)]),
        ["ADVANCED_FACE"] = (4, [(1, Bounds)]),
        ["FACE_SURFACE"] = (4, [(1, Bounds)]),
        ["CLOSED_SHELL"] = (2, [(1, Faces)]),
        ["OPEN_SHELL"] = (2, [(1, Faces)]),
        ["ORIENTED_CLOSED_SHELL"] = (4, [(2, Closed)]),
        ["MANIFOLD_SOLID_BREP"] = (2, [(1, Closed)]),
        ["BREP_WITH_VOIDS"] = (3, [(1, Closed), (2, Closed)]),
    };

    private readonly byte[] file;
    private readonly Dictionary<int, Instance> instances = [];
    private readonly List<(int To, int Parameter)> references = [];
    private readonly Dictionary<string, string> kinds = new(StringComparer.Ordinal);
    private int at;

    private StepFile(byte[] file) => this.file = file;

    private readonly record struct Instance(string Kind, int Parameters, int FirstReference, int References, int Place);

    /// <summary>Why it cannot be read, or null.</summary>
    /// <param name="file">As it came.</param>
    /// <returns>With the instance or the line where it is wrong.</returns>
    public static Refusal? Check(byte[] file)
    {
        try
        {
            var step = new StepFile(file);
            step.Parse();
            return step.Wrong();
        }
        catch (Fault fault)
        {
            return Broken(fault.Message);
        }
    }

    private static Refusal Broken(string why) => new("import.step", $"The STEP file cannot be used: {why}.");

    private void Parse()
    {
        // Only the data sections hold instances; strings in the header may hold anything.
        var (inData, sections, ended) = (false, 0, false);
        while (Skip())
        {
            if (file[at] != '#')
            {
                var word = Word();
                if (word is "DATA")
                {
                    (inData, sections) = (true, sections + 1);
                }
                else if (word is "ENDSEC")
                {
                    inData = false;
                }
                else if (word.StartsWith("END-ISO", StringComparison.Ordinal))
                {
                    ended = true;
                }

                Statement();
                if (ended)
                {
                    break;
                }

                continue;
            }

            if (!inData)
            {
                throw At(at, "an instance stands outside the data");
            }

            One();
        }

        if (sections == 0)
        {
            throw new Fault("it holds no data");
        }

        if (!ended)
        {
            throw new Fault("its end is missing");
        }
    }

    private void One()
    {
        var place = at++;
        var number = Number();
        Expect('=', place, number);
        Skip();
        if (at >= file.Length)
        {
            throw At(place, $"#{number} does not end");
        }

        var first = references.Count;
        var kind = "";
        if (file[at] != '(')
        {
            var word = Word();
            kind = kinds.TryGetValue(word, out var known) ? known : kinds[word] = word;
            if (kind.Length == 0)
            {
                throw At(place, $"#{number} has no kind");
            }
        }

        Skip();
        if (at >= file.Length || file[at] != '(')
        {
            throw At(place, $"#{number} has no parameters");
        }

        var parameters = Group(place, number);
        Expect(';', place, number);
        if (!instances.TryAdd(number, new Instance(kind, parameters, first, references.Count - first, place)))
        {
            throw At(place, $"#{number} is there twice");
        }
    }

    /// <summary>What stands in parentheses, with what it refers to; how many parameters.</summary>
    private int Group(int place, int number)
    {
        var (depth, count, any) = (0, 1, false);
        for (; at < file.Length; at++)
        {
            switch (file[at])
            {
                case (byte)'(':
                    any |= depth > 0;
                    depth++;
                    break;
                case (byte)')':
                    if (--depth == 0)
                    {
                        at++;
                        return any ? count : 0;
                    }

                    break;
                case (byte)',':
                    count += depth == 1 ? 1 : 0;
                    break;
                case (byte)'\'':
                    any = true;
                    Text(place, number);
                    break;
                case (byte)'#':
                    any = true;
                    at++;
                    references.Add((Number(), count - 1));
                    at--;
                    break;
                case (byte)'/' when at + 1 < file.Length && file[at + 1] == '*':
                    Comment();
                    at--;
                    break;
                case (byte)';' or (byte)'=':
                    throw At(place, $"#{number} does not end");
                default:
                    any |= file[at] > ' ';
                    break;
            }
        }

        throw At(place, $"#{number} does not end");
    }

    /// <summary>To the end of a string; stands on its last apostrophe then.</summary>
    private void Text(int place, int number)
    {
        for (at++; at < file.Length; at++)
        {
            if (file[at] == '\'')
            {
                if (at + 1 >= file.Length || file[at + 1] != '\'')
                {
                    return;
                }

                at++;
            }
        }

        throw At(place, $"a text of #{number} does not end");
    }

    private void Statement()
    {
        var place = at;
        for (; at < file.Length && file[at] != ';'; at++)
        {
            if (file[at] == '\'')
            {
                for (at++; at < file.Length && file[at] != '\''; at++) { }
            }
            else if (file[at] == '/' && at + 1 < file.Length && file[at + 1] == '*')
            {
                Comment();
                at--;
            }
        }

        if (at >= file.Length)
        {
            throw At(Math.Min(place, file.Length - 1), "a statement does not end");
        }

        at++;
    }

    private bool Skip()
    {
        while (at < file.Length)
        {
            if (file[at] <= ' ')
            {
                at++;
            }
            else if (file[at] == '/' && at + 1 < file.Length && file[at + 1] == '*')
            {
                Comment();
            }
            else
            {
                return true;
            }
        }

        return false;
    }

    private void Comment()
    {
        var place = at;
        var end = file.AsSpan(at + 2).IndexOf("*/"u8);
        at = end < 0 ? throw At(place, "a comment does not end") : at + end + 4;
    }

    private string Word()
    {
        var from = at;
        while (at < file.Length && (char.IsAsciiLetterOrDigit((char)file[at]) || file[at] is (byte)'_' or (byte)'-' or (byte)'!'))
        {
            at++;
        }

        return Encoding.ASCII.GetString(file, from, at - from).ToUpperInvariant();
    }

    private int Number()
    {
        var (from, value) = (at, 0L);
        while (at < file.Length && char.IsAsciiDigit((char)file[at]) && value < int.MaxValue)
        {
            value = (value * 10) + file[at++] - '0';
        }

        return at == from || value > int.MaxValue ? throw At(from, "an instance has no number") : (int)value;
    }

    private void Expect(char what, int place, int number)
    {
        if (!Skip() || file[at] != what)
        {
            throw At(place, $"#{number} is not followed by '{what}'");
        }

        at++;
    }

    private Refusal? Wrong()
    {
        foreach (var (number, instance) in instances)
        {
            if (!Rules.TryGetValue(instance.Kind, out var rule))
            {
                continue;
            }

            if (instance.Parameters != rule.Count)
            {
                return Broken(
                    $"#{number}, {instance.Kind}, has {instance.Parameters} parameters, not {rule.Count} (line {Line(instance.Place)})"
                );
            }

            if (Array.Find(rule.Refer, p => Needed(p.Kinds) && !Refers(instance, p.At)).Kinds is { } missing)
            {
                return Broken($"#{number}, {instance.Kind}, names no {missing[0]} (line {Line(instance.Place)})");
            }

            for (var r = instance.FirstReference; r < instance.FirstReference + instance.References; r++)
            {
                var (to, parameter) = references[r];
                if (!instances.TryGetValue(to, out var target))
                {
                    return Broken($"#{number}, {instance.Kind}, stands on #{to}, which is not there (line {Line(instance.Place)})");
                }

                // Of a complex instance the kind is several at once.
                if (
                    target.Kind.Length > 0
                    && Array.Find(rule.Refer, p => p.At == parameter).Kinds is { } allowed
                    && !allowed.Contains(target.Kind)
                )
                {
                    return Broken($"#{number}, {instance.Kind}, stands on #{to}, which is a {target.Kind} (line {Line(instance.Place)})");
                }
            }
        }

        return null;
    }

    /// <summary>A direction or a bound may be left out.</summary>
    private static bool Needed(string[] kinds) => kinds != Directions && kinds != Bounds && kinds != Faces && kinds != Closed;

    private bool Refers(Instance instance, int parameter)
    {
        for (var r = instance.FirstReference; r < instance.FirstReference + instance.References; r++)
        {
            if (references[r].Parameter == parameter)
            {
                return true;
            }
        }

        return false;
    }

    private int Line(int place) => 1 + file.AsSpan(0, Math.Clamp(place, 0, file.Length)).Count((byte)'\n');

    private Fault At(int place, string what) => new($"{what} (line {Line(place)})");

    private sealed class Fault(string message) : Exception(message);
}
