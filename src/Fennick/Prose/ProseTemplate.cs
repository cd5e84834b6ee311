using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Mathematics;
using Block = Fennick.Documents.Block;
using Inline = Fennick.Documents.Inline;

namespace Fennick.Prose;

/// <summary>
/// Markdown with C# values in it: what <c>report.Text($"… {mean:0.0} kg …")</c> makes of an interpolated string. The words are Markdown;
/// the values are not, whatever characters they hold.
/// </summary>
[InterpolatedStringHandler]
public sealed class ProseTemplate
{
    private readonly StringBuilder markdown;
    private readonly List<TemplateValue> values = [];

    /// <summary>Called by the compiler for an interpolated string.</summary>
    public ProseTemplate(int literalLength, int formattedCount) => markdown = new StringBuilder(literalLength + (4 * formattedCount));

    private ProseTemplate(string markdown) => this.markdown = new StringBuilder(HoleMarks.Clean(markdown));

    /// <summary>Markdown without values.</summary>
    public static implicit operator ProseTemplate(string markdown) => new(markdown);

    /// <summary>Called by the compiler for the words between values.</summary>
    public void AppendLiteral(string value) => markdown.Append(HoleMarks.Clean(value));

    /// <summary>Called by the compiler for a value.</summary>
    /// <param name="value">A value, an <see cref="Inline"/> or a <see cref="RichText"/>.</param>
    /// <param name="format">A .NET format, or null for sensible digits.</param>
    /// <param name="expression">Filled in by the compiler.</param>
    public void AppendFormatted(object? value, string? format = null, [CallerArgumentExpression(nameof(value))] string expression = "")
    {
        markdown.Append(HoleMarks.Open).Append(values.Count.ToString(CultureInfo.InvariantCulture)).Append(HoleMarks.Close);
        values.Add(new TemplateValue(value, format, expression));
    }

    /// <summary>The blocks it stands for.</summary>
    /// <param name="language">How values are written; if null, that is left to the report.</param>
    /// <param name="place">Where it was written.</param>
    /// <exception cref="ReportException">A format does not fit its value, or the Markdown holds what cannot be placed.</exception>
    internal ImmutableArray<Block> ToBlocks(Language? language, SourcePlace? place)
    {
        var host = new Host(values, language, place);
        var document = ProseParser.Parse(markdown.ToString());
        host.Diagnostics.AddRange(ProseParser.FindMistakes(document, _ => place).Where(d => d.Severity == Severity.Error));
        var blocks = new ProseConverter(host).ConvertAll(document);
        ReportException.ThrowIfAny(host.Diagnostics);
        return blocks;
    }

    /// <summary>The inlines it stands for: one paragraph's content.</summary>
    /// <exception cref="ReportException">It is more than one paragraph, or as for blocks.</exception>
    internal RichText ToInlines(Language? language, SourcePlace? place) => ToBlocks(language, place) switch
    {
        [] => RichText.Empty,
        [Paragraph only] => only.Content,
        _ => throw new ReportException(Diagnostic.Error(place, "a title, caption or note is a single paragraph", "put lists and further paragraphs into the text")),
    };

    private sealed class Host(List<TemplateValue> values, Language? language, SourcePlace? place) : IProseHost
    {
        public List<Diagnostic> Diagnostics { get; } = [];

        public ImmutableArray<Inline> Fill(HoleInline hole)
        {
            var (value, format, expression) = values[int.Parse(hole.Source, CultureInfo.InvariantCulture)];
            return value switch
            {
                Inline inline when format is null => [inline],
                RichText rich when format is null => rich.Inlines,
                _ when Format(value, format) is { } text => [language is null ? new ValueInline(value, format) : Origin.Mark(new TextInline(text), expression, format, value, place ?? SourcePlace.Nowhere)],
                _ => [],
            };
        }

        /// <summary>Values in an address are text in it.</summary>
        public string TargetOf(Markdig.Syntax.Inlines.LinkInline link) => Regex.Replace(link.Url ?? "", $"{HoleMarks.Open}(\\d+){HoleMarks.Close}", hole =>
        {
            var (value, format, _) = values[int.Parse(hole.Groups[1].ValueSpan, CultureInfo.InvariantCulture)];
            return Format(value, format) ?? "";
        });

        public string Fill(FormulaNode.Live live)
        {
            if (int.TryParse(live.Source, NumberStyles.None, CultureInfo.InvariantCulture, out var index) && index < values.Count) return Format(values[index].Value, values[index].Format) ?? "";
            Add(Diagnostic.Error(place, $"`\\live{{{live.Source}}}` cannot stand here", "write the value into the text: `$x = {x:0.0}$` in an interpolated string"));
            return "";
        }

        private string? Format(object? value, string? format)
        {
            try
            {
                return ValueFormatter.Format(value, format, language ?? Language.Default);
            }
            catch (ValueFormatException problem)
            {
                Add(Diagnostic.Error(place, problem.Message, problem.Suggestion));
                return null;
            }
        }

        public SourcePlace? PlaceOf(int offset) => place;

        public bool KeepsPlaces => place is not null;

        public void Add(Diagnostic diagnostic) => Diagnostics.Add(diagnostic);
    }

    /// <summary>A value as the compiler hands it over.</summary>
    private readonly record struct TemplateValue(object? Value, string? Format, string Expression);
}
