using System.Globalization;
using System.Text;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>Writes a table as aligned plain text.</summary>
internal static class PlainTable
{
    private const string Gap = "  ";

    public static string Write(Table table, Language language)
    {
        var header = table.HeaderRows.Select(r => Texts(r, language)).ToArray();
        var body = table.Rows.Select(r => Texts(r, language)).ToArray();
        var widths = Enumerable.Range(0, table.Columns.Length)
            .Select(c => header.Concat(body).Max(row => (int?)Width(row[c])) ?? 0).ToArray();
        var rule = new string('─', widths.Sum() + (Gap.Length * Math.Max(0, widths.Length - 1)));
        var text = new StringBuilder();
        text.AppendLine(rule);
        foreach (var row in header) AppendRow(row);
        if (header.Length > 0) text.AppendLine(rule);
        foreach (var row in body) AppendRow(row);
        return text.Append(rule).ToString();

        void AppendRow(string[] row)
        {
            var cells = row.Select((cell, c) => Pad(cell, widths[c], table.Columns[c].Alignment));
            text.AppendLine(string.Join(Gap, cells).TrimEnd());
        }
    }

    private static string[] Texts(TableRow row, Language language) =>
        [.. row.Cells.Select(cell => cell.Content.ToPlainText(language))];

    private static int Width(string text) => new StringInfo(text).LengthInTextElements;

    private static string Pad(string text, int width, Alignment alignment)
    {
        var missing = width - Width(text);
        var left = alignment switch { Alignment.Left => 0, Alignment.Right => missing, _ => missing / 2 };
        return new string(' ', left) + text + new string(' ', missing - left);
    }
}
