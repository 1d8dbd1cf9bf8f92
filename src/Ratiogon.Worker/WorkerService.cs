using System.Text.Json;
using MessagePack;
using Ratiogon.Core;
using Ratiogon.Core.Asking;
using Ratiogon.Core.Building;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Tools.Gauges;
using Ratiogon.Exchange;
using Ratiogon.Exchange.Pictures;
using Ratiogon.Solids;

namespace Ratiogon.Worker;

/// <summary>Rebuilds with a cache that lives as long as the process.</summary>
internal sealed class WorkerService : IWorker, IDisposable
{
    private static readonly TimeSpan UntilShare = TimeSpan.FromSeconds(0.4),
        ShareEvery = TimeSpan.FromSeconds(0.2);
    private readonly NativeKernel kernel = new();
    private readonly Rebuilder rebuilder;
    private readonly Lock gate = new();
    private const int MostHelpers = 4;
    private readonly List<Rebuilder> helpers = [];
    private volatile CancellationTokenSource? asking;
    private (byte[] Bytes, Part Part)? last;

    public WorkerService() => rebuilder = new Rebuilder(kernel);

    /// <summary>Told the id of each step before it is built.</summary>
    public Action<string>? Starting { get; set; }

    /// <summary>Told now and then how far a long read, write or mesh has come, from 0 to 1.</summary>
    public Action<double>? Share { get; set; }

    public Task<byte[]> RebuildAsync(byte[] part, bool oneByOne) =>
        InTurn(() =>
        {
            rebuilder.SideBySide = !oneByOne;
            return MessagePackSerializer.Serialize(rebuilder.Rebuild(Read(part), withMesh: true, Starting), WorkerFormat.Options);
        });

    public Task<byte[]> QuickAsync(byte[] part) =>
        InTurn(() => MessagePackSerializer.Serialize(rebuilder.Quick(Read(part)), WorkerFormat.Options));

    public Task PrepareAsync(byte[] part) => InTurn(() => rebuilder.Rebuild(Read(part), withMesh: true));

    public Task<KeepsakeAnswer> KeepsakeAsync(byte[] part) =>
        InTurn(() =>
        {
            var of = Read(part);
            var built = rebuilder.Rebuild(of, withMesh: true);
            return new KeepsakeAnswer(
                KeptModel.Pack(MessagePackSerializer.Serialize(built, WorkerFormat.Options)),
                PartPicture.Draw(of, built, PictureColours.Light),
                PartPicture.Draw(of, built, PictureColours.Dark),
                built.Steps.Count(s => s.State == StepState.Failed)
            );
        });

    public Task<byte[]?> PictureAsync(byte[] part, bool dark) =>
        InTurn(() =>
        {
            var of = Read(part);
            return PartPicture.Draw(of, rebuilder.Rebuild(of, withMesh: true), dark ? PictureColours.Dark : PictureColours.Light);
        });

    public Task<string> GaugeAsync(byte[] part, string draft, string? input) =>
        InTurn(() =>
        {
            var asked = JsonSerializer.Deserialize<GaugeDraft>(draft, PartJson.Compact) ?? new GaugeDraft();
            var done = input is null ? null : JsonSerializer.Deserialize<GaugeInput>(input, PartJson.Compact);
            return JsonSerializer.Serialize(GaugeDrafting.Answer(rebuilder.Gauge(Read(part)), asked, done), PartJson.Compact);
        });

    public Task<string> ReadingsAsync(byte[] part, string[] picks) =>
        InTurn(() => JsonSerializer.Serialize(GaugeDrafting.Offered(rebuilder.Gauge(Read(part)), [.. picks]), PartJson.Compact));

    public Task<DrivesReply> DrivesAsync(byte[] part, string reading, string diary) =>
        InTurn(() =>
        {
            var of = Read(part);
            using var written = new BuildDiary(diary);
            var asked = DrivesOf.Of(of, reading, Several(written), new Progress(share => Share?.Invoke(share)));
            return asked.Done ? DriveRows.Of(asked.Value, of.Units) : new DrivesReply("", "", [], [], 0, asked.Refusal!.Message);
        });

