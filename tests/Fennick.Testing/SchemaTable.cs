using System.Collections;
using System.Globalization;
using System.Reflection;
using System.Text;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Wordprocessing;
using A = DocumentFormat.OpenXml.Drawing;
using S = DocumentFormat.OpenXml.Spreadsheet;

namespace Fennick.Testing;

/// <summary>The schema that the validator of the tests goes by, as a table: what may stand in each element, in which order, and what its attributes may say.</summary>
/// <remarks>A line is a prefix (<c>ns</c>), a kind of value (<c>value</c>) or an element: its number, name, attributes, what it holds (<c>=</c>) and what its text may be (<c>~</c>).</remarks>
public sealed class SchemaTable
{
    private const BindingFlags Own = BindingFlags.Instance | BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.DeclaredOnly;
    private const string Double = @"[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?|-?INF|NaN";

    // What a house's file may consist of, and what stands where the schema says that anything may.
    private static readonly Type[] Roots =
    [
        typeof(Document), typeof(DocumentFormat.OpenXml.Wordprocessing.Styles), typeof(Numbering), typeof(Settings), typeof(Header), typeof(Footer), typeof(Footnotes), typeof(Endnotes), typeof(Comments), typeof(Fonts), typeof(WebSettings), typeof(GlossaryDocument),
        typeof(A.Theme), typeof(A.Pictures.Picture), typeof(A.Charts.ChartReference), typeof(A.Charts.ChartSpace), typeof(A.Diagrams.RelationshipIds), typeof(A.Diagrams.DataModelRoot), typeof(A.Diagrams.LayoutDefinition),
        typeof(A.Diagrams.ColorsDefinition), typeof(A.Diagrams.StyleDefinition), typeof(DocumentFormat.OpenXml.Office.Drawing.Drawing), typeof(DocumentFormat.OpenXml.Office2010.Word.DrawingShape.WordprocessingShape),
        typeof(DocumentFormat.OpenXml.Office2010.Word.DrawingGroup.WordprocessingGroup), typeof(DocumentFormat.OpenXml.Office2010.Word.DrawingCanvas.WordprocessingCanvas),
        typeof(DocumentFormat.OpenXml.Office2013.Word.CommentsEx), typeof(DocumentFormat.OpenXml.Office2013.Word.People),
        typeof(DocumentFormat.OpenXml.Office2013.Drawing.ChartStyle.ChartStyle), typeof(DocumentFormat.OpenXml.Office2013.Drawing.ChartStyle.ColorStyle),
        typeof(S.Workbook), typeof(S.Worksheet), typeof(S.Stylesheet), typeof(S.SharedStringTable), typeof(S.Table), typeof(S.CalculationChain),
    ];

    private readonly Dictionary<Type, int> numbers = [];
    private readonly List<Type> types = [];
    private readonly Dictionary<string, string> prefixes = [];
    private readonly Dictionary<string, int> values = [];

    /// <summary>The table, line by line.</summary>
    public static string Write()
    {
        var table = new SchemaTable();
        foreach (var root in Roots) table.NumberOf(root);
        var elements = new StringBuilder();
        for (var i = 0; i < table.types.Count; i++) elements.Append(CultureInfo.InvariantCulture, $"{i} {table.Describe(table.types[i])}\n");
        var head = new StringBuilder();
        foreach (var (uri, prefix) in table.prefixes) head.Append(CultureInfo.InvariantCulture, $"ns {prefix} {uri}\n");
        foreach (var value in table.values.Keys) head.Append(CultureInfo.InvariantCulture, $"value {value}\n");
        return head.Append(elements).ToString();
    }

    private int NumberOf(Type type)
    {
        if (numbers.TryGetValue(type, out var number)) return number;
        types.Add(type);
        return numbers[type] = types.Count - 1;
    }

    private string Describe(Type type)
    {
        var element = (OpenXmlElement)Activator.CreateInstance(type, nonPublic: true)!;
        var metadata = Get(element, "Metadata")!;
        var text = new StringBuilder(NameOf(element.NamespaceUri, element.LocalName));
        foreach (var attribute in List(metadata, "Attributes"))
        {
            var validators = List(attribute, "Validators").ToArray();
            var name = Get(attribute, "QName")!;
            var uri = Get(Get(name, "Namespace")!, "Uri") as string ?? "";
            text.Append(' ').Append(uri.Length == 0 ? Get(name, "Name") : NameOf(uri, (string)Get(name, "Name")!));
            var local = (string)Get(name, "Name")!;
            var constraints = List(metadata, "Constraints").Where(c => Get(c, "Application")?.ToString() is "All" or "Word" && Field(c, "_attribute")?.ToString() is { } of && (of == local || of.EndsWith(':' + local, StringComparison.Ordinal))).ToArray();
            if (validators.Any(v => v.GetType().Name == "RequiredValidator" && Get(v, "IsRequired") is true) || constraints.Any(c => c.GetType().Name == "AttributeCannotOmitConstraint")) text.Append('!');
            string?[] rules = [ValueOf((Type)Get(attribute, "Type")!, validators), .. constraints.Select(Constraint)];
            if (rules.OfType<string>().ToArray() is { Length: > 0 } values) text.Append(':').Append(IndexOf(string.Join(" and ", values)));
        }
        if (Get(metadata, "Particle") is { } compiled && Get(compiled, "Particle") is { } particle) text.Append(" = ").Append(ModelOf(particle));
        else if (element is OpenXmlLeafTextElement) text.Append(" ~").Append(TextOf(List(metadata, "Validators").ToArray()) is { } value ? IndexOf(value).ToString(CultureInfo.InvariantCulture) : "");
        return text.ToString();
    }

