using System.Text.Json.Serialization;

namespace Ratiogon.Core.Datums;

/// <summary>What a datum is.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<DatumKind>))]
public enum DatumKind
{
    [JsonStringEnumMemberName("plane")]
    Plane,

    [JsonStringEnumMemberName("axis")]
    Axis,

    [JsonStringEnumMemberName("point")]
    Point,

    [JsonStringEnumMemberName("frame")]
    Frame,
}
