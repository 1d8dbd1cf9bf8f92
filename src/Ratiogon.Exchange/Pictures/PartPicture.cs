using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.InteropServices;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Exchange.Pictures;

/// <summary>The colours of a picture, as #rrggbb.</summary>
public sealed record PictureColours(string Paper, string Body, string Reference, string Edge, string Sketch)
{
    public static readonly PictureColours Light = new("#f8f5ee", "#d6d3c8", "#b9c4c9", "#3b3a36", "#33404c");
    public static readonly PictureColours Dark = new("#23211e", "#a3a097", "#8794a0", "#14130f", "#c3ccd6");
}

/// <summary>A part seen from its corner, as the workspace shows it first: bodies shaded with their edges, hidden ones left out; of a part
/// without bodies its curves.</summary>
public static class PartPicture
{
    public const int Width = 640,
        Height = 352;
    private const int Times = 2,
        Tones = 256;
    private const double Margin = 0.08;

    /// <summary>Dots by which an edge may lie behind the triangles beside it.</summary>
    private const double EdgeSlack = 3;

    // From the part to the eye; to the right and up in the picture.
    private static readonly Vec3 Towards = new Vec3(0.62, -1, 0.72).Unit;
    private static readonly Vec3 Across = Vec3.AlongZ.Cross(Towards).Unit;
    private static readonly Vec3 Up = Towards.Cross(Across);

    /// <summary>From where the lamp at the eye shines, and how strong it and the sky are.</summary>
    private static readonly Vec3 Lamp = ((Across * -300) + (Up * 700) + (Towards * 900)).Unit;
    private const double LampLight = 1.7 / Math.PI,
        SkyLight = 1.9 / Math.PI,
        GroundShare = 0.45;

    /// <summary>PNG; null where there is nothing to see.</summary>
    public static byte[]? Draw(Part part, RebuildResult built, PictureColours colours)
    {
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(built);
        ArgumentNullException.ThrowIfNull(colours);
        var solids = built.Bodies.Concat(built.References).Where(b => b.Mesh is { Triangles.Length: > 0 }).ToList();
        var curves = solids.Count == 0 ? Curves(part, built).ToList() : [];
        if (solids.SelectMany(b => Places(b.Mesh!.Positions)).Concat(curves.SelectMany(c => c)).ToList() is not { Count: > 0 } places)
        {
            return null;
        }

        var frame = Framed(places);
        var canvas = new Canvas(Width * Times, Height * Times, Rgb(colours.Paper));
        foreach (var body in solids)
        {
            var own = built.References.Contains(body)
                ? colours.Reference
                : ImportStep.Of(part, body.Name)?.ColourIn(body.Name) ?? part.Material.Colour ?? colours.Body;
            Shade(canvas, frame, body.Mesh!, Shades(own));
        }

        foreach (var body in solids)
        {
            Outline(canvas, frame, body.Mesh!, Rgb(colours.Edge));
        }

        foreach (var curve in curves)
        {
            for (var i = 0; i + 1 < curve.Length; i++)
            {
                canvas.Line(frame(curve[i]), frame(curve[i + 1]), Rgb(colours.Sketch), 3, EdgeSlack);
            }
        }

        return PngFile.Write(Width, Height, canvas.Smoothed(Times));
    }

    /// <summary>From places of the part to dots across, down and towards the eye, so that all of them fit.</summary>
    private static Func<Vec3, Vec3> Framed(List<Vec3> places)
    {
        static Vec3 Seen(Vec3 p) => new(p.Dot(Across), -p.Dot(Up), p.Dot(Towards));
        var box = Box.About(places.Select(Seen));
        var (wide, high) = (box.High.X - box.Low.X, box.High.Y - box.Low.Y);
        var (room, tall) = (Width * Times * (1 - (2 * Margin)), Height * Times * (1 - (2 * Margin)));
        var scale = Math.Min(wide > 0 ? room / wide : double.PositiveInfinity, high > 0 ? tall / high : double.PositiveInfinity);
        scale = double.IsFinite(scale) ? scale : 1;
        var middle = (box.Low + box.High) / 2;
        return p => ((Seen(p) - middle) * scale) + new Vec3(Width * Times / 2.0, Height * Times / 2.0, 0);
    }

