namespace Ratiogon.Worker;

/// <summary>What a worker process does. Parts travel as part JSON, results as MessagePack, both as bytes.</summary>
public interface IWorker
{
    /// <summary>Builds a part; answers a <see cref="Core.Parts.Rebuilding.RebuildResult"/>.</summary>
    Task<byte[]> RebuildAsync(byte[] part);

    /// <summary>Does one thing to a draft of the measuring tool; draft, input (or null) and answer are JSON.</summary>
    Task<string> GaugeAsync(byte[] part, string draft, string? input);

    /// <summary>Every reading that picks have, as JSON.</summary>
    Task<string> ReadingsAsync(byte[] part, string[] picks);

    /// <summary>The curves where the body meets a plane (origin, x, y).</summary>
    Task<SectionAnswer> SectionAsync(byte[] part, double[] plane);

    /// <summary>The stretches of material along a line (origin, direction), as MessagePack.</summary>
    Task<byte[]> ProbeAsync(byte[] part, double[] line);

    /// <summary>Six moments of inertia for every body.</summary>
    Task<double[][]> InertiaAsync(byte[] part);

    /// <summary>The part's bodies as STEP.</summary>
    Task<FileAnswer> WriteStepAsync(byte[] part);

    /// <summary>Reads a STEP file to see whether it can be used; answers its volume in mm³.</summary>
    Task<DistanceAnswer> CheckStepAsync(byte[] file);

    /// <summary>The process id, and a sign of life.</summary>
    Task<int> HelloAsync();

    /// <summary>For the tests of the pool: never answers, or ends the process.</summary>
    Task MisbehaveAsync(bool end);
}

/// <summary>A number, or why there is none.</summary>
public sealed record DistanceAnswer(double Value, double[] Points, string? Refusal);

/// <summary>Curves with the names of their faces, as kinds and flat numbers, or why there are none.</summary>
public sealed record SectionAnswer(string[] Faces, string[] Curves, double[][] Numbers, string? Refusal);

/// <summary>A file, or why there is none.</summary>
public sealed record FileAnswer(byte[]? File, string? Refusal);
