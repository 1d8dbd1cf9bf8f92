using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Reflection;

namespace Ratiogon.Core;

/// <summary>The name of a kind (of step, of command) as it is written in files. It is all that registers it.</summary>
/// <param name="name">Unique among the kinds of the same base.</param>
[AttributeUsage(AttributeTargets.Class, Inherited = false)]
public sealed class KindAttribute(string name) : Attribute
{
    public string Name { get; } = name;
}

/// <summary>On the base class of kinds: the property that says of an object in a file which kind it is.</summary>
[AttributeUsage(AttributeTargets.Class, Inherited = false)]
public sealed class ToldByAttribute(string property) : Attribute
{
    public string Property { get; } = property;
}

/// <summary>On an assembly: it brings kinds of its own.</summary>
[AttributeUsage(AttributeTargets.Assembly)]
public sealed class BringsKindsAttribute : Attribute;

/// <summary>A kind that was found.</summary>
/// <param name="Name">As written in files.</param>
/// <param name="Type">The class that is it.</param>
public sealed record KindOf(string Name, Type Type);

/// <summary>Finds the kinds of a base class: those with a <see cref="KindAttribute"/> in assemblies that bring kinds.</summary>
public static class Kinds
{
    private static readonly ConcurrentDictionary<Type, ImmutableArray<KindOf>> Found = new();

    /// <summary>One of each kind that other assemblies bring.</summary>
    /// <typeparam name="T">The base; its kinds are made without arguments.</typeparam>
    public static IEnumerable<T> Brought<T>()
        where T : class =>
        Bringing()
            .Where(a => a != typeof(Kinds).Assembly)
            .SelectMany(a => a.GetTypes())
            .Where(t => t.IsSubclassOf(typeof(T)) && t.IsDefined(typeof(KindAttribute), inherit: false))
            .Select(t => (T)Activator.CreateInstance(t)!);

    private static IEnumerable<Assembly> Bringing() =>
        AppDomain.CurrentDomain.GetAssemblies().Where(a => a.IsDefined(typeof(BringsKindsAttribute)));

    /// <summary>The property that tells the kinds of a base apart; null for what is no such base.</summary>
    public static string? PropertyOf(Type root) => root.GetCustomAttribute<ToldByAttribute>(inherit: false)?.Property;

    /// <summary>Every kind of a base, by name.</summary>
    /// <exception cref="InvalidOperationException">Two have one name, or a class that is no base itself has none.</exception>
    public static ImmutableArray<KindOf> Of(Type root) => Found.GetOrAdd(root, static root =>
        {
            var kinds = Bringing()
                .SelectMany(a => a.GetTypes())
                .Where(t => t.IsSubclassOf(root) && !t.IsAbstract)
                .Select(t => new KindOf(
                    t.GetCustomAttribute<KindAttribute>()?.Name ?? throw new InvalidOperationException($"{t} is no kind: it has no name."),
                    t
                ))
                .OrderBy(k => k.Name, StringComparer.Ordinal)
                .ToImmutableArray();
            return kinds.GroupBy(k => k.Name).FirstOrDefault(g => g.Count() > 1) is { } twice
                ? throw new InvalidOperationException($"'{twice.Key}' is the name of {string.Join(" and of ", twice.Select(k => k.Type))}.")
                : kinds;
        });
}
