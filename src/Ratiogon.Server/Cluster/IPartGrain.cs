using System.Collections.Immutable;
using Orleans.Concurrency;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Exchange;
using Ratiogon.Server.Parts;
using Ratiogon.Worker;

namespace Ratiogon.Server.Cluster;

/// <summary>
/// A part where it is owned: in the whole cluster one place changes and builds it, whichever server asks. Its key is the part's id, and
/// beside it the account whose it is. All but <see cref="FollowAsync"/> answers the refusal <see cref="PartGrain.Gone"/> where there is no
/// such part.
/// </summary>
internal interface IPartGrain : IGrainWithGuidCompoundKey
{
    /// <summary>Tells a server from now on what becomes of the part, and now what it does not know; null where there is no such
    /// part.</summary>
    /// <param name="follower">The server's end.</param>
    /// <param name="known">What it has.</param>
    Task<Followed?> FollowAsync(IPartFollower follower, Known known);

    /// <summary>The server is told no more; who is followed by none ends.</summary>
    Task UnfollowAsync(IPartFollower follower);

    /// <summary>The part has this revision in the database; it is looked at where that is news. Where that fails, who says so hears of it
    /// and says so again.</summary>
    Task HearAsync(long revision);

    /// <summary>The part was deleted.</summary>
    [OneWay]
    Task GoneAsync();

    /// <param name="command">What is done.</param>
    /// <param name="account">Whose edit it is.</param>
    /// <param name="expected">The revision that it is made on; null for whichever there is.</param>
    /// <param name="known">The revision that who asks has.</param>
    Task<EditAnswer> ApplyAsync(Carried<PartCommand> command, Guid account, long? expected, long known);

    Task<EditAnswer> UndoAsync(Guid account, long? expected, long known);

    Task<EditAnswer> RedoAsync(Guid account, long? expected, long known);

    Task<EditAnswer> ReplaceAsync(Carried<Part> state, string words, Guid account, long? expected, long known);

    Task<EditAnswer> ImportBodyAsync(Carried<byte[]> file, string name, string? step, Guid account, long known);

    Task<EditAnswer> ImportMeshAsync(Carried<byte[]> file, string name, Core.Meshes.MeshUnit? unit, string? step, Guid account, long known);

    Task<EditAnswer> ImportSvgAsync(Carried<byte[]> file, string name, string? sketch, Guid account, long known);

    Task<Answer<string>> GaugeAsync(string draft, string? input);

    Task<Answer<DrivesReply>> DrivesAsync(string reading);

    Task<Answer<byte[]>> AskAsync(Carried<Question> question);

    Task<Answer<byte[]>> ExportVariantsAsync(string ending, string? only);

    Task<Answer<ImmutableArray<GaugeShown>>> ReadingsAsync(Carried<ImmutableArray<string>> picks);

    Task<Answer<SectionAnswer>> SectionAsync(double[] plane);

    Task<Answer<byte[]>> ExportAsync(string ending, Carried<ExportOptions> options);

    Task<Answer<ExportPreview>> PreviewExportAsync(string ending, Carried<ExportOptions> options);

    Task<Answer<RebuildResult>> TryAsync(Carried<Part> part, bool quick);

    Task<Answer<byte[]?>> PictureAsync(Carried<Part> state, bool dark);

    Task<Answer<ImmutableArray<Stretch>>> ProbeAsync(double[] line);

    Task<Answer<ImmutableArray<Inertia>>> InertiaAsync();

    Task<bool> StopAsync();
}

/// <summary>A server that somebody looks at a part through: what it is told by who owns it.</summary>
internal interface IPartFollower : IGrainObserver
{
    /// <summary>The part has become this. Over when it is taken; then the next may come.</summary>
    Task BecameAsync(MomentNews news);

    [OneWay]
    Task BuildingAsync(string? step);

    [OneWay]
    Task ShareAsync(double share);
}

/// <summary>What a server has of a part.</summary>
/// <param name="Owner">Who told it: what was built by another is not the same.</param>
/// <param name="Stored">The revision as kept; 0 for none.</param>
/// <param name="Built">The revision that was built; 0 for none.</param>
[GenerateSerializer, Immutable]
internal readonly record struct Known([property: Id(0)] Guid Owner, [property: Id(1)] long Stored, [property: Id(2)] long Built);

/// <summary>What a server is told that begins to follow.</summary>
/// <param name="Owner">By whom: made anew each time that the part begins to live.</param>
/// <param name="News">What it did not have.</param>
[GenerateSerializer, Immutable]
internal sealed record Followed([property: Id(0)] Guid Owner, [property: Id(1)] MomentNews News);

/// <summary>What became of an edit: the part, or the refusal, and with that what is news.</summary>
[GenerateSerializer, Immutable]
internal sealed class EditAnswer
{
    [Id(0)]
    public MomentNews? News { get; init; }

    [Id(1)]
    public Carried<Core.Refusal>? Refusal { get; init; }

    /// <summary>Of a file that was read: what of it was left out, and its faults.</summary>
    [Id(2)]
    public string[] Said { get; init; } = [];
}
