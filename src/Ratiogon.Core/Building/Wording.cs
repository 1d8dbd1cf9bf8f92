using System.Text.RegularExpressions;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Core.Building;

/// <summary>
/// Turns references into what people call the thing: <c>extrude1/end^extrude1/side/r1.right</c> is the edge between the top and the
/// right side of Plate. The one place where that is done; references themselves are for files.
/// </summary>
/// <param name="model">What the references name.</param>
public sealed partial class Wording(Model model)
{
    private readonly Dictionary<INamedBody, BodyWords> bodies = new(ReferenceEqualityComparer.Instance);

    /// <summary>A thing without its article; also of what is lost, as far as its name tells.</summary>
    public string Of(string reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        if (World.Single(reference) is { Length: > 1 } chain)
        {
            return $"path over {chain.Length} edges";
        }

        var (id, member) = Split(reference);
        if (id == World.Id)
        {
            return member is null ? "world" : Member(member);
        }

        var step = model.Part.Find(id);
        if (model.SketchOf(id) is { } sketch)
        {
            return member is null ? sketch.Step.Name : $"{EntityWords.Of(sketch.Sketch, model.Part.Units)[member]} of {sketch.Step.Name}";
        }

        return member is null ? step?.Name ?? id
            : step is FrameStep && World.Members.Contains(member) ? $"{step.Name} {Member(member)}"
            : OnBody(reference) ?? Lost(reference);
    }

    /// <summary>The same with its article where it has one; of what is no reference itself, with those in it said in words.</summary>
    public string The(string reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        if (reference.Split('@') is [var thing, var snap])
        {
            return $"the {snap.Replace('-', ' ')} of {The(thing)}";
        }

        if (reference.Contains(' ', StringComparison.Ordinal) && World.Single(reference).Length == 1)
        {
            return In(reference);
        }

        var words = Of(reference);
        return IsDescribed(words) ? $"the {words}" : words;
    }

    /// <summary>A text in which every reference is said in words.</summary>
    public string In(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var said = Reference()
            .Replace(text, found =>
            {
                var reference = found.Groups["reference"].Value;
                var known = World.StepOf(reference) is var id && (id == World.Id ? World.Has(reference) : model.Part.Find(id) is not null);
                return known ? Article(text, found.Index, Of(reference)) : found.Value;
            });

        // How many pieces a thing is in is said once.
        return Pieces().Replace(said, " is in $1 pieces");
    }

    [GeneratedRegex(@", in (\d+) pieces is in \1 pieces")]
    private static partial Regex Pieces();

    /// <summary>What stands in a refusal, in words.</summary>
    public Refusal In(Refusal refusal)
    {
        ArgumentNullException.ThrowIfNull(refusal);
        return refusal with { Message = In(refusal.Message) };
    }

    /// <summary>A part of a body that a reference names, or its first piece; null where no body has it.</summary>
    private string? OnBody(string reference)
    {
        foreach (var body in model.Named)
        {
            if (World.IsBody(reference, body.Name))
            {
                return $"body {model.Part.Find(body.Name)?.Name ?? body.Name}";
            }

            var found = body.Names.All(reference);
            if (found.Length > 0)
            {
                return Of(body, found[0]) + (found.Length > 1 ? $", in {found.Length} pieces" : "");
            }
        }

        return null;
    }

    /// <summary>A part of a body.</summary>
    public string Of(INamedBody body, SubShape part)
    {
        ArgumentNullException.ThrowIfNull(body);
        if (!bodies.TryGetValue(body, out var words))
        {
            bodies[body] = words = new BodyWords(body, model.Part);
        }

        return part.Kind switch
        {
            SubShapeKind.Face => words.Face(part.Index),
            SubShapeKind.Edge => words.Edge(part.Index),
            _ => words.Vertex(part.Index),
        };
    }

    /// <summary>What the name of something that is not there any more tells of it.</summary>
    private string Lost(string reference)
    {
        var faces = Faces(reference.TrimEnd('^'));
        var told = faces.ConvertAll(LostFace);
        return reference.EndsWith('^') ? $"corner of the {string.Join(", the ", told)}"
            : faces.Count == 1 ? told[0]
            : $"edge between the {string.Join(" and the ", told)}";
    }

    private string LostFace(string face)
    {
        var (id, role) = Split(face.Split('[', 2)[0]);
        var step = model.Part.Find(id);
        var sketch =
            step is Forms.FormStep ? step.References.Select(r => model.SketchOf(World.StepOf(r))).FirstOrDefault(s => s is not null) : null;
        var what = role switch
        {
            "start" or "end" => role,
            not null when role.StartsWith("side/", StringComparison.Ordinal) => sketch is null
                ? "side"
                : $"side at {EntityWords.Of(sketch.Sketch, model.Part.Units)[role["side/".Length..]]}",
            _ => "face",
        };
        return $"{what} of {step?.Name ?? id}";
    }

    /// <summary>The faces that an edge or a corner is named by: what stands in brackets belongs to one of them.</summary>
    private static List<string> Faces(string reference)
    {
        var (faces, depth, began) = (new List<string>(), 0, 0);
        for (var i = 0; i < reference.Length; i++)
        {
            depth +=
                reference[i] is '[' or '(' ? 1
                : reference[i] is ']' or ')' ? -1
                : 0;
            if (reference[i] == '^' && depth == 0)
            {
                faces.Add(reference[began..i]);
                began = i + 1;
            }
        }

        faces.Add(reference[began..]);
        return faces;
    }

    private static (string Id, string? Member) Split(string reference)
    {
        var id = World.StepOf(reference);
        return (id, reference.Length > id.Length ? reference[(id.Length + 1)..] : null);
    }

    private static string Member(string member) =>
        member.Length == 2 ? member.ToUpperInvariant()
        : member == "origin" ? member
        : $"{member} axis";

    /// <summary>Words that describe have an article, names have none.</summary>
    private static bool IsDescribed(string words) => words.Contains(" of ", StringComparison.Ordinal) || words is "origin" or "world";

    /// <summary>Words as they stand at a place of a text: with an article unless there is one, with a capital at the beginning of a
    /// sentence.</summary>
    private static string Article(string text, int at, string words)
    {
        if (!IsDescribed(words))
        {
            return words;
        }

        var before = text[..at].TrimEnd('\'', '"');
        var said = before.EndsWith("the ", StringComparison.OrdinalIgnoreCase) ? words : $"the {words}";
        return before.Length == 0 || before.EndsWith(". ", StringComparison.Ordinal) ? char.ToUpperInvariant(said[0]) + said[1..] : said;
    }

    /// <summary>A step's id, a slash and what stands behind it, with or without quotes about it.</summary>
    [GeneratedRegex(@"'?(?<![\w/.])(?<reference>[A-Za-z0-9][\w.\-]*/[^\s',;…@]*[^\s',;….:@])'?", RegexOptions.CultureInvariant)]
    private static partial Regex Reference();
}
