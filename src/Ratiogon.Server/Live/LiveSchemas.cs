using System.Text.Json.Serialization.Metadata;
using MessagePack;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using Ratiogon.Core;
using Ratiogon.Core.Building;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Tools;
using Ratiogon.Core.Tools.Datums;
using Ratiogon.Core.Tools.Forms;
using Ratiogon.Core.Tools.Gauges;

namespace Ratiogon.Server.Live;

/// <summary>
/// The messages of the live link among the schemas of the OpenAPI document, so that the front end's types of them come out of the same
/// generator as those of the HTTP API. The methods themselves are no HTTP and stay out of it.
/// </summary>
internal static class LiveSchemas
{
    /// <summary>The format of bytes as the link carries them: raw, where JSON would spell them in base 64.</summary>
    public const string Octets = "octets";

    /// <summary>Where the framework notes the name that a schema would have in the document.</summary>
    private const string SchemaId = "x-schema-id";

    /// <summary>Where it notes that a property may be null that is given by reference.</summary>
    private const string Nullable = "x-is-nullable-property";

    private static readonly Type[] Messages =
    [
        typeof(InputMessage),
        typeof(AnswerMessage),
        typeof(OfferMessage),
        typeof(RebuiltMessage),
        typeof(PreviewMessage),
        typeof(MotionMessage),
        typeof(ProposalMessage),
        typeof(DrivesMessage),
        typeof(ProbeView),
        typeof(FormInput),
        typeof(FormAnswer),
        typeof(DatumAnswer),
        typeof(CurveAnswer),
        typeof(SeenOnly),
        typeof(GaugeInput),
        typeof(GaugeAnswer),
    ];

    public static void AddLiveMessages(this OpenApiOptions options)
    {
        options.AddSchemaTransformer(
            (schema, context, _) =>
            {
                TellPoints(schema, context.JsonTypeInfo);
                Tell(schema, context.JsonTypeInfo);
                return Task.CompletedTask;
            }
        );
        options.AddDocumentTransformer(
            async (document, context, cancel) =>
            {
                foreach (var type in Messages)
                {
                    Named(await context.GetOrCreateSchemaAsync(type, null, cancel), document);
                }
            }
        );
    }

    /// <summary>A schema as it stands in the document: where its type has a name, by that, and so is everything within it.</summary>
    private static IOpenApiSchema Named(IOpenApiSchema schema, OpenApiDocument document)
    {
        if (schema is not OpenApiSchema whole)
        {
            return schema;
        }

        var nullable = whole.Metadata?.ContainsKey(Nullable) is true;
        var name = whole.Metadata?.TryGetValue(SchemaId, out var id) is true && id is string { Length: > 0 } said ? said : null;
        if (name is null || document.Components?.Schemas?.ContainsKey(name) is not true)
        {
            if (name is not null)
            {
                document.AddComponent(name, whole);
            }

            whole.Items = whole.Items is { } items ? Named(items, document) : null;
            whole.AdditionalProperties = whole.AdditionalProperties is { } more ? Named(more, document) : null;
            foreach (var choices in new[] { whole.AnyOf, whole.OneOf, whole.AllOf }.OfType<IList<IOpenApiSchema>>())
            {
                for (var i = 0; i < choices.Count; i++)
                {
                    choices[i] = Named(choices[i], document);
                }
            }

            foreach (var (property, of) in whole.Properties?.ToList() ?? [])
            {
                whole.Properties![property] = Named(of, document);
            }
        }

        if (name is null)
        {
            return whole;
        }

        var reference = new OpenApiSchemaReference(name, document);
        return nullable ? new OpenApiSchema { OneOf = [new OpenApiSchema { Type = JsonSchemaType.Null }, reference] } : reference;
    }

    /// <summary>What is always there is required: in MessagePack all members, in JSON those that are never null.</summary>
    private static void Tell(OpenApiSchema schema, JsonTypeInfo type)
    {
        var packed = type.Type.IsDefined(typeof(MessagePackObjectAttribute), inherit: false);
        if (type.Kind != JsonTypeInfoKind.Object || schema.Properties is not { } properties || !(packed || IsAnswered(type.Type)))
        {
            return;
        }

        foreach (var property in type.Properties)
        {
            if (properties.TryGetValue(property.Name, out var told))
            {
                if (packed || !property.IsGetNullable)
                {
                    (schema.Required ??= new HashSet<string>()).Add(property.Name);
                }

                if (packed && property.PropertyType == typeof(byte[]) && told is OpenApiSchema bytes)
                {
                    bytes.Format = Octets;
                }
            }
        }
    }

    /// <summary>Points and directions are arrays of numbers, wherever they stand.</summary>
    private static void TellPoints(OpenApiSchema schema, JsonTypeInfo type)
    {
        if (Numbers(type.Type) is { } numbers)
        {
            (schema.Type, schema.Items, schema.MinItems, schema.MaxItems) = (
                numbers.Type,
                numbers.Items,
                numbers.MinItems,
                numbers.MaxItems
            );
        }
        else if (type.ElementType is { } element && Numbers(element) is { } each)
        {
            schema.Items = each;
        }
    }

    private static OpenApiSchema? Numbers(Type type)
    {
        var count =
            type == typeof(Vec2) ? 2
            : type == typeof(Vec3) ? 3
            : 0;
        return count == 0
            ? null
            : new OpenApiSchema
            {
                Type = JsonSchemaType.Array,
                Items = new OpenApiSchema { Type = JsonSchemaType.Number },
                MinItems = count,
                MaxItems = count,
            };
    }

    /// <summary>Types that are only answered, or always told whole: of others what is not said has its default.</summary>
    private static bool IsAnswered(Type type) =>
        type == typeof(Refusal)
        || type == typeof(Frame)
        || type.Namespace is { } space
            && (space == typeof(LiveSchemas).Namespace || space.StartsWith(typeof(ToolAnswer).Namespace!, StringComparison.Ordinal));
}
