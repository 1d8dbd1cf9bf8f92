using System.Diagnostics;
using System.Reflection;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Bench;

/// <summary>A kernel that keeps the time of what is asked of it.</summary>
public class TimedKernel : DispatchProxy
{
    private ISolidKernel inner = null!;

    public Dictionary<string, (int Calls, double Milliseconds)> Spent { get; } = [];

    /// <summary>What was asked, how often and for how long, the longest first.</summary>
    public string Told =>
        string.Join(
            ", ",
            Spent.OrderByDescending(s => s.Value.Milliseconds).Select(s => $"{s.Key} {s.Value.Calls} x {s.Value.Milliseconds:0.0}")
        );

    public static ISolidKernel About(ISolidKernel inner)
    {
        var made = Create<ISolidKernel, TimedKernel>();
        ((TimedKernel)(object)made).inner = inner;
        return made;
    }

    protected override object? Invoke(MethodInfo? targetMethod, object?[]? args)
    {
        var clock = Stopwatch.StartNew();
        try
        {
            return targetMethod!.Invoke(inner, args);
        }
        finally
        {
            var (calls, spent) = Spent.GetValueOrDefault(targetMethod!.Name);
            Spent[targetMethod.Name] = (calls + 1, spent + clock.Elapsed.TotalMilliseconds);
        }
    }
}
