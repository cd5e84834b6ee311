using System.Xml.Linq;

namespace Fennick.Schema;

/// <summary>What an element may hold and say. It is read from its line of the table when it is first asked.</summary>
internal sealed class ElementType
{
    private readonly Lazy<Reading> reading;

    public ElementType(WordSchema schema, XName name, string line)
    {
        Name = name;
        reading = new Lazy<Reading>(() => new Reading(schema, line));
    }

    /// <summary>Its name.</summary>
    public XName Name { get; }

    /// <summary>Its attributes, each with what it may say (null: anything).</summary>
    public IReadOnlyDictionary<XName, ValueRule?> Attributes => reading.Value.Attributes;

    /// <summary>The attributes without which it says nothing.</summary>
    public IReadOnlyList<XName> Required => reading.Value.Required;

    /// <summary>The order of what it holds; null if it holds no elements.</summary>
    public ContentModel? Content => reading.Value.Content;

    /// <summary>Whether it holds text.</summary>
    public bool HoldsText => reading.Value.HoldsText;

    /// <summary>What its text may be; null if anything.</summary>
    public ValueRule? Text => reading.Value.Text;

    /// <summary>Whether it says something when it stands there without attributes and content.</summary>
    public bool MayBeEmpty => Required.Count == 0 && Text is null && Content?.MayBeEmpty != false;

    private sealed class Reading
    {
        public Reading(WordSchema schema, string line)
        {
            var model = line.StartsWith("= ", StringComparison.Ordinal) ? 0 : line.IndexOf(" = ", StringComparison.Ordinal) is var at and >= 0 ? at + 1 : -1;
            if (model >= 0) Content = ContentModel.Read(schema, line[(model + 2)..]);
            foreach (var word in (model >= 0 ? line[..model] : line).Split(' ', StringSplitOptions.RemoveEmptyEntries))
            {
                if (word[0] == '~')
                {
                    HoldsText = true;
                    Text = word.Length > 1 ? schema.Value(word.AsSpan(1)) : null;
                    continue;
                }
                // The value stands behind the last colon, where a number does.
                var colon = word.LastIndexOf(':');
                var hasValue = colon >= 0 && char.IsAsciiDigit(word[^1]) && int.TryParse(word.AsSpan(colon + 1), out _);
                var key = hasValue ? word[..colon] : word;
                var name = schema.NameOf(key.TrimEnd('!'));
                Attributes[name] = hasValue ? schema.Value(word.AsSpan(colon + 1)) : null;
                if (key[^1] == '!') Required.Add(name);
            }
        }

        public Dictionary<XName, ValueRule?> Attributes { get; } = [];

        public List<XName> Required { get; } = [];

        public ContentModel? Content { get; }

        public bool HoldsText { get; }

        public ValueRule? Text { get; }
    }
}
