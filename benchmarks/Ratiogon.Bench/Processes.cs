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

    /// <summary>A process and all that it started, and these did.</summary>
    public static IReadOnlyList<int> TreeOf(int process)
    {
        var parents = Directory
            .GetDirectories("/proc")
            .Select(d => int.TryParse(Path.GetFileName(d), out var pid) ? pid : 0)
            .Where(pid => pid > 0)
            .ToDictionary(pid => pid, ParentOf);
        var tree = new List<int> { process };
        for (var i = 0; i < tree.Count; i++)
        {
            tree.AddRange(parents.Where(p => p.Value == tree[i]).Select(p => p.Key));
        }

        return tree;
    }

    /// <summary>The fourth field of its stat, after the name in brackets (proc(5)).</summary>
    private static int ParentOf(int process)
    {
        try
        {
            var stat = File.ReadAllText($"/proc/{process}/stat");
            return int.Parse(stat[(stat.LastIndexOf(')') + 2)..].Split(' ')[1], System.Globalization.CultureInfo.InvariantCulture);
        }
        catch (IOException)
        {
            return 0;
        }
    }
}