    private int IndexOf(string value) => values.TryGetValue(value, out var index) ? index : values[value] = values.Count;

    private string NameOf(string uri, string local)
    {
        if (!prefixes.TryGetValue(uri, out var prefix)) prefixes[uri] = prefix = uri == "http://schemas.openxmlformats.org/wordprocessingml/2006/main" ? "w" : $"n{prefixes.Count}";
        return $"{prefix}:{local}";
    }

    private string ModelOf(object particle)
    {
        var kind = Get(particle, "ParticleType")!.ToString();
        var (min, max) = (Convert.ToInt32(Get(particle, "MinOccurs"), CultureInfo.InvariantCulture), Convert.ToInt32(Get(particle, "MaxOccurs"), CultureInfo.InvariantCulture));
        var inner = kind switch
        {
            "Element" => NumberOf((Type)Get(particle, "ElementType")!).ToString(CultureInfo.InvariantCulture),
            "Any" or "AnyWithUri" => ".",
            "Choice" => $"[{string.Join(' ', List(particle, "ChildrenParticles").Select(ModelOf))}]",
            "All" => $"<{string.Join(' ', List(particle, "ChildrenParticles").Select(ModelOf))}>",
            _ => $"({string.Join(' ', List(particle, "ChildrenParticles").Select(ModelOf))})",
        };
        var times = (min, max) switch { (1, 1) => "", (0, 1) => "?", (0, 0) => "*", (1, 0) => "+", (_, 0) => $"{{{min},}}", _ => $"{{{min},{max}}}" };
        return inner + times;
    }

    private static string? TextOf(object[] validators) => validators.Select(v => v.GetType().Name switch
    {
        "StringValidator" => Text(v),
        "NameProviderValidator" => Named(Get(v, "QName")!.ToString()!),
        _ when v.GetType().IsGenericType => Simple(v.GetType().GetGenericArguments()[0]),
        _ => null,
    }).FirstOrDefault(v => v is not null);

    /// <summary>What an attribute may say; null if anything.</summary>
    private static string? ValueOf(Type type, object[] validators)
    {
        if (validators.FirstOrDefault(v => v.GetType().Name == "UnionValidator") is { } union)
        {
            var alternatives = List(union, "Validators").Select(v => TextOf([v])).ToArray();
            return alternatives.Contains(null) ? null : string.Join(" or ", alternatives.Distinct());
        }
        if (type.IsGenericType || type.Name is "OnOffValue" or "TrueFalseValue" or "TrueFalseBlankValue" or "BooleanValue" or "DateTimeValue" or "SingleValue" or "DoubleValue" or "DecimalValue") return Simple(type);
        var texts = validators.Where(v => v.GetType().Name == "StringValidator").Select(v => type.Name == "HexBinaryValue" ? Hex(v) : Text(v)).OfType<string>().ToArray();
        if (type.Name.EndsWith("Value", StringComparison.Ordinal) && RangeOf(type.Name) is var (least, most) && most > 0)
        {
            foreach (var number in validators.Where(v => v.GetType().Name == "NumberValidator"))
            {
                if (Get(number, "IsPositive") is true) least = 1;
                if (Get(number, "IsNonNegative") is true) least = 0;
                if (Facet(number, "MinInclusive") is { } a) least = Math.Max(least, a);
                if (Facet(number, "MaxInclusive") is { } b) most = Math.Min(most, b);
                if (Facet(number, "MinExclusive") is { } c) least = Math.Max(least, c + 1);
                if (Facet(number, "MaxExclusive") is { } d) most = Math.Min(most, d - 1);
            }
            return string.Create(CultureInfo.InvariantCulture, $"whole {least} {most}");
        }
        return texts.FirstOrDefault();
    }

    private static decimal? Facet(object validator, string name)
    {
        for (var type = validator.GetType(); type is not null; type = type.BaseType)
            if (type.GetFields(Own).FirstOrDefault(f => f.Name.Contains(name, StringComparison.OrdinalIgnoreCase)) is { } field && field.GetValue(validator) is { } value) return Convert.ToDecimal(value, CultureInfo.InvariantCulture);
        return null;
    }

