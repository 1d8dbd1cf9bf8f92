using System.Collections.Immutable;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Picked faces of one body.</summary>
internal static class FacePicks
{
    public static Outcome<BodyFaces> On(FormSite site, Refs picks, string field)
    {
        FormBody? body = null;
        var faces = ImmutableArray.CreateBuilder<int>();
        foreach (var pick in picks)
        {
            var on = site.AllOn(pick);
            if (!on.Done)
            {
                return on.Refusal!;
            }

            if (on.Value.Parts.Any(p => p.Kind != SubShapeKind.Face))
            {
                return new Refusal("form.no-face", $"'{pick}' is no face.", field);
            }

            if (body is not null && on.Value.Body != body)
            {
                return new Refusal("form.two-bodies", "The faces lie on different bodies: one step changes one body.", field);
            }

            body = on.Value.Body;
            faces.AddRange(on.Value.Parts.Select(p => p.Index));
        }

        return body is null ? new Refusal("form.incomplete", "Pick a face.", field) : new BodyFaces(body, [.. faces.Distinct()]);
    }
}
