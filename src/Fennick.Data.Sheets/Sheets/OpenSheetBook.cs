using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Xml;

namespace Fennick.Data.Sheets;

/// <summary>A spreadsheet in the open document format (ISO/IEC 26300).</summary>
internal sealed class OpenSheetBook : ISheetBook
{
    private const string Office = "urn:oasis:names:tc:opendocument:xmlns:office:1.0";
    private const string Table = "urn:oasis:names:tc:opendocument:xmlns:table:1.0";
    private const string TextSpace = "urn:oasis:names:tc:opendocument:xmlns:text:1.0";

    // Rows and columns up to the end of the sheet are there only in name.
    private const int MostRepeated = 16384;

    private readonly ZipArchive parts;
    private readonly List<string> sheets = [];
    private readonly List<NamedRange> tables = [];

    private OpenSheetBook(ZipArchive parts)
    {
        this.parts = parts;
        if (parts.GetEntry("META-INF/manifest.xml") is { } manifest)
        {
            using var reader = new StreamReader(manifest.Open());
            if (reader.ReadToEnd().Contains("encryption-data", StringComparison.Ordinal)) throw new InvalidDataException("it needs a password");
        }
        using var xml = Content();
        while (xml.Read())
        {
            if (xml.NodeType != XmlNodeType.Element || xml.NamespaceURI != Table) continue;
            if (xml.LocalName == "table") sheets.Add(xml.GetAttribute("name", Table) ?? "");
            else if (xml.LocalName is "database-range" or "named-range") Add(xml.GetAttribute("name", Table), xml.GetAttribute("target-range-address", Table) ?? xml.GetAttribute("cell-range-address", Table));
        }
    }

    /// <inheritdoc/>
    public IReadOnlyList<string> Sheets => sheets;

    /// <inheritdoc/>
    public IReadOnlyList<NamedRange> Tables => tables;

    /// <inheritdoc/>
    public IReadOnlyList<string> PassedOver => parts.Entries.Any(e => e.FullName.StartsWith("Basic/", StringComparison.Ordinal) || e.FullName.StartsWith("Scripts/", StringComparison.Ordinal)) ? ["macros"] : [];

    /// <summary>Opens a spreadsheet.</summary>
    public static OpenSheetBook Open(string path)
    {
        var parts = ZipFile.OpenRead(path);
        try
        {
            return new OpenSheetBook(parts);
        }
        catch
        {
            parts.Dispose();
            throw;
        }
    }

    /// <inheritdoc/>
    public void Dispose() => parts.Dispose();

    /// <inheritdoc/>
    public IEnumerable<(int Row, object?[] Cells)> RowsOf(string sheet)
    {
        using var xml = Content();
        if (!MoveTo(xml, sheet)) yield break;
        var row = 0;
        var depth = xml.Depth;
        while (xml.Read() && xml.Depth > depth)
        {
            if (xml is not { NodeType: XmlNodeType.Element, LocalName: "table-row", NamespaceURI: Table }) continue;
            var repeated = Repeated(xml, "number-rows-repeated");
            var cells = ReadRow(xml, null, row);
            for (var i = 0; cells.Length > 0 && i < Math.Min(repeated, MostRepeated); i++) yield return (row + i, cells);
            row += repeated;
        }
    }

    /// <inheritdoc/>
    public IReadOnlyList<CellRange> MergedIn(string sheet)
    {
        var merged = new List<CellRange>();
        using var xml = Content();
        if (!MoveTo(xml, sheet)) return merged;
        var row = 0;
        var depth = xml.Depth;
        while (xml.Read() && xml.Depth > depth)
        {
            if (xml is not { NodeType: XmlNodeType.Element, LocalName: "table-row", NamespaceURI: Table }) continue;
            var repeated = Repeated(xml, "number-rows-repeated");
            ReadRow(xml, merged, row);
            row += repeated;
        }
        return merged;
    }

    /// <inheritdoc/>
    public CellAddress? FormulaWithoutValue(string sheet, CellRange range)
    {
        using var xml = Content();
        if (!MoveTo(xml, sheet)) return null;
        var (row, column, next) = (-1, 0, 0);
        var depth = xml.Depth;
        while (xml.Read() && xml.Depth > depth)
        {
            if (xml.NodeType != XmlNodeType.Element || xml.NamespaceURI != Table) continue;
            if (xml.LocalName == "table-row")
            {
                (row, column) = (next, 0);
                next += Repeated(xml, "number-rows-repeated");
            }
            else if (xml.LocalName is "table-cell" or "covered-table-cell")
            {
                if (xml.GetAttribute("formula", Table) is not null && xml.GetAttribute("value-type", Office) is null && range.Contains(row, column)) return new CellAddress(row, column);
                column += Repeated(xml, "number-columns-repeated");
            }
        }
        return null;
    }

