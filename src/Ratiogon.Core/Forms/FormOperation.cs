using System.Text.Json.Serialization;

namespace Ratiogon.Core.Forms;

/// <summary>What a form does to the material that is there.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FormOperation>))]
public enum FormOperation
{
    /// <summary>Adds to the bodies that it meets.</summary>
    [JsonStringEnumMemberName("join")]
    Join,

    /// <summary>Takes from them.</summary>
    [JsonStringEnumMemberName("cut")]
    Cut,

    /// <summary>Leaves of them only what it covers.</summary>
    [JsonStringEnumMemberName("intersect")]
    Intersect,

    /// <summary>Stands as a body of its own.</summary>
    [JsonStringEnumMemberName("body")]
    Body,
}
