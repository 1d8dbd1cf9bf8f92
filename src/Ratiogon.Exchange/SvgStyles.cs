using System.Text.RegularExpressions;
using System.Xml.Linq;

namespace Ratiogon.Exchange;

/// <summary>What a property of an element is: by its style, else by the rules of the file's style sheets, else by its attribute.
/// Selectors of an element's name, class and id are known; combined ones are passed over.</summary>
internal sealed partial class SvgStyles
{
    private readonly List<(string? Name, string? Id, string[] Classes, Dictionary<string, string> Set)> rules = [];

    public SvgStyles(XElement root)
    {
        foreach (var sheet in root.DescendantsAndSelf().Where(e => e.Name.LocalName == "style"))
        {
            foreach (Match rule in Rule().Matches(Comment().Replace(sheet.Value, "")))
            {
                foreach (
                    var selector in rule.Groups[1].Value.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                )
                {
                    if (Simple().Match(selector) is { Success: true } simple)
                    {
                        var parts = simple.Groups[2].Captures.Select(c => c.Value).ToList();
                        rules.Add(
                            (
                                simple.Groups[1].Value is { Length: > 0 } name && name != "*" ? name : null,
                                parts.Find(p => p[0] == '#')?[1..],
                                [.. parts.Where(p => p[0] == '.').Select(p => p[1..])],
                                Declared(rule.Groups[2].Value)
                            )
                        );
                    }
                }
            }
        }
    }

    public string? Of(XElement element, string property)
    {
        if (element.Attribute("style")?.Value is { } style && Declared(style).TryGetValue(property, out var own))
        {
            return own;
        }

        var classes = (element.Attribute("class")?.Value ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        string? best = null;
        var weight = -1;
        foreach (var (name, id, of, set) in rules)
        {
            var counts = (id is null ? 0 : 100) + (of.Length * 10) + (name is null ? 0 : 1);
            if (
                counts >= weight
                && (name is null || name == element.Name.LocalName)
                && (id is null || id == element.Attribute("id")?.Value)
                && of.All(classes.Contains)
                && set.TryGetValue(property, out var value)
            )
            {
                (best, weight) = (value, counts);
            }
        }

        return best ?? element.Attribute(property)?.Value;
    }

    private static Dictionary<string, string> Declared(string text)
    {
        var all = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var part in text.Split(';'))
        {
            if (part.IndexOf(':', StringComparison.Ordinal) is var colon and > 0)
            {
                all[part[..colon].Trim().ToLowerInvariant()] = part[(colon + 1)..]
                    .Replace("!important", "", StringComparison.Ordinal)
                    .Trim();
            }
        }

        return all;
    }

    [GeneratedRegex(@"([^{}]+)\{([^{}]*)\}", RegexOptions.None, 2000)]
    private static partial Regex Rule();

    [GeneratedRegex(@"/\*.*?\*/", RegexOptions.Singleline, 2000)]
    private static partial Regex Comment();

    [GeneratedRegex(@"^([A-Za-z*]*)((?:[.#][\w-]+))*$", RegexOptions.None, 2000)]
    private static partial Regex Simple();
}
