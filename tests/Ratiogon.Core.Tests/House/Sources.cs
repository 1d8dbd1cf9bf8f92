namespace Ratiogon.Core.Tests.House;

/// <summary>The source of the project, as it lies on the disk.</summary>
internal static class Sources
{
    /// <summary>The folder that everything is in.</summary>
    public static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Ratiogon.slnx")))
        {
            at = Path.GetDirectoryName(at)!;
        }

        return at;
    }

    /// <summary>The files of a folder of it that were written by hand.</summary>
    public static IEnumerable<string> Files(params string[] folder) =>
        Directory
            .EnumerateFiles(Path.Combine([Root(), .. folder]), "*.cs", SearchOption.AllDirectories)
            .Where(f => !Array.Exists(["/obj/", "/bin/", "/Migrations/"], g => f.Contains(g, StringComparison.Ordinal)));
}
