using System.Collections.Immutable;
using Ratiogon.Core.Forms;

namespace Ratiogon.Core.Tools.Forms;

/// <summary>A form that can be made.</summary>
/// <param name="Kind">As in files.</param>
/// <param name="Label">As shown.</param>
/// <param name="Make">Makes an empty one.</param>
public sealed record FormKind(string Kind, string Label, Func<FormStep> Make)
{
    /// <summary>Whether it makes a body from nothing; the others change bodies that are there.</summary>
    public bool Begins { get; init; }
}

/// <summary>Every form.</summary>
public static class FormCatalog
{
    public static ImmutableArray<FormKind> All { get; } =
    [
        new("extrude", "Extrude", () => new ExtrudeStep("", 0, "", "")) { Begins = true },
        new("revolve", "Revolve", () => new RevolveStep("", 0, "", "", "")) { Begins = true },
        new("sweep", "Sweep", () => new SweepStep("", 0, "", [])) { Begins = true },
        new("loft", "Loft", () => new LoftStep("", 0, "", [])) { Begins = true },
        new("hole", "Hole", () => new HoleStep("", 0, "", [])),
        new("thread", "Thread", () => new ThreadStep("", 0, "", "")),
        new("fillet", "Fillet", () => new FilletStep("", 0, "", [])),
        new("chamfer", "Chamfer", () => new ChamferStep("", 0, "", [])),
        new("shell", "Shell", () => new ShellStep("", 0, "", [])),
        new("draft", "Draft", () => new DraftStep("", 0, "", [], "")),
        new("mirror", "Mirror", () => new MirrorStep("", 0, "", [], "")),
        new("pattern", "Pattern", () => new PatternStep("", 0, "", [])),
        new("split", "Split", () => new SplitStep("", 0, "", "")),
        new("combine", "Combine bodies", () => new CombineStep("", 0, "", "", [])),
    ];

    public static FormKind? Find(string kind) => All.FirstOrDefault(k => k.Kind == kind);
}
