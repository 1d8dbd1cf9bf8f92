using System.Reflection;
using System.Runtime.CompilerServices;

namespace Ratiogon.Core.Tests.House;

/// <summary>What is public has names: nothing that others are given or asked for is a bare tuple.</summary>
public sealed class TupleTests
{
    private const BindingFlags Own =
        BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Instance | BindingFlags.Static | BindingFlags.DeclaredOnly;

    [Theory]
    [InlineData("Ratiogon.Core")]
    [InlineData("Ratiogon.Solids")]
    [InlineData("Ratiogon.Exchange")]
    [InlineData("Ratiogon.Worker")]
    public void Nothing_public_is_a_tuple(string assembly) =>
        Types(Load(assembly))
            .Where(t => t.IsVisible)
            .SelectMany(t => t.GetMembers(Own).Where(Seen).SelectMany(m => TypesOf(m).Where(Holds).Select(_ => $"{t.FullName}.{m.Name}")))
            .Distinct()
            .ShouldBeEmpty();

    [Fact]
    public void One_would_be_found()
    {
        Holds(typeof(Outcome<IReadOnlyList<(int, string)>>)).ShouldBeTrue();
        Holds(typeof((int, int)?)).ShouldBeTrue();
        Holds(typeof((int, int)[])).ShouldBeTrue();
        Holds(typeof(Dictionary<string, int>)).ShouldBeFalse();
    }

    /// <summary>Those that can be looked at without the libraries that others of them stand on.</summary>
    private static IEnumerable<Type> Types(Assembly assembly)
    {
        try
        {
            return assembly.GetTypes();
        }
        catch (ReflectionTypeLoadException e)
        {
            return e.Types.OfType<Type>();
        }
    }

    private static Assembly Load(string name) =>
        name == "Ratiogon.Core" ? typeof(Outcome<>).Assembly : Assembly.LoadFrom(Path.Combine(Folder(name), $"{name}.dll"));

    private static string Folder(string name) => Path.Combine(Sources.Root(), "src", name, "bin", "Release", "net10.0");

    /// <summary>Public or protected, and written by hand.</summary>
    private static bool Seen(MemberInfo member) =>
        !member.IsDefined(typeof(CompilerGeneratedAttribute), inherit: false)
        && member switch
        {
            FieldInfo f => f.IsPublic || f.IsFamily,
            MethodBase m => m.IsPublic || m.IsFamily,
            PropertyInfo p => p.GetMethod is { } get && (get.IsPublic || get.IsFamily),
            _ => false,
        };

    private static IEnumerable<Type> TypesOf(MemberInfo member) =>
        member switch
        {
            FieldInfo f => [f.FieldType],
            PropertyInfo p => [p.PropertyType],
            MethodInfo m => m.GetParameters().Select(p => p.ParameterType).Append(m.ReturnType),
            ConstructorInfo c => c.GetParameters().Select(p => p.ParameterType),
            _ => [],
        };

    private static bool Holds(Type type) =>
        type.HasElementType
            ? Holds(type.GetElementType()!)
            : type.IsGenericType && (typeof(ITuple).IsAssignableFrom(type) || type.GetGenericArguments().Any(Holds));
}
