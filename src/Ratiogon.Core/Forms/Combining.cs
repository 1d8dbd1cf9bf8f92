using System.Collections.Immutable;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>Material put on bodies or taken from them.</summary>
internal static class Combining
{
    /// <summary>A body that loses less than this share of its volume was not met.</summary>
    private const double Same = 1e-9;

    /// <param name="site">The bodies before.</param>
    /// <param name="step">The step that gives the material: it names bodies that it begins.</param>
    /// <param name="key">Content key of the step: bodies that change are told apart by it.</param>
    /// <param name="material">What it gives.</param>
    public static Outcome<ImmutableArray<FormBody>> Apply(FormSite site, string step, string key, MaterialResult material) =>
        site.Chosen(material.Bodies)
            .Then(chosen =>
                material.Operation == FormOperation.Cut
                && !chosen.IsEmpty
                && material.Tools.IsEmpty
                && Drilled(site, key, material, chosen) is { } drilled
                    ? drilled
                    : material.Solids(site.Kernel).Then(tools => Combined(site, step, key, material with { Tools = tools }, chosen))
            );

    /// <summary>Turned tools alone, put into every body that they meet; null where that takes a boolean.</summary>
    private static ImmutableArray<FormBody>? Drilled(FormSite site, string key, MaterialResult material, ImmutableArray<FormBody> chosen)
    {
        var (bodies, changed) = (site.Bodies.ToBuilder(), false);
        foreach (var body in chosen)
        {
            List<RoundTool> near = [.. material.Round.Where(r => body.Box.Reaches(r.Axis, r.From, r.To, r.Reach))];
            if (near.Count == 0)
            {
                continue;
            }

            if (Drilling.Try(site.Kernel, body, [.. near]) is not { } shape)
            {
                return null;
            }

            (bodies[bodies.IndexOf(body)], changed) = (Renewed(site, body, key, shape), true);
        }

        return changed ? bodies.ToImmutable() : null;
    }

    private static Outcome<ImmutableArray<FormBody>> Combined(
        FormSite site,
        string step,
        string key,
        MaterialResult material,
        ImmutableArray<FormBody> chosen
    ) =>
        material.Operation switch
        {
            FormOperation.Body => Stand(site, step, key, material),
            FormOperation.Join when site.Bodies.IsEmpty => Stand(site, step, key, material),
            FormOperation.Join => Join(site, step, key, material, chosen),
            _ when chosen.IsEmpty => new Refusal(
                "form.no-body",
                material.Operation == FormOperation.Cut ? "There is no body to cut yet." : "There is no body to keep a part of yet."
            ),
            FormOperation.Cut => Cut(site, key, material, chosen),
            _ => Intersect(site, key, material, chosen),
        };

    public static FormBody Renewed(FormSite site, FormBody body, string key, Shaped shape, bool onlyLooks = false) =>
        new(site.Kernel, body.Name, $"{key}:{body.Name}", shape) { OnlyLooks = onlyLooks };

    private static Outcome<ImmutableArray<FormBody>> Stand(FormSite site, string step, string key, MaterialResult material)
    {
        return Whole(site, step, material)
            .Map(shape =>
            {
                var name = material.Begins ?? step;
                for (var n = 2; site.Bodies.Any(b => b.Name == name); n++)
                {
                    name = $"{step}/body/{n}";
                }

                return site.Bodies.Add(new FormBody(site.Kernel, name, $"{key}:{name}", shape));
            });
    }

    /// <summary>Behind the key of what only looks like what it will be, so that it is never taken for that.</summary>
    public const string QuickMark = "~";

    /// <summary>All of the material in one: what it shares with a body is asked of the whole.</summary>
    private static Outcome<Shaped> Whole(FormSite site, string step, MaterialResult material) =>
        material.Tools.Length == 1
            ? material.Tools[0]
            : site
                .Kernel.Join(material.Tools[0].Solid, [.. material.Tools.Skip(1).Select(t => t.Solid)])
                .Map(r => Shaped.Of(r, step, material.Tools));