    /// <summary>What else an attribute has to keep to.</summary>
    private static string? Constraint(object constraint) => constraint.GetType().Name switch
    {
        "AttributeValuePatternConstraint" => $"text {Field(constraint, "_pattern")!.ToString()!.TrimStart('^').TrimEnd('$')}",
        "AttributeValueLengthConstraint" => string.Create(CultureInfo.InvariantCulture, $"text [\\s\\S]{{{Field(constraint, "_minLength")},{Field(constraint, "_maxLength")}}}"),
        _ => null,
    };

    private static object? Field(object owner, string name)
    {
        for (var type = owner.GetType(); type is not null; type = type.BaseType)
            if (type.GetField(name, Own) is { } field) return field.GetValue(owner);
        return null;
    }

    private static (decimal, decimal) RangeOf(string type) => type switch
    {
        "SByteValue" => (sbyte.MinValue, sbyte.MaxValue),
        "ByteValue" => (0, byte.MaxValue),
        "Int16Value" => (short.MinValue, short.MaxValue),
        "UInt16Value" => (0, ushort.MaxValue),
        "Int32Value" => (int.MinValue, int.MaxValue),
        "UInt32Value" => (0, uint.MaxValue),
        "Int64Value" or "IntegerValue" => (long.MinValue, long.MaxValue),
        "UInt64Value" => (0, ulong.MaxValue),
        _ => default,
    };

    private static string? Named(string name) => name[(name.LastIndexOf(':') + 1)..] switch
    {
        "Int32" => $"whole {int.MinValue} {int.MaxValue}",
        "UInt32" => $"whole 0 {uint.MaxValue}",
        "Byte" => "whole 0 255",
        "Int64" or "integer" => $"whole {long.MinValue} {long.MaxValue}",
        "nonNegativeInteger" => $"whole 0 {long.MaxValue}",
        "hexBinary" => "text ([0-9a-fA-F]{2}){3}",
        _ => null,
    };

    private static string? Simple(Type type) => type.Name switch
    {
        "OnOffValue" => "words true false 0 1 on off",
        "TrueFalseValue" => "words t f true false",
        "TrueFalseBlankValue" => "words t f true false True False",
        "BooleanValue" => "words true false 0 1",
        "DateTimeValue" => @"text \d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)?|\d{4}-\d\d-\d\d(Z|[+-]\d\d:\d\d)?",
        "SingleValue" or "DoubleValue" or "DecimalValue" => $"text {Double}",
        "Int32Value" => Named("Int32"),
        "UInt32Value" => Named("UInt32"),
        "HexBinaryValue" => "text ([0-9a-fA-F]{2})*",
        _ when type.IsGenericType && type.GetGenericArguments() is [{ IsValueType: true } words] && words.GetInterfaces().Any(i => i.Name == "IEnumValue") =>
            "words " + string.Join(' ', words.GetProperties(BindingFlags.Static | BindingFlags.Public).Where(p => p.PropertyType == words).Select(p => Word(p.GetValue(null)!)).Distinct()),
        _ when type.IsValueType && type.GetInterfaces().Any(i => i.Name == "IEnumValue") => Simple(typeof(EnumValue<>).MakeGenericType(type)),
        _ => null,
    };

    private static string Word(object value) => value.GetType().GetInterfaces().First(i => i.Name == "IEnumValue").GetProperty("Value")!.GetValue(value) is string { Length: > 0 } word ? word : "\"\"";

    private static string? Text(object validator)
    {
        var (least, most, exact) = (Count("MinLength"), Count("MaxLength"), Count("Length"));
        if (Get(validator, "Pattern") is string { Length: > 0 } pattern) return $"text {(pattern.EndsWith("]*", StringComparison.Ordinal) && exact + most > 0 ? $"{pattern[..^1]}{{{(exact > 0 ? exact : least)},{Math.Max(exact, most)}}}" : pattern)}";
        return exact > 0 ? $"text [\\s\\S]{{{exact}}}" : most > 0 ? $"text [\\s\\S]{{{least},{most}}}" : least > 0 ? $"text [\\s\\S]{{{least},}}" : null;

        long Count(string name) => Convert.ToInt64(Get(validator, name) ?? 0, CultureInfo.InvariantCulture);
    }

    private static string Hex(object validator) => Convert.ToInt64(Get(validator, "Length") ?? 0, CultureInfo.InvariantCulture) is > 0 and var length ? $"text ([0-9a-fA-F]{{2}}){{{length}}}" : "text ([0-9a-fA-F]{2})*";

    private static IEnumerable<object> List(object owner, string name) => (Get(owner, name) as IEnumerable)?.Cast<object>() ?? [];

    private static object? Get(object owner, string name)
    {
        for (var type = owner.GetType(); type is not null; type = type.BaseType)
            if (type.GetProperty(name, Own) is { } property) return property.GetValue(owner);
        return null;
    }
}
