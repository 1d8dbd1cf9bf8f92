using System.Diagnostics;

namespace Ratiogon.TestHost;

/// <summary>A process that runs no longer and has not ended, as one that hangs looks from outside.</summary>
public static class Hang
{
    /// <summary>Holds a process by its id.</summary>
    public static Task BeginAsync(int pid) => SignalAsync("-STOP", pid);

    /// <summary>Lets it go on.</summary>
    public static Task EndAsync(int pid) => SignalAsync("-CONT", pid);

    private static async Task SignalAsync(string signal, int pid)
    {
        using var kill = Process.Start("kill", [signal, $"{pid}"]);
        await kill.WaitForExitAsync();
    }
}
