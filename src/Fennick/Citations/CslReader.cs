using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using Fennick.Diagnostics;

namespace Fennick.Citations;

/// <summary>Reads sources in CSL-JSON (the Citation Style Language's input data, version 1.0.2).</summary>
internal static class CslReader
{
    public static IEnumerable<(Work, SourcePlace)> Read(string text, string path)
    {
        var place = new SourcePlace(path, 0, 0);
        using var document = JsonDocument.Parse(text);
        if (document.RootElement.ValueKind != JsonValueKind.Array) throw new ReportException(Diagnostic.Error(place, "CSL-JSON is a list of sources", "put `[` and `]` around them"));
        return [.. document.RootElement.EnumerateArray().Select(item => (Read(item, place), place))];
    }

    private static Work Read(JsonElement item, SourcePlace place)
    {
        string Text(string name) => item.ValueKind == JsonValueKind.Object && item.TryGetProperty(name, out var value) ? value.ValueKind == JsonValueKind.String ? value.GetString()! : value.ToString() : "";
        var key = Text("id");
        if (key.Length == 0) throw new ReportException(Diagnostic.Error(place, "a source has no `id`", "give each a key to cite it by"));
        return new Work(key)
        {
            Kind = Text("type") switch
            {
                "article-journal" or "article-magazine" or "article-newspaper" or "article" => WorkKind.Article,
                "book" => WorkKind.Book,
                "chapter" or "paper-conference" or "entry-encyclopedia" or "entry-dictionary" => WorkKind.Chapter,
                "report" or "thesis" or "manuscript" => WorkKind.Report,
                "webpage" or "dataset" or "post" or "post-weblog" or "software" => WorkKind.Web,
                _ => WorkKind.Other,
            },
            Authors = People("author"),
            Editors = People("editor"),
            Year = Year(),
            Title = Text("title"),
            Container = Text("container-title"),
            Publisher = Text("publisher"),
            Location = Text("publisher-place"),
            Volume = Text("volume"),
            Issue = Text("issue") is { Length: > 0 } issue ? issue : Text("number"),
            Pages = Text("page").Replace('-', '–'),
            Edition = BibTexReader.Edition(Text("edition")),
            Doi = Text("DOI"),
            Url = Text("URL"),
        };

        ImmutableArray<Person> People(string name) => !item.TryGetProperty(name, out var people) || people.ValueKind != JsonValueKind.Array ? [] : [.. people.EnumerateArray().Select(person =>
        {
            string Part(string part) => person.TryGetProperty(part, out var value) ? value.ToString() : "";
            if (Part("literal") is { Length: > 0 } literal) return new Person(literal);
            var family = Part("non-dropping-particle") is { Length: > 0 } particle ? $"{particle} {Part("family")}" : Part("family");
            return new Person(family, Part("dropping-particle") is { Length: > 0 } dropping ? $"{Part("given")} {dropping}" : Part("given"));
        })];

        string Year()
        {
            if (!item.TryGetProperty("issued", out var issued) || issued.ValueKind != JsonValueKind.Object) return "";
            if (issued.TryGetProperty("date-parts", out var parts) && parts.ValueKind == JsonValueKind.Array && parts.GetArrayLength() > 0 && parts[0].ValueKind == JsonValueKind.Array && parts[0].GetArrayLength() > 0) return parts[0][0].ToString();
            var text = issued.TryGetProperty("raw", out var raw) ? raw.ToString() : issued.TryGetProperty("literal", out var literal) ? literal.ToString() : "";
            return DateTime.TryParse(text, CultureInfo.InvariantCulture, out var date) ? date.Year.ToString(CultureInfo.InvariantCulture) : text;
        }
    }
}
