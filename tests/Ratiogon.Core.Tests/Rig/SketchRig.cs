namespace Ratiogon.Core.Tests.Rig;

/// <summary>Seeded sequences of inputs, each followed by a look at what must be true; a failure is brought to the shortest sequence
/// that shows it.</summary>
internal static class SketchRig
{
    private const int MostTries = 400;

    /// <summary>How often each refusal came, with an example.</summary>
    public static System.Collections.Concurrent.ConcurrentDictionary<string, (int Count, string Example)> Refusals { get; } = new();

    /// <summary>A failure: its class, what is wrong, and the shortest sequence of inputs found that shows it, in words.</summary>
    public sealed record Failure(string Kind, string Wrong, int Seed, IReadOnlyList<string> Inputs, IReadOnlyList<int> Numbers)
    {
        public override string ToString() => $"[{Seed}] {Wrong}\n    {string.Join("\n    ", Inputs)}";
    }

    /// <summary>Runs one sequence; null where nothing is wrong.</summary>
    public static Failure? Run(int seed, int length, bool shorten = true)
    {
        var random = new Random(seed);
        var numbers = Enumerable.Range(0, length).Select(_ => random.Next()).ToList();
        if (First(seed, numbers) is not { } failure)
        {
            return null;
        }

        numbers = numbers[..failure.Inputs.Count];
        if (shorten)
        {
            var kind = failure.Kind;
            var tries = 0;
            for (var chunk = Math.Max(1, numbers.Count / 2); chunk >= 1; chunk /= 2)
            {
                for (var at = 0; at < numbers.Count && tries < MostTries; )
                {
                    tries++;
                    List<int> fewer = [.. numbers[..at], .. numbers[Math.Min(numbers.Count, at + chunk)..]];
                    if (First(seed, fewer) is { } still && still.Kind == kind)
                    {
                        (numbers, failure) = (fewer[..still.Inputs.Count], still);
                    }
                    else
                    {
                        at += chunk;
                    }
                }
            }
        }

        return failure;
    }

    /// <summary>The user after a sequence of inputs.</summary>
    public static SketchUser Replay(int seed, IEnumerable<int> numbers)
    {
        var user = User(seed);
        foreach (var number in numbers)
        {
            user.Do(number);
        }

        return user;
    }

    /// <summary>Small, ordinary and large sketches, some far from the origin.</summary>
    private static SketchUser User(int seed) =>
        new(
            (seed % 5) switch
            {
                3 => 1e-2,
                4 => 1e3,
                _ => 1.0,
            },
            seed % 7 == 6 ? new Vec2(20_000, -7000) : default
        );

    private static Failure? First(int seed, List<int> numbers)
    {
        var user = User(seed);
        var told = new List<string>();
        foreach (var number in numbers)
        {
            string? wrong;
            try
            {
                user.Do(number);
                wrong = Invariants.Broken(user);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                wrong =
                    $"threw {e.GetType().Name}: {e.Message} "
                    + $"{e.StackTrace?.Split('\n').Select(l => l.Trim()).FirstOrDefault(l => l.Contains("Ratiogon.Core.", StringComparison.Ordinal))}";
            }

            if (user.Refused is { } refusal)
            {
                Refusals.AddOrUpdate(refusal.Code, (1, user.Told + " -> " + refusal.Message), (_, n) => (n.Count + 1, n.Example));
            }

            told.Add(user.Told);
            if (wrong is not null)
            {
                return new Failure(wrong.Split(':')[0], wrong, seed, told, numbers[..told.Count]);
            }
        }

        return null;
    }
}
