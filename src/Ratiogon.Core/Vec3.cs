using System.Text.Json;
using System.Text.Json.Serialization;

namespace Ratiogon.Core;

/// <summary>A point or vector in space, in millimetres.</summary>
[JsonConverter(typeof(Vec3Json))]
public readonly record struct Vec3(double X, double Y, double Z)
{
    public static readonly Vec3 Zero;
    public static readonly Vec3 AlongX = new(1, 0, 0);
    public static readonly Vec3 AlongY = new(0, 1, 0);
    public static readonly Vec3 AlongZ = new(0, 0, 1);

    public double Length => Math.Sqrt(Dot(this));

    /// <summary>The unit vector in this direction; zero stays zero.</summary>
    public Vec3 Unit => Length is var l && l > 0 ? this / l : Zero;

    public static Vec3 operator +(Vec3 a, Vec3 b) => new(a.X + b.X, a.Y + b.Y, a.Z + b.Z);

    public static Vec3 operator -(Vec3 a, Vec3 b) => new(a.X - b.X, a.Y - b.Y, a.Z - b.Z);

    public static Vec3 operator -(Vec3 a) => new(-a.X, -a.Y, -a.Z);

    public static Vec3 operator *(Vec3 a, double s) => new(a.X * s, a.Y * s, a.Z * s);

    public static Vec3 operator /(Vec3 a, double s) => new(a.X / s, a.Y / s, a.Z / s);

    public double Dot(Vec3 b) => (X * b.X) + (Y * b.Y) + (Z * b.Z);

    public Vec3 Cross(Vec3 b) => new((Y * b.Z) - (Z * b.Y), (Z * b.X) - (X * b.Z), (X * b.Y) - (Y * b.X));

    public double DistanceTo(Vec3 b) => (this - b).Length;

    public bool IsFinite => double.IsFinite(X) && double.IsFinite(Y) && double.IsFinite(Z);

    /// <summary>Two unit vectors square to this unit vector and to each other; the first crossed with the second gives this one.</summary>
    public VecPair Across()
    {
        var least =
            Math.Abs(X) <= Math.Abs(Y) && Math.Abs(X) <= Math.Abs(Z) ? AlongX
            : Math.Abs(Y) <= Math.Abs(Z) ? AlongY
            : AlongZ;
        var a = Cross(least).Unit;
        return new VecPair(a, Cross(a));
    }

    /// <summary>This vector turned about a unit vector, by radians, right-handed (Rodrigues' formula).</summary>
    public Vec3 Turned(Vec3 about, double angle)
    {
        var (sin, cos) = Math.SinCos(angle);
        return (this * cos) + (about.Cross(this) * sin) + (about * (about.Dot(this) * (1 - cos)));
    }

    /// <summary>The angle to another vector, in radians, in [0, pi]; exact for small angles too.</summary>
    public double AngleTo(Vec3 b) => Math.Atan2(Cross(b).Length, Dot(b));

    /// <summary>Every digit, for keys by content.</summary>
    public string ToExact() => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{X:R},{Y:R},{Z:R}");

    public override string ToString() => $"({Vec2.Shown(X):0.###}, {Vec2.Shown(Y):0.###}, {Vec2.Shown(Z):0.###})";
}

/// <summary>Written as <c>[x, y, z]</c>.</summary>
internal sealed class Vec3Json : JsonConverter<Vec3>
{
    public override Vec3 Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        Span<double> v = stackalloc double[3];
        NumberArrays.Read(ref reader, v);
        return new Vec3(v[0], v[1], v[2]);
    }

    public override void Write(Utf8JsonWriter writer, Vec3 value, JsonSerializerOptions options) =>
        NumberArrays.Write(writer, [value.X, value.Y, value.Z]);
}
