using System.Collections.Immutable;
using Ratiogon.Core.Forms;

namespace Ratiogon.Core.Building;

/// <summary>What a form step gave: of the bodies that it saw those after it, and its material for steps that repeat it.</summary>
internal sealed record Built(ImmutableArray<FormBody> Bodies, ImmutableArray<MaterialResult> Material, FormResult Result)
{
    /// <summary>What it is kept by: what only looks like the real thing never by the key of that.</summary>
    public string KeptAs(string key) => Bodies.Any(b => b.OnlyLooks) ? key + Combining.QuickMark : key;
}

/// <summary>A form ready to be made: its content key, and how it is made. Making it changes nothing of the rebuild.</summary>
internal sealed record Making(string Key, Func<Outcome<Built>> Make);
