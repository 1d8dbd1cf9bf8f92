using System.Text;
using Ratiogon.Tests;
using Xunit.Sdk;
using Xunit.v3;

[assembly: TestCollectionOrderer(typeof(TestOrder))]
[assembly: TestClassOrderer(typeof(TestOrder))]
[assembly: TestMethodOrderer(typeof(TestOrder))]
[assembly: TestCaseOrderer(typeof(TestOrder))]

namespace Ratiogon.Tests;

/// <summary>Tests run in the order of their names, wherever the checkout lies. With RATIOGON_TEST_ORDER set to a number
/// they run in another order, the same for the same number: that is how tests that lean on one another are hunted.</summary>
public sealed class TestOrder : ITestCollectionOrderer, ITestClassOrderer, ITestMethodOrderer, ITestCaseOrderer
{
    private static readonly string? Seed = Environment.GetEnvironmentVariable("RATIOGON_TEST_ORDER");

    public IReadOnlyCollection<TTestCollection> OrderTestCollections<TTestCollection>(IReadOnlyCollection<TTestCollection> testCollections)
        where TTestCollection : ITestCollection => Ordered(testCollections, c => c.TestCollectionDisplayName);

    public IReadOnlyCollection<TTestClass?> OrderTestClasses<TTestClass>(IReadOnlyCollection<TTestClass?> testClasses)
        where TTestClass : notnull, ITestClass => Ordered(testClasses, c => c?.TestClassName ?? "");

    public IReadOnlyCollection<TTestMethod?> OrderTestMethods<TTestMethod>(IReadOnlyCollection<TTestMethod?> testMethods)
        where TTestMethod : notnull, ITestMethod => Ordered(testMethods, m => m?.MethodName ?? "");

    public IReadOnlyCollection<TTestCase> OrderTestCases<TTestCase>(IReadOnlyCollection<TTestCase> testCases)
        where TTestCase : notnull, ITestCase => Ordered(testCases, c => c.TestCaseDisplayName);

    private static T[] Ordered<T>(IReadOnlyCollection<T> all, Func<T, string> name) =>
        [
            .. Seed is null
                ? all.OrderBy(name, StringComparer.Ordinal)
                : all.OrderBy(t => Hash(Seed + name(t))).ThenBy(name, StringComparer.Ordinal),
        ];

    /// <summary>FNV-1a, 32 bits; the string's own hash changes from run to run.</summary>
    private static uint Hash(string text) => Encoding.UTF8.GetBytes(text).Aggregate(2166136261u, (h, b) => unchecked((h ^ b) * 16777619u));
}
