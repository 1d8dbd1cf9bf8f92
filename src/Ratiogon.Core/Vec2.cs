using System.Text.Json;
using System.Text.Json.Serialization;

namespace Ratiogon.Core;

/// <summary>A point or vector of a sketch plane, in millimetres.</summary>
[JsonConverter(typeof(Vec2Json))]
public readonly record struct Vec2(double X, double Y)
{
    public static readonly Vec2 Zero;

    public double Length => Math.Sqrt((X * X) + (Y * Y));

    /// <summary>The angle from the x axis, in radians, in (-pi, pi].</summary>
    public double Angle => Math.Atan2(Y, X);

    public bool IsFinite => double.IsFinite(X) && double.IsFinite(Y);

    /// <summary>The vector turned a quarter turn counterclockwise.</summary>
    public Vec2 Left => new(-Y, X);

    /// <summary>The unit vector in this direction; zero stays zero.</summary>
    public Vec2 Unit => Length is var l && l > 0 ? this / l : Zero;

    public static Vec2 operator +(Vec2 a, Vec2 b) => new(a.X + b.X, a.Y + b.Y);

    public static Vec2 operator -(Vec2 a, Vec2 b) => new(a.X - b.X, a.Y - b.Y);

    public static Vec2 operator -(Vec2 a) => new(-a.X, -a.Y);

    public static Vec2 operator *(Vec2 a, double s) => new(a.X * s, a.Y * s);

    public static Vec2 operator *(double s, Vec2 a) => new(a.X * s, a.Y * s);

    public static Vec2 operator /(Vec2 a, double s) => new(a.X / s, a.Y / s);

    public static Vec2 Polar(double angle, double radius = 1) => new(radius * Math.Cos(angle), radius * Math.Sin(angle));

    public double Dot(Vec2 b) => (X * b.X) + (Y * b.Y);

    /// <summary>The z of the cross product; positive when <paramref name="b"/> lies to the left.</summary>
    public double Cross(Vec2 b) => (X * b.Y) - (Y * b.X);

    public double DistanceTo(Vec2 b) => (this - b).Length;

    /// <summary>The nearest point to this one on the unbounded line through <paramref name="a"/> and <paramref name="b"/>.</summary>
    public Vec2 FootOn(Vec2 a, Vec2 b)
    {
        var d = b - a;
        var squared = d.Dot(d);
        return squared > 0 ? a + (d * ((this - a).Dot(d) / squared)) : a;
    }

    /// <summary>A coordinate as it is shown: to a thousandth, and nothing is not minus nothing.</summary>
    internal static double Shown(double coordinate) => Math.Round(coordinate, 3) + 0.0;

    public override string ToString() => $"({Shown(X):0.###}, {Shown(Y):0.###})";
}

/// <summary>Written as <c>[x, y]</c>.</summary>
internal sealed class Vec2Json : JsonConverter<Vec2>
{
    public override Vec2 Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        Span<double> v = stackalloc double[2];
        NumberArrays.Read(ref reader, v);
        return new Vec2(v[0], v[1]);
    }

    public override void Write(Utf8JsonWriter writer, Vec2 value, JsonSerializerOptions options) =>
        NumberArrays.Write(writer, [value.X, value.Y]);
}

internal static class NumberArrays
{
    public static void Read(ref Utf8JsonReader reader, scoped Span<double> into)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException($"expected an array of {into.Length} numbers");
        }

        for (var i = 0; i < into.Length; i++)
        {
            if (!reader.Read() || reader.TokenType != JsonTokenType.Number)
            {
                throw new JsonException($"expected an array of {into.Length} numbers");
            }

            into[i] = reader.GetDouble();
            if (!double.IsFinite(into[i]) || Math.Abs(into[i]) > Tolerances.LargestSize)
            {
                throw new JsonException($"a coordinate must lie within +-{Tolerances.LargestSize:0} mm");
            }
        }

        if (!reader.Read() || reader.TokenType != JsonTokenType.EndArray)
        {
            throw new JsonException($"expected an array of {into.Length} numbers");
        }
    }

    public static void Write(Utf8JsonWriter writer, ReadOnlySpan<double> values)
    {
        writer.WriteStartArray();
        foreach (var v in values)
        {
            writer.WriteNumberValue(v == 0 ? 0 : v);
        }

        writer.WriteEndArray();
    }
}