    private static void Shade(Canvas canvas, Func<Vec3, Vec3> frame, SolidMesh mesh, (byte, byte, byte)[] tones)
    {
        var seen = Places(mesh.Positions).Select(frame).ToArray();
        var lights = Places(mesh.Normals).Select(Light).ToArray();
        var corners = MemoryMarshal.Cast<byte, int>(mesh.Triangles);
        for (var t = 0; t + 2 < corners.Length; t += 3)
        {
            var (a, b, c) = (corners[t], corners[t + 1], corners[t + 2]);
            canvas.Fill(seen[a], seen[b], seen[c], (lights[a], lights[b], lights[c]), tones);
        }
    }

    private static void Outline(Canvas canvas, Func<Vec3, Vec3> frame, SolidMesh mesh, (byte, byte, byte) colour)
    {
        var points = Places(mesh.EdgePoints).Select(frame).ToArray();
        var at = 0;
        foreach (var count in mesh.EdgeCounts)
        {
            for (var i = at; i + 1 < at + count; i++)
            {
                canvas.Line(points[i], points[i + 1], colour, Times, EdgeSlack);
            }

            at += count;
        }
    }

    /// <summary>How much of all light falls on a face that looks a way, both sides alike.</summary>
    private static double Light(Vec3 normal)
    {
        var n = normal.Dot(Towards) < 0 ? -normal : normal;
        var sky = GroundShare + ((1 - GroundShare) * ((n.Z + 1) / 2));
        return ((LampLight * Math.Max(0, n.Dot(Lamp))) + (SkyLight * sky)) / (LampLight + SkyLight);
    }

    /// <summary>A colour under no light to all of it: reckoned in light, kept as screens want it (IEC 61966-2-1).</summary>
    private static (byte R, byte G, byte B)[] Shades(string colour)
    {
        var (r, g, b) = Rgb(colour);
        byte At(byte full, int i)
        {
            var light = Math.Pow(full / 255.0, 2.2) * (LampLight + SkyLight) * i / (Tones - 1);
            return (byte)Math.Round(255 * Math.Min(1, Math.Pow(light, 1 / 2.2)));
        }

        return [.. Enumerable.Range(0, Tones).Select(i => (At(r, i), At(g, i), At(b, i)))];
    }

    private static (byte R, byte G, byte B) Rgb(string colour)
    {
        var all = int.Parse(colour.AsSpan(1), NumberStyles.HexNumber, CultureInfo.InvariantCulture);
        return ((byte)(all >> 16), (byte)(all >> 8), (byte)all);
    }

    private static Vec3[] Places(byte[] floats)
    {
        var numbers = MemoryMarshal.Cast<byte, float>(floats);
        var places = new Vec3[numbers.Length / 3];
        for (var i = 0; i < places.Length; i++)
        {
            places[i] = new Vec3(numbers[3 * i], numbers[(3 * i) + 1], numbers[(3 * i) + 2]);
        }

        return places;
    }

    /// <summary>Sketches that are not suppressed, and curves in space, from place to place.</summary>
    private static IEnumerable<Vec3[]> Curves(Part part, RebuildResult built)
    {
        foreach (var result in built.Steps.Where(s => s.State == StepState.Built))
        {
            if (!result.Drawn.IsDefaultOrEmpty)
            {
                yield return [.. result.Drawn];
            }

            if (part.Find(result.Id) is SketchStep step && result.Frame is { } plane)
            {
                var sketch = result.Followed() ?? step.Sketch;
                foreach (var entity in sketch.Entities.Where(e => !e.Construction && !Sketch.IsBuiltIn(e.Id)))
                {
                    yield return [.. Flat(sketch, entity).Select(plane.ToWorld)];
                }
            }
        }
    }

    private static IEnumerable<Vec2> Flat(Sketch sketch, SketchEntity entity)
    {
        const int Pieces = 64;
        IEnumerable<Vec2> Along(Func<double, Vec2> at) => Enumerable.Range(0, Pieces + 1).Select(i => at((double)i / Pieces));
        switch (entity)
        {
            case LineEntity line:
                return [sketch.At(line.From), sketch.At(line.To)];
            case CircleEntity circle:
                return Along(t => sketch.At(circle.Centre) + Vec2.Polar(2 * Math.PI * t, circle.Radius));
            case ArcEntity arc:
                var (start, sweep) = ((sketch.At(arc.From) - sketch.At(arc.Centre)).Angle, Arcs.Sweep(sketch, arc));
                return Along(t => sketch.At(arc.Centre) + Vec2.Polar(start + (sweep * t), arc.Radius));
            default:
                return Core.Sketches.Curves.Of(sketch, entity) is { } curve ? Along(t => curve.At(t * curve.End)) : [];
        }
    }
}
