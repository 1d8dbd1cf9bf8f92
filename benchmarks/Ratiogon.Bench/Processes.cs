namespace Ratiogon.Bench;

/// <summary>What Linux tells of running processes.</summary>
internal static class Processes
{
    /// <summary>A number read of every process whose command line holds a text; those that end meanwhile are passed over.</summary>
    /// <param name="text">In the command line.</param>
    /// <param name="read">Of the process's folder in /proc.</param>
    public static IReadOnlyList<double> Of(string text, Func<string, double> read)
    {
        var found = new List<double>();
        foreach (var folder in Directory.GetDirectories("/proc").Where(d => int.TryParse(Path.GetFileName(d), out _)))
        {
            try
            {
                if (File.ReadAllText($"{folder}/cmdline").Contains(text, StringComparison.Ordinal))
                {
                    found.Add(read(folder));
                }
            }
            catch (IOException)
            {
                // It ended meanwhile.
            }
        }

        return found;
    }
}
