using System.Collections.Immutable;
using System.Globalization;
using Ratiogon.Core;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Quantities;

namespace Ratiogon.Solids;

/// <summary>Bodies written to files and read from them.</summary>
public sealed partial class NativeKernel
{
    private static readonly Lock Files = new();

    /// <summary>How far a file that is being read or written, or a mesh, has come: 0 to 1; null where none is under way. May
    /// be asked for by another thread.</summary>
    public static double? Share => Native.Progress() is >= 0 and var share ? share : null;

    public Outcome<byte[]> Write(BodyFormat format, IReadOnlyList<NamedSolid> bodies, LengthUnit unit = LengthUnit.Millimetre)
    {
        if (bodies.Count == 0)
        {
            return new Refusal("export.empty", "The part has no body to write yet.");
        }

        return InFile(path =>
        {
            // The handles are kept alive by the bodies, which the caller holds.
            var handles = bodies.Select(b => Of(b.Solid)).ToArray();
            string[] names = [.. bodies.Select(b => format == BodyFormat.Iges ? Plain(b.Name) : StepText.Marked(b.Name))];
            double[] colours = [.. bodies.SelectMany(b => Colours(b.Colour))];
            var done =
                Native.FileWrite(
                    (int)format,
                    unit == LengthUnit.Inch ? 1 : 0,
                    Array.ConvertAll(handles, h => h.DangerousGetHandle()),
                    names,
                    colours,
                    handles.Length,
                    path
                ) == 0;
            GC.KeepAlive(handles);
            return done
                ? (Outcome<byte[]>)(format == BodyFormat.Iges ? File.ReadAllBytes(path) : StepText.Encoded(File.ReadAllBytes(path)))
                : Failed(Word(format));
        });
    }

    public Outcome<ReadBodies> Read(BodyFormat format, ReadOnlyMemory<byte> file) =>
        InFile<Outcome<ReadBodies>>(path =>
        {
            if (format == BodyFormat.Iges && IgesFile.Check(file.Span) is { } broken)
            {
                return broken;
            }

            if (format != BodyFormat.Iges && StepFile.Check(file.ToArray()) is { } wrong)
            {
                return wrong;
            }

            File.WriteAllBytes(path, file.Span);
            if (Native.FileRead((int)format, path, out var shape) != 0)
            {
                return new Refusal(
                    $"import.{Word(format).ToLowerInvariant()}",
                    $"The {Word(format)} file cannot be used: {Native.Error()}."
                );
            }

            Span<double> colour = stackalloc double[4];
            Native.FileReadColour(colour);
            return new ReadBodies(new NativeSolid(shape), Native.ReadName(), Hexadecimal(colour)) { Said = Said(), Bodies = Bodies() };
        });

    /// <summary>What was said of the bodies of the file that was read last.</summary>
    private static ImmutableArray<ReadBody> Bodies()
    {
        var bodies = ImmutableArray.CreateBuilder<ReadBody>();
        Span<double> colour = stackalloc double[4];
        for (var i = 0; i < Native.ReadBodies(); i++)
        {
            bodies.Add(new ReadBody(Native.ReadBody(i, colour), Hexadecimal(colour)));
        }

        return bodies.ToImmutable();
    }

    private static string? Hexadecimal(ReadOnlySpan<double> colour) =>
        colour[0] == 0 ? null : $"#{Byte(colour[1]):x2}{Byte(colour[2]):x2}{Byte(colour[3]):x2}";

    /// <summary>What was left out of the file that was read last.</summary>
    private static ImmutableArray<string> Said()
    {
        Span<int> left = stackalloc int[3];
        Native.FileReadLeft(left);
        var (said, flaw) = (ImmutableArray.CreateBuilder<string>(), Native.ReadFlaw());
        void Count(int n, string one, string many)
        {
            if (n > 0)
            {
                said.Add($"{n} {(n == 1 ? one : many)}");
            }
        }

        Count(left[0], "open shell or loose face is left out", "open shells and loose faces are left out");
        Count(left[1], "curve outside of bodies is left out", "curves outside of bodies are left out");
        Count(left[2], "thing in the file could not be read", "things in the file could not be read");
        if (flaw.Length > 0)
        {
            said.Add($"what was read is not sound: {flaw}");
        }

        return said.ToImmutable();
    }

    private static int Byte(double share) => (int)Math.Round(Math.Clamp(share, 0, 1) * 255);

    private static double[] Colours(string hex) =>
        [
            .. Enumerable
                .Range(0, 3)
                .Select(i => int.Parse(hex.AsSpan(1 + (2 * i), 2), NumberStyles.HexNumber, CultureInfo.InvariantCulture) / 255.0),
        ];

    private static string Word(BodyFormat format) => format == BodyFormat.Iges ? "IGES" : "STEP";

    /// <summary>Runs with the path of a file of its own, which goes away afterwards. One at a time in a process: the library's readers
    /// and writers share tables and settings. Forms and measures of bodies that share no geometry may run side by side.</summary>
    private static T InFile<T>(Func<string, T> work)
    {
        var path = Path.Combine(Path.GetTempPath(), $"ratiogon-{Guid.NewGuid():N}.tmp");
        try
        {
            lock (Files)
            {
                return work(path);
            }
        }
        finally
        {
            File.Delete(path);
        }
    }

    private static string Plain(string name) =>
        string.Concat(
                name.Select(c =>
                    c is '\'' or '\\' ? ' '
                    : c < 128 ? c
                    : '_'
                )
            )
            .ToString(CultureInfo.InvariantCulture);
}