    private static Outcome<ImmutableArray<FormBody>> Join(
        FormSite site,
        string step,
        string key,
        MaterialResult material,
        ImmutableArray<FormBody> chosen
    )
    {
        // Of one body everything becomes a part; of several, those that are touched become one.
        var met = chosen.Length == 1 ? chosen : [.. chosen.Where(b => material.Tools.Any(t => Touch(site, b, t)))];
        if (met.IsEmpty)
        {
            return Stand(site, step, key, material);
        }

        var inputs = met.Select(b => b.Shape).Concat(material.Tools).ToList();
        ISolid[] others = [.. inputs.Skip(1).Select(i => i.Solid)];
        var joined = site.Quick ? site.Kernel.Beside(inputs[0].Solid, others) : site.Kernel.Join(inputs[0].Solid, others);
        var keyed = site.Quick ? key + QuickMark : key;
        return joined.Map<ImmutableArray<FormBody>>(r =>
            [
                .. site
                    .Bodies.Where(b => b == met[0] || !met.Contains(b))
                    .Select(b => b == met[0] ? Renewed(site, b, keyed, Shaped.Of(r, step, inputs), site.Quick) : b),
            ]
        );
    }

    private static Outcome<ImmutableArray<FormBody>> Cut(
        FormSite site,
        string key,
        MaterialResult material,
        ImmutableArray<FormBody> chosen
    )
    {
        var (bodies, changed) = (site.Bodies.ToBuilder(), false);
        foreach (var body in chosen)
        {
            List<Shaped> tools = [.. material.Tools.Where(t => Overlap(body.Box, site.Kernel.Bounds(t.Solid)))];
            if (tools.Count == 0)
            {
                continue;
            }

            var shape = site.Kernel.Cut(body.Solid, [.. tools.Select(t => t.Solid)]).Map(r => Shaped.Of(r, "", [body.Shape, .. tools]));
            if (!shape.Done)
            {
                return shape.Refusal!.Code == "form.nothing-left"
                    ? shape.Refusal with
                    {
                        Message = "The cut would leave nothing of the body.",
                    }
                    : shape.Refusal;
            }

            var before = body.Mass.Volume;
            var now = Renewed(site, body, key, shape.Value);
            if (before - now.Mass.Volume > Same * before)
            {
                changed = true;
                bodies[bodies.IndexOf(body)] = now;
            }
        }

        return changed ? bodies.ToImmutable() : NoMaterial(site, material, chosen);
    }

    private static Outcome<ImmutableArray<FormBody>> Intersect(
        FormSite site,
        string key,
        MaterialResult material,
        ImmutableArray<FormBody> chosen
    )
    {
        var bodies = site.Bodies.ToBuilder();
        var whole = Whole(site, "", material);
        if (!whole.Done)
        {
            return whole.Refusal!;
        }

        foreach (var body in chosen)
        {
            var common = site.Kernel.Common(body.Solid, whole.Value.Solid);
            if (!common.Done)
            {
                return common.Refusal!.Code == "form.nothing-left"
                    ? common.Refusal with
                    {
                        Message = "The form does not meet the body: nothing would be left of it.",
                    }
                    : common.Refusal;
            }

            bodies[bodies.IndexOf(body)] = Renewed(site, body, key, Shaped.Of(common.Value, "", [body.Shape, whole.Value]));
        }

        return bodies.ToImmutable();
    }

    private static Refusal NoMaterial(FormSite site, MaterialResult material, ImmutableArray<FormBody> chosen)
    {
        var gaps = chosen
            .SelectMany(b => material.Tools.Take(16).Select(t => site.Kernel.Distance(b.Solid, default, t.Solid, default)))
            .Where(g => g.Done)
            .Select(g => g.Value.Distance)
            .ToList();
        return new Refusal(
            "form.no-material",
            gaps.Count == 0 ? "The cut meets no material. Flip it, lengthen it or move it."
                : gaps.Min() < Tolerances.Length
                    ? "The cut takes nothing: it only touches the body, or is too small to leave a mark. Make it larger, flip it or "
                        + "move it."
                : $"The cut meets no material: the nearest is {site.Show(gaps.Min())} away. Flip it, lengthen it or move it."
        );
    }

    private static bool Touch(FormSite site, FormBody body, Shaped tool) =>
        Overlap(body.Box, site.Kernel.Bounds(tool.Solid))
        && site.Kernel.Distance(body.Solid, default, tool.Solid, default) is { Done: true, Value.Distance: < Tolerances.KernelLength };

    private static bool Overlap(Box a, Box b) =>
        a.Low.X <= b.High.X + Tolerances.Length
        && b.Low.X <= a.High.X + Tolerances.Length
        && a.Low.Y <= b.High.Y + Tolerances.Length
        && b.Low.Y <= a.High.Y + Tolerances.Length
        && a.Low.Z <= b.High.Z + Tolerances.Length
        && b.Low.Z <= a.High.Z + Tolerances.Length;
}