    public Task<AskAnswer> AskAsync(byte[] part, byte[] question, string diary) =>
        InTurn(() =>
        {
            var asked = JsonSerializer.Deserialize<Question>(question, PartJson.Compact)
                ?? throw new InvalidOperationException("no question");
            using var written = new BuildDiary(diary);
            using var stop = new CancellationTokenSource();
            asking = stop;
            try
            {
                var answer = asked.Ask(Read(part), Several(written), new Progress(share => Share?.Invoke(share)), stop.Token);
                return answer.Done
                    ? new AskAnswer(JsonSerializer.SerializeToUtf8Bytes(answer.Value, PartJson.Compact), null, null, null)
                    : new AskAnswer(null, answer.Refusal!.Code, answer.Refusal.Message, answer.Refusal.Where);
            }
            finally
            {
                asking = null;
            }
        });

    public Task StopAskingAsync()
    {
        try
        {
            asking?.Cancel();
        }
        catch (ObjectDisposedException)
        {
            // It was done meanwhile.
        }

        return Task.CompletedTask;
    }

    public Task<FileAnswer> ExportVariantsAsync(byte[] part, string ending, string? only) =>
        InTurn(() =>
        {
            var zip = VariantFiles.Zip(Read(part), ending, only, rebuilder, share => Share?.Invoke(share));
            return new FileAnswer(zip.Done ? zip.Value : null, zip.Refusal?.Message);
        });

    public Task<SectionAnswer> SectionAsync(byte[] part, double[] plane) =>
        InTurn(() =>
        {
            var cut = rebuilder.Section(
                Read(part),
                new Frame(new(plane[0], plane[1], plane[2]), new(plane[3], plane[4], plane[5]), new(plane[6], plane[7], plane[8]))
            );
            return cut.Done
                ? new SectionAnswer(
                    [.. cut.Value.Select(c => c.Face)],
                    [.. cut.Value.Select(c => c.Curve.Curve)],
                    [.. cut.Value.Select(c => c.Curve.Numbers.ToArray())],
                    null
                )
                : new SectionAnswer([], [], [], cut.Refusal!.Message);
        });

    public Task<byte[]> ProbeAsync(byte[] part, double[] line) =>
        InTurn(() =>
        {
            var along = new Line3(new(line[0], line[1], line[2]), new Vec3(line[3], line[4], line[5]).Unit);
            return MessagePackSerializer.Serialize(rebuilder.Probe(Read(part), along), WorkerFormat.Options);
        });

    public Task<double[][]> InertiaAsync(byte[] part) =>
        InTurn(() => rebuilder.Inertias(Read(part)).Select(i => new[] { i.Xx, i.Yy, i.Zz, i.Xy, i.Xz, i.Yz }).ToArray());

    public Task<FileAnswer> ExportAsync(byte[] part, string ending, string options) =>
        InTurn(() =>
        {
            var written = Exporter.Write(rebuilder.Gauge(Read(part)), ending, Options(options));
            return new FileAnswer(written.Done ? written.Value : null, written.Refusal?.Message);
        });

    public Task<TextAnswer> PreviewExportAsync(byte[] part, string ending, string options) =>
        InTurn(() =>
        {
            var preview = Exporter.Preview(rebuilder.Gauge(Read(part)), ending, Options(options));
            return new TextAnswer(
                preview.Done ? JsonSerializer.Serialize(preview.Value, PartJson.Compact) : null,
                preview.Refusal?.Message
            );
        });

    public Task<ImportAnswer> CheckImportAsync(byte[] file, string name, byte[]? before, string beforeName, string[] beforeFaces) =>
        InTurn(() =>
        {
            var read = rebuilder.Read(ImportedFile.FormatOf(name), file);
            if (!read.Done)
            {
                return new ImportAnswer([], "", null, 0, read.Refusal!.Message);
            }

            var solid = read.Value.Solid;
            string[] faces = [.. Enumerable.Range(1, kernel.Faces(solid)).Select(i => $"{i}")];
            if (before is not null && kernel.Read(ImportedFile.FormatOf(beforeName), before) is { Done: true, Value: var old })
            {
                using var known = old.Solid;
                var was = kernel.Describe(known);
                Refs names =
                    beforeFaces.Length == was.Faces.Length
                        ? [.. beforeFaces]
                        : [.. Enumerable.Range(1, was.Faces.Length).Select(i => $"{i}")];
                faces = [.. ImportedFaces.Matched(was, names, kernel.Describe(solid))];
            }

            return new ImportAnswer(faces, read.Value.Name, read.Value.Colour, kernel.Mass(solid).Volume, null)
            {
                Bodies = [.. read.Value.NamesOfSeveral],
                Colours = [.. read.Value.ColoursOfSeveral],
            };
        });

