using System.Text.Json.Nodes;

namespace Ratiogon.Core.Parts;

/// <summary>Steps that people may write shorter than they are kept.</summary>
public static class StepShortForm
{
    /// <summary>A plane given by <c>from</c> and <c>distance</c> becomes one with its condition written out.</summary>
    public static void Expand(JsonObject step)
    {
        ArgumentNullException.ThrowIfNull(step);
        if (step["kind"]?.ToString() == "plane" && step["from"] is JsonValue from && step["conditions"] is null)
        {
            step["conditions"] = new JsonArray(
                new JsonObject
                {
                    ["relation"] = "offset",
                    ["of"] = new JsonArray(from.ToString()),
                    ["values"] = new JsonArray(step["distance"]?.ToString() ?? "0 mm"),
                }
            );
            step.Remove("from");
            step.Remove("distance");
        }
    }
}
