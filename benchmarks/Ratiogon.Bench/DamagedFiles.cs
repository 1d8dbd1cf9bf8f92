using System.Diagnostics;
using Ratiogon.Core.Building;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Kernel;
using Ratiogon.Solids;

namespace Ratiogon.Bench;

/// <summary>STEP and IGES files of the demo parts with random faults, read in a process of their own: what is read, what is refused,
/// what brings the geometry library down, and what never comes back.</summary>
internal static class DamagedFiles
{
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(20);

    /// <param name="count">How many of each format.</param>
    public static void Run(int count)
    {
        foreach (var format in new[] { BodyFormat.Iges, BodyFormat.Step214 })
        {
            var (read, refused, down, hung) = (0, 0, 0, 0);
            for (var next = 0; next < count; )
            {
                var start = new ProcessStartInfo(Environment.ProcessPath!) { RedirectStandardOutput = true, RedirectStandardError = true };
                foreach (
                    var argument in new[]
                    {
                        typeof(DamagedFiles).Assembly.Location,
                        "damaged-inside",
                        $"{(int)format}",
                        $"{next}",
                        $"{count}",
                    }
                )
                {
                    start.ArgumentList.Add(argument);
                }

                using var reading = Process.Start(start)!;
                _ = reading.StandardError.ReadToEndAsync();
                var begun = next;
                while (true)
                {
                    var line = reading.StandardOutput.ReadLineAsync();
                    if (!line.Wait(Longest))
                    {
                        hung++;
                        Console.WriteLine($"{format} {next}: not read within {Longest.TotalSeconds} s");
                        reading.Kill();
                        next++;
                        break;
                    }

                    if (line.Result is not { } said)
                    {
                        reading.WaitForExit();
                        if (next < count)
                        {
                            down++;
                            Console.WriteLine($"{format} {next}: the library ended the process ({reading.ExitCode})");
                            next++;
                        }

                        break;
                    }

                    if (said is "read" or "refused")
                    {
                        (read, refused) = (read + (said == "read" ? 1 : 0), refused + (said == "refused" ? 1 : 0));
                        next++;
                    }
                }

                if (next == begun)
                {
                    throw new InvalidOperationException("the reading process did not start");
                }
            }

            Console.WriteLine(
                $"{format}, {count} damaged files: {read} read, {refused} refused, {down} ended their process, {hung} not back "
                    + $"within {Longest.TotalSeconds} s"
            );
        }
    }

    /// <summary>Reads the files from one number on; a word for each.</summary>
    public static void Inside(BodyFormat format, int from, int count)
    {
        var kernel = new NativeKernel();
        using var rebuilder = new Rebuilder(kernel);
        var whole = new[] { MotorPlate.Build(), RotorHub.Build() }
            .Select(part =>
                kernel.Write(format, [.. rebuilder.Gauge(part).Bodies.Select(b => new NamedSolid("Body", b.Solid, "#336699"))]).Value
            )
            .ToArray();
        for (var n = from; n < count; n++)
        {
            var outcome = kernel.Read(format, Damaged(whole[n % whole.Length], new Random(n)));
            Console.WriteLine(outcome.Done ? "read" : "refused");
        }
    }

    private static byte[] Damaged(byte[] file, Random random)
    {
        var made = file.ToList();
        for (var times = random.Next(1, 5); times > 0; times--)
        {
            var at = random.Next(made.Count);
            switch (random.Next(7))
            {
                case 0:
                    made.RemoveRange(at, made.Count - at);
                    break;
                case 1:
                    made[at] = (byte)random.Next(256);
                    break;
                case 2:
                    made[at] = (byte)"0123456789-.,;#()'D "[random.Next(20)];
                    break;
                case 3:
                    made.RemoveRange(at, Math.Min(random.Next(1, 40), made.Count - at));
                    break;
                case 4:
                    made.InsertRange(at, made.GetRange(at, Math.Min(random.Next(1, 40), made.Count - at)));
                    break;
                case 5:
                    // Another number in the place of one, in as many columns.
                    while (at < made.Count && made[at] is < (byte)'0' or > (byte)'9')
                    {
                        at++;
                    }

                    for (; at < made.Count && made[at] is >= (byte)'0' and <= (byte)'9'; at++)
                    {
                        made[at] = (byte)random.Next('0', '9' + 1);
                    }

                    break;
                default:
                    var other = random.Next(made.Count);
                    var length = Math.Min(random.Next(1, 80), made.Count - Math.Max(at, other));
                    for (var i = 0; i < length; i++)
                    {
                        (made[at + i], made[other + i]) = (made[other + i], made[at + i]);
                    }

                    break;
            }

            if (made.Count == 0)
            {
                break;
            }
        }

        return [.. made];
    }
}
