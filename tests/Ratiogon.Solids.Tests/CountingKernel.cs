using System.Collections.Concurrent;
using System.Reflection;
using Ratiogon.Core.Kernel;

namespace Ratiogon.Solids.Tests;

/// <summary>A kernel that counts how often each of its methods is called.</summary>
public class CountingKernel : DispatchProxy
{
    private readonly ConcurrentDictionary<string, int> calls = [];
    private ISolidKernel inner = null!;

    /// <summary>Called with the name of the method before each call.</summary>
    public Action<string> Before { get; set; } = _ => { };

    public static CountingKernel About(ISolidKernel inner)
    {
        var made = (CountingKernel)(object)Create<ISolidKernel, CountingKernel>();
        made.inner = inner;
        return made;
    }

    public int Calls(string method) => calls.GetValueOrDefault(method);

    protected override object? Invoke(MethodInfo? targetMethod, object?[]? args)
    {
        calls.AddOrUpdate(targetMethod!.Name, 1, (_, n) => n + 1);
        Before(targetMethod.Name);
        return targetMethod.Invoke(inner, args);
    }
}
