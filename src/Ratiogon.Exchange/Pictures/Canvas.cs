using Ratiogon.Core;

namespace Ratiogon.Exchange.Pictures;

/// <summary>Dots with depths: what is nearer covers what is further. Places are across, down and towards the eye, in dots.</summary>
internal sealed class Canvas
{
    private readonly int width,
        height;
    private readonly float[] near;
    private readonly byte[] rgb;

    public Canvas(int width, int height, (byte R, byte G, byte B) paper)
    {
        (this.width, this.height, near, rgb) = (width, height, new float[width * height], new byte[width * height * 3]);
        Array.Fill(near, float.NegativeInfinity);
        for (var i = 0; i < rgb.Length; i += 3)
        {
            (rgb[i], rgb[i + 1], rgb[i + 2]) = paper;
        }
    }

    /// <summary>A triangle, its colour between the corners by how much light each has.</summary>
    /// <param name="a">A corner.</param>
    /// <param name="b">A corner.</param>
    /// <param name="c">A corner.</param>
    /// <param name="lights">At the corners, from 0 to 1.</param>
    /// <param name="tones">The colours from no light to all of it.</param>
    public void Fill(Vec3 a, Vec3 b, Vec3 c, (double A, double B, double C) lights, (byte R, byte G, byte B)[] tones)
    {
        var twice = ((b.X - a.X) * (c.Y - a.Y)) - ((c.X - a.X) * (b.Y - a.Y));
        if (twice == 0)
        {
            return;
        }

        var (left, right) = (
            Math.Max(0, (int)Math.Ceiling(Math.Min(a.X, Math.Min(b.X, c.X)) - 0.5)),
            Math.Min(width - 1, (int)Math.Floor(Math.Max(a.X, Math.Max(b.X, c.X)) - 0.5))
        );
        var (top, bottom) = (
            Math.Max(0, (int)Math.Ceiling(Math.Min(a.Y, Math.Min(b.Y, c.Y)) - 0.5)),
            Math.Min(height - 1, (int)Math.Floor(Math.Max(a.Y, Math.Max(b.Y, c.Y)) - 0.5))
        );
        for (var y = top; y <= bottom; y++)
        {
            for (var x = left; x <= right; x++)
            {
                var (px, py) = (x + 0.5, y + 0.5);
                var v = (((px - a.X) * (c.Y - a.Y)) - ((c.X - a.X) * (py - a.Y))) / twice;
                var w = (((b.X - a.X) * (py - a.Y)) - ((px - a.X) * (b.Y - a.Y))) / twice;
                var u = 1 - v - w;
                if (u < 0 || v < 0 || w < 0)
                {
                    continue;
                }

                var depth = (float)((u * a.Z) + (v * b.Z) + (w * c.Z));
                var at = (y * width) + x;
                if (depth > near[at])
                {
                    near[at] = depth;
                    Dot(at, tones[(int)(Math.Clamp((u * lights.A) + (v * lights.B) + (w * lights.C), 0, 1) * (tones.Length - 1))]);
                }
            }
        }
    }

    /// <summary>A line where nothing nearer covers it.</summary>
    /// <param name="from">One end.</param>
    /// <param name="to">The other.</param>
    /// <param name="colour">Its colour.</param>
    /// <param name="thick">Dots across.</param>
    /// <param name="slack">How much nearer faces have to be to cover it, in dots.</param>
    public void Line(Vec3 from, Vec3 to, (byte R, byte G, byte B) colour, int thick, double slack)
    {
        var steps = (int)Math.Ceiling(Math.Max(Math.Abs(to.X - from.X), Math.Abs(to.Y - from.Y))) + 1;
        for (var i = 0; i <= steps; i++)
        {
            var p = from + ((to - from) * ((double)i / steps));
            var (x0, y0) = ((int)Math.Round(p.X - (thick / 2.0)), (int)Math.Round(p.Y - (thick / 2.0)));
            for (var y = Math.Max(0, y0); y < Math.Min(height, y0 + thick); y++)
            {
                for (var x = Math.Max(0, x0); x < Math.Min(width, x0 + thick); x++)
                {
                    var at = (y * width) + x;
                    if (p.Z + slack >= near[at])
                    {
                        Dot(at, colour);
                    }
                }
            }
        }
    }

    /// <summary>The dots, each of so many times as many in both directions.</summary>
    public byte[] Smoothed(int times)
    {
        var (across, down) = (width / times, height / times);
        var smooth = new byte[across * down * 3];
        for (var y = 0; y < down; y++)
        {
            for (var x = 0; x < across; x++)
            {
                for (var k = 0; k < 3; k++)
                {
                    var sum = 0;
                    for (var j = 0; j < times; j++)
                    {
                        for (var i = 0; i < times; i++)
                        {
                            sum += rgb[((((y * times) + j) * width) + (x * times) + i) * 3 + k];
                        }
                    }

                    smooth[(((y * across) + x) * 3) + k] = (byte)(sum / (times * times));
                }
            }
        }

        return smooth;
    }

    private void Dot(int at, (byte R, byte G, byte B) colour) => (rgb[3 * at], rgb[(3 * at) + 1], rgb[(3 * at) + 2]) = colour;
}
