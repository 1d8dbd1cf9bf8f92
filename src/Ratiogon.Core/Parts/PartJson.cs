using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Ratiogon.Core.Parts;

/// <summary>How parts, steps and commands are written as JSON: camel case, unknown and missing fields refused.</summary>
public static class PartJson
{
    /// <summary>Deepest nesting that is read.</summary>
    public const int DeepestNesting = 32;

    /// <summary>On one line, for storing and sending.</summary>
    public static JsonSerializerOptions Compact { get; } = Make(indented: false);

    /// <summary>For files that people read.</summary>
    public static JsonSerializerOptions Readable { get; } = Make(indented: true);

    /// <summary>Gives other options the same rules.</summary>
    public static void Configure(JsonSerializerOptions options)
    {
        ArgumentNullException.ThrowIfNull(options);
        options.PropertyNamingPolicy = JsonNamingPolicy.CamelCase;
        options.PropertyNameCaseInsensitive = false;
        options.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
        options.AllowDuplicateProperties = false;
        options.AllowOutOfOrderMetadataProperties = true;
        options.RespectNullableAnnotations = true;
        options.RespectRequiredConstructorParameters = true;
        options.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
        options.Converters.Add(new NamedEnums());
        options.TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { TellKinds, LeaveOutWhatIsWorkedOut, RefuseHoles } };
        options.MaxDepth = DeepestNesting;
        options.NumberHandling = JsonNumberHandling.Strict;
        options.Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping;
    }

    /// <summary>Enumerations that are written by name are read by name only: a number may be none of them.</summary>
    private sealed class NamedEnums : JsonConverterFactory
    {
        public override bool CanConvert(Type typeToConvert) =>
            typeToConvert.IsEnum
            && Attribute.GetCustomAttribute(typeToConvert, typeof(JsonConverterAttribute))
                is JsonConverterAttribute { ConverterType: { IsGenericType: true } named }
            && named.GetGenericTypeDefinition() == typeof(JsonStringEnumConverter<>);

        public override JsonConverter CreateConverter(Type typeToConvert, JsonSerializerOptions options) =>
            new JsonStringEnumConverter(namingPolicy: null, allowIntegerValues: false).CreateConverter(typeToConvert, options);
    }

    /// <summary>Lists that most parts do not have.</summary>
    private static readonly Dictionary<Type, Func<object, object?, bool>> LeftOutWhenEmpty = new()
    {
        [typeof(ImmutableArray<Material>)] = static (_, value) => value is ImmutableArray<Material> { IsDefaultOrEmpty: false },
        [typeof(ImmutableArray<SizeTolerance>)] = static (_, value) => value is ImmutableArray<SizeTolerance> { IsDefaultOrEmpty: false },
        [typeof(ImmutableArray<Variant>)] = static (_, value) => value is ImmutableArray<Variant> { IsDefaultOrEmpty: false },
    };

    private static void TellKinds(JsonTypeInfo type)
    {
        if (Kinds.PropertyOf(type.Type) is { } property)
        {
            type.PolymorphismOptions = new JsonPolymorphismOptions { TypeDiscriminatorPropertyName = property };
            foreach (var kind in Kinds.Of(type.Type))
            {
                type.PolymorphismOptions.DerivedTypes.Add(new JsonDerivedType(kind.Type, kind.Name));
            }
        }
    }

    /// <summary>Properties of the core, and of kinds brought to it, that only answer questions are no data.</summary>
    private static void LeaveOutWhatIsWorkedOut(JsonTypeInfo type)
    {
        if (type.Kind != JsonTypeInfoKind.Object || !type.Type.Assembly.IsDefined(typeof(BringsKindsAttribute), inherit: false))
        {
            return;
        }

        for (var i = type.Properties.Count - 1; i >= 0; i--)
        {
            if (type.Properties[i].AttributeProvider is System.Reflection.PropertyInfo { CanWrite: false })
            {
                type.Properties.RemoveAt(i);
            }
            else if (LeftOutWhenEmpty.TryGetValue(type.Properties[i].PropertyType, out var isThere))
            {
                type.Properties[i].ShouldSerialize = isThere;
            }
            else if (type.Properties[i].PropertyType == typeof(Refs) && !type.Properties[i].IsRequired)
            {
                type.Properties[i].ShouldSerialize = static (_, value) => value is Refs { Count: > 0 };
            }
        }
    }

    /// <summary>No list here has an item that is null, which the reader only looks for in properties; no text holds U+0000.</summary>
    private static void RefuseHoles(JsonTypeInfo type)
    {
        if (
            type.Kind != JsonTypeInfoKind.Object
            || type.Type.Assembly.GetName().Name?.StartsWith(nameof(Ratiogon), StringComparison.Ordinal) != true
        )
        {
            return;
        }

        var lists = type
            .Properties.Where(p =>
                p.Get is not null
                && p.PropertyType is { IsGenericType: true } of
                && of.GetGenericTypeDefinition() == typeof(ImmutableArray<>)
                && !of.GenericTypeArguments[0].IsValueType
            )
            .Select(p =>
                (
                    p.Name,
                    Get: p.Get!,
                    HasHole: typeof(PartJson)
                        .GetMethod(nameof(HasHole), System.Reflection.BindingFlags.NonPublic | System.Reflection.BindingFlags.Static)!
                        .MakeGenericMethod(p.PropertyType.GenericTypeArguments[0])
                        .CreateDelegate<Func<object?, bool>>()
                )
            )
            .ToArray();
        var texts = type
            .Properties.Where(p =>
                p.Get is not null && (p.PropertyType == typeof(string) || p.PropertyType == typeof(ImmutableArray<string>))
            )
            .Select(p => (p.Name, Get: p.Get!))
            .ToArray();
        if (lists.Length > 0 || texts.Length > 0)
        {
            type.OnDeserialized = made =>
            {
                foreach (var (name, get, hasHole) in lists)
                {
                    if (hasHole(get(made)))
                    {
                        throw new JsonException($"The list '{name}' has nothing (null) at some place.");
                    }
                }

                foreach (var (name, get) in texts)
                {
                    if (HoldsNul(get(made)))
                    {
                        throw new JsonException($"The text '{name}' holds a character that is none (U+0000).");
                    }
                }
            };
        }
    }

    /// <summary>No database keeps such a text, and nobody types it.</summary>
    private static bool HoldsNul(object? text) =>
        text switch
        {
            string one => one.Contains('\0', StringComparison.Ordinal),
            ImmutableArray<string> { IsDefaultOrEmpty: false } several => several.Any(t =>
                t?.Contains('\0', StringComparison.Ordinal) == true
            ),
            _ => false,
        };

    private static bool HasHole<T>(object? list)
        where T : class => list is ImmutableArray<T> { IsDefault: false } items && items.Contains(null!);

    private static JsonSerializerOptions Make(bool indented)
    {
        var options = new JsonSerializerOptions { WriteIndented = indented };
        Configure(options);
        options.MakeReadOnly();
        return options;
    }
}
