using System.Reflection;
using Ratiogon.Core.Forms;

namespace Ratiogon.Solids.Tests;

/// <summary>A kernel that counts what is asked of it.</summary>
public class CountingKernel : DispatchProxy
{
    private readonly Dictionary<string, int> calls = [];
    private ISolidKernel inner = null!;

    public static CountingKernel About(ISolidKernel inner)
    {
        var made = (CountingKernel)(object)Create<ISolidKernel, CountingKernel>();
        made.inner = inner;
        return made;
    }

    public int Calls(string method) => calls.GetValueOrDefault(method);

    protected override object? Invoke(MethodInfo? targetMethod, object?[]? args)
    {
        calls[targetMethod!.Name] = Calls(targetMethod.Name) + 1;
        return targetMethod.Invoke(inner, args);
    }
}
