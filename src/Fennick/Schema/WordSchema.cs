using System.Collections.Frozen;
using System.Globalization;
using System.Xml.Linq;

namespace Fennick.Schema;

/// <summary>What may stand where in the parts of a document (ECMA-376 Part 1, annex A, with the later additions that word processors write).</summary>
internal sealed class WordSchema
{
    private static readonly Lazy<WordSchema> Read = new(() => new WordSchema());
    private readonly Dictionary<string, XNamespace> namespaces = [];
    private readonly List<ValueRule> values = [];
    private readonly List<ElementType> types = [];
    private readonly FrozenDictionary<XName, ElementType> roots;
    private readonly FrozenSet<string> localNames;

    private WordSchema()
    {
        using var stream = typeof(WordSchema).Assembly.GetManifestResourceStream("Fennick.Schema.Schema.txt")!;
        using var reader = new StreamReader(stream);
        var found = new Dictionary<XName, ElementType>();
        while (reader.ReadLine() is { } line)
        {
            var words = line.Split(' ', 3);
            if (words[0] == "ns") namespaces.Add(words[1], words[2]);
            else if (words[0] == "value") values.Add(new ValueRule(line["value ".Length..]));
            else
            {
                var type = new ElementType(this, NameOf(words[1]), words.Length > 2 ? words[2] : "");
                types.Add(type);
                found.TryAdd(type.Name, type);
            }
        }
        Known = namespaces.Values.ToFrozenSet();
        roots = found.ToFrozenDictionary();
        localNames = found.Keys.Select(n => n.LocalName).ToFrozenSet();
    }

    /// <summary>The schema, read when it is first asked for.</summary>
    public static WordSchema Instance => Read.Value;

    /// <summary>The namespaces that it knows.</summary>
    public FrozenSet<XNamespace> Known { get; }

    /// <summary>An element that stands on its own: a part's root, or what stands where everything may; null if it is not known.</summary>
    public ElementType? Root(XName name) => roots.GetValueOrDefault(name);

    /// <summary>Whether it knows an element of this name, in whatever namespace.</summary>
    public bool IsRoot(string localName) => localNames.Contains(localName);

    /// <summary>An element by its number.</summary>
    public ElementType Type(ReadOnlySpan<char> number) => types[int.Parse(number, CultureInfo.InvariantCulture)];

    /// <summary>A rule for values by its number.</summary>
    public ValueRule Value(ReadOnlySpan<char> number) => values[int.Parse(number, CultureInfo.InvariantCulture)];

    /// <summary>A name of the table.</summary>
    public XName NameOf(string name) => name.IndexOf(':') is var colon and >= 0 ? namespaces[name[..colon]] + name[(colon + 1)..] : name;
}