    public Task<MeshAnswer> ReadMeshAsync(byte[] file, string name) =>
        Task.Run(() =>
        {
            var read = MeshFile.Read(name, file);
            return read.Done
                ? new MeshAnswer(read.Value.Mesh.ToBytes(), read.Value.Unit, read.Value.Name, [.. read.Value.Said], null)
                : new MeshAnswer(null, null, "", [], read.Refusal!.Message);
        });

    public Task<TextAnswer> ReadSvgAsync(byte[] file, string sketch) =>
        Task.Run(() =>
        {
            var read = SvgSketch.ReadAll(file, JsonSerializer.Deserialize<Sketch>(sketch, PartJson.Compact) ?? Sketch.Empty);
            return new TextAnswer(read.Done ? JsonSerializer.Serialize(read.Value, PartJson.Compact) : null, read.Refusal?.Message);
        });

    /// <summary>One thing at a time; whoever waits hears how far it has come.</summary>
    private Task<T> InTurn<T>(Func<T> work) =>
        Task.Run(() =>
        {
            lock (gate)
            {
                using var watch = new Timer(_ => Tell(), null, UntilShare, ShareEvery);
                return work();
            }
        });

    private void Tell()
    {
        if (NativeKernel.Share is { } share)
        {
            Share?.Invoke(share);
        }
    }

    /// <summary>Tells at once, on the thread that works.</summary>
    private sealed class Progress(Action<double> tell) : IProgress<double>
    {
        public void Report(double value) => tell(value);
    }

    private static ExportOptions Options(string json) =>
        JsonSerializer.Deserialize<ExportOptions>(json, PartJson.Compact) ?? new ExportOptions();

    public Task<int> HelloAsync() => Task.FromResult(Environment.ProcessId);

    public Task<bool> WarmAsync(int number) =>
        InTurn(() =>
        {
            var parts = Core.Demo.DemoParts.All;
            var travelled = JsonSerializer.SerializeToUtf8Bytes(parts[number].Build(), PartJson.Compact);
            using var own = new Rebuilder(kernel);
            var part = JsonSerializer.Deserialize<Part>(travelled, PartJson.Compact)!;
            MessagePackSerializer.Serialize(own.Quick(part), WorkerFormat.Options);
            MessagePackSerializer.Serialize(own.Rebuild(part, withMesh: true), WorkerFormat.Options);
            return number + 1 < parts.Count;
        });

    public async Task MisbehaveAsync(bool end, int megabytes)
    {
        var held = Enumerable
            .Range(0, megabytes)
            .Select(_ =>
            {
                var megabyte = new byte[1 << 20];
                Array.Fill(megabyte, (byte)1);
                return megabyte;
            })
            .ToArray();
        if (end)
        {
            System.Diagnostics.Process.GetCurrentProcess().Kill();
        }

        await Task.Delay(Timeout.Infinite);
        GC.KeepAlive(held);
    }

    public void Dispose()
    {
        rebuilder.Dispose();
        foreach (var helper in helpers)
        {
            helper.Dispose();
        }
    }

    /// <summary>As many that build side by side as there are cores, up to a few: each keeps what it has built.</summary>
    private Builders Several(BuildDiary diary)
    {
        if (diary.Careful)
        {
            return new Builders([diary.Watched(Build(rebuilder))]);
        }

        while (helpers.Count + 1 < Math.Min(Environment.ProcessorCount, MostHelpers))
        {
            helpers.Add(new Rebuilder(kernel));
        }

        return new Builders([.. helpers.Prepend(rebuilder).Select(Build).Select(diary.Watched)]);
    }

    private static Func<Part, RebuildResult> Build(Rebuilder with) => part => with.Rebuild(part, withMesh: false);

    /// <summary>The same part as the last time is the same object, so that nothing is built for it anew.</summary>
    private Part Read(byte[] part)
    {
        if (last is { } known && part.AsSpan().SequenceEqual(known.Bytes))
        {
            return known.Part;
        }

        var read = JsonSerializer.Deserialize<Part>(part, PartJson.Compact) ?? throw new InvalidOperationException("no part");
        last = (part, read);
        return read;
    }
}
