using System.Collections.Immutable;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Core.Forms;

/// <summary>
/// Many holes without a boolean: where every hole goes square into a planar face and either ends in the material or leaves by
/// another such face, the holes' walls are put straight into the body and their rims into its faces. The kernel checks that
/// no hole touches an edge, another hole or any other face; where that is not so, the general way is taken.
/// </summary>
internal static class Drilling
{
    /// <summary>How far short of the far face, in millimetres, a blind hole has to end for it to be drilled without a boolean.</summary>
    private const double Bottom = 1e-3;

    /// <summary>The sine of how much a face may lean against an axis that is square to it.</summary>
    private const double Square = 1e-9;

    /// <returns>The drilled body, or null where the general way must be taken.</returns>
    public static Shaped? Try(ISolidKernel kernel, FormBody body, ImmutableArray<RoundTool> tools)
    {
        var (all, made) = (
            new List<DrilledTool>(tools.Length),
            new Dictionary<string, (RoundTool Tool, Shaped Shape)>(StringComparer.Ordinal)
        );
        foreach (var tool in tools)
        {
            if (Lying(kernel, body, tool, made) is not { } drilled)
            {
                return null;
            }

            all.Add(drilled);
        }

        var result = kernel.Drill(body.Solid, all);
        return result.Done ? Shaped.Of(result.Value, "", [body.Shape, .. all.Select(t => t.Tool)]) : null;
    }

    private static DrilledTool? Lying(
        ISolidKernel kernel,
        FormBody body,
        RoundTool tool,
        Dictionary<string, (RoundTool Tool, Shaped Shape)> made
    )
    {
        var met = kernel
            .Probe(body.Solid, tool.Axis)
            .Where(s => s.Out.At > tool.From - Tolerances.Length && s.In.At < tool.To + Tolerances.Length)
            .ToList();
        if (met is not [var only] || only.In.At < tool.From - Tolerances.Length || !Flat(body, only.In.Face, tool.Axis))
        {
            return null;
        }

        var through = tool.To > only.Out.At + Tolerances.Length;
        if ((through && !Flat(body, only.Out.Face, tool.Axis)) || (!through && tool.To > only.Out.At - Bottom))
        {
            return null;
        }

        if (tool.Between(only.In.At, through ? only.Out.At : tool.To) is not { } within || Shape(kernel, within, made) is not { } shape)
        {
            return null;
        }

        var (top, bottom) = (Cap(shape, tool, "top"), through ? Cap(shape, tool, "bottom") : -1);
        return top < 0 || (through && bottom < 0) ? null : new DrilledTool(shape, only.In.Face, through ? only.Out.Face : -1, top, bottom);
    }

    /// <summary>The solid of a tool; of equal ones only the first is made, the others are the same moved.</summary>
    private static Shaped? Shape(ISolidKernel kernel, RoundTool tool, Dictionary<string, (RoundTool Tool, Shaped Shape)> made)
    {
        var key = string.Join(';', tool.Outline.Select(c => $"{Math.Round(c.Along - tool.From, 9)},{Math.Round(c.Radius, 9)},{c.Face}"));
        if (!made.TryGetValue(key, out var first))
        {
            if (tool.Make(kernel) is not { Done: true } fresh)
            {
                return null;
            }

            made[key] = (tool, fresh.Value);
            return fresh.Value;
        }

        static MovingFrame Standing(RoundTool t) => new(t.Axis.At(t.From), t.Axis.Direction, t.Axis.Direction.Across().A);
        var (before, after) = (first.Tool.Before.Length, first.Tool.After.Length);
        var moved = kernel.Move(first.Shape.Solid, Rigid.Between(Standing(first.Tool), Standing(tool)));
        return moved.Done
            ? Shaped.Of(
                moved.Value,
                tool.Before.TrimEnd('/'),
                o => first.Shape.Bases[o.Index] is var name ? $"{tool.Before}{name[before..^after]}{tool.After}" : "",
                _ => tool.Guide
            )
            : null;
    }

    private static bool Flat(FormBody body, int face, Line3 axis) =>
        face >= 0 && body.Topology.Faces[face].Plane is { } plane && plane.Z.Cross(axis.Direction).Length < Square;

    private static int Cap(Shaped tool, RoundTool of, string face) => tool.Bases.IndexOf($"{of.Before}{face}{of.After}");
}