    private XmlReader Content() => XmlReader.Create((parts.GetEntry("content.xml") ?? throw new InvalidDataException("it has no content")).Open(), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, IgnoreComments = true, CloseInput = true });

    private static bool MoveTo(XmlReader xml, string sheet)
    {
        while (xml.Read())
            if (xml is { NodeType: XmlNodeType.Element, LocalName: "table", NamespaceURI: Table } && xml.GetAttribute("name", Table) == sheet) return !xml.IsEmptyElement;
        return false;
    }

    private static int Repeated(XmlReader xml, string attribute) => int.TryParse(xml.GetAttribute(attribute, Table), NumberStyles.None, CultureInfo.InvariantCulture, out var times) ? Math.Max(1, times) : 1;

    // The cells of a row up to the last that holds anything; merged ones are noted.
    private static object?[] ReadRow(XmlReader xml, List<CellRange>? merged, int row)
    {
        var cells = new List<object?>();
        var last = 0;
        if (xml.IsEmptyElement) return [];
        var depth = xml.Depth;
        while (xml.Read() && xml.Depth > depth)
        {
            if (xml.NodeType != XmlNodeType.Element || xml.NamespaceURI != Table || xml.LocalName is not ("table-cell" or "covered-table-cell")) continue;
            var times = Repeated(xml, "number-columns-repeated");
            var (across, down) = (Repeated(xml, "number-columns-spanned"), Repeated(xml, "number-rows-spanned"));
            if (across > 1 || down > 1) merged?.Add(new CellRange(row, cells.Count, row + down - 1, cells.Count + across - 1));
            var value = ReadCell(xml);
            for (var i = 0; i < Math.Min(times, MostRepeated); i++) cells.Add(value);
            if (value is not null) last = cells.Count;
        }
        return [.. cells.Take(last)];
    }

    private static object? ReadCell(XmlReader xml)
    {
        var kind = xml.GetAttribute("value-type", Office);
        var number = xml.GetAttribute("value", Office);
        var date = xml.GetAttribute("date-value", Office);
        var truth = xml.GetAttribute("boolean-value", Office);
        var time = xml.GetAttribute("time-value", Office);
        var formula = xml.GetAttribute("formula", Table);
        var text = ReadText(xml);
        // What a formula says that could not be computed.
        if (formula is not null && text.StartsWith('#') && text.Length < 9) return new CellFailure(text);
        return kind switch
        {
            "float" or "percentage" or "currency" => double.Parse(number ?? "", NumberStyles.Float, CultureInfo.InvariantCulture),
            "date" => DateTime.Parse(date ?? "", CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind),
            "boolean" => truth == "true",
            "time" => XmlConvert.ToTimeSpan(time ?? "").ToString("c", CultureInfo.InvariantCulture),
            null when text.Length == 0 => null,
            _ => text,
        };
    }

    private static string ReadText(XmlReader xml)
    {
        if (xml.IsEmptyElement) return "";
        var text = new StringBuilder();
        var depth = xml.Depth;
        var passed = -1;
        while (xml.Read() && xml.Depth > depth)
        {
            if (passed >= 0 && xml.Depth > passed) continue;
            passed = -1;
            switch (xml.NodeType)
            {
                // A note on the cell is not what it holds.
                case XmlNodeType.Element when xml.LocalName == "annotation":
                    passed = xml.Depth;
                    break;
                case XmlNodeType.Element when xml is { LocalName: "p", NamespaceURI: TextSpace } && text.Length > 0:
                    text.Append('\n');
                    break;
                case XmlNodeType.Element when xml is { LocalName: "s", NamespaceURI: TextSpace }:
                    text.Append(' ', int.TryParse(xml.GetAttribute("c", TextSpace), out var times) ? Math.Clamp(times, 1, 1000) : 1);
                    break;
                case XmlNodeType.Element when xml is { LocalName: "tab", NamespaceURI: TextSpace }:
                    text.Append('\t');
                    break;
                case XmlNodeType.Text or XmlNodeType.SignificantWhitespace or XmlNodeType.Whitespace:
                    if (xml.NodeType == XmlNodeType.Text || text.Length > 0) text.Append(xml.Value);
                    break;
            }
        }
        return text.ToString();
    }

    // A range such as `$Hives.$A$3:$F$20` or `'My hives'.A3:'My hives'.F20`.
    private void Add(string? name, string? address)
    {
        if (name is null || address is null) return;
        var point = address.StartsWith('\'') || address.StartsWith("$'", StringComparison.Ordinal) ? address.IndexOf("'.", StringComparison.Ordinal) + 1 : address.IndexOf('.', StringComparison.Ordinal);
        if (point <= 0) return;
        var sheet = address[..point].TrimStart('$').Trim('\'').Replace("''", "'", StringComparison.Ordinal);
        var ends = address[(point + 1)..].Split(':').Select(e => e[(e.LastIndexOf('.') + 1)..]);
        if (CellRange.Parse(string.Join(':', ends)) is { } range) tables.Add(new NamedRange(name, sheet, range));
    }
}
