using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;

namespace Fennick.Data.Sheets;

/// <summary>A workbook in the office open format, <c>.xlsx</c> or <c>.xlsm</c> (ECMA-376 Part 1, §18).</summary>
internal sealed partial class Workbook : ISheetBook
{
    private readonly ZipArchive parts;
    private readonly Dictionary<string, string> partOfSheet = new(StringComparer.Ordinal);
    private readonly List<string> sheets = [];
    private readonly List<NamedRange> tables = [];
    private readonly bool startsIn1904;
    private readonly Lazy<string[]> texts;
    private readonly Lazy<TimeForm[]> forms;
    private (string Sheet, List<CellRange> Merged, List<CellAddress> Formulas)? scanned;

    private Workbook(ZipArchive parts)
    {
        this.parts = parts;
        var main = TargetsOf("").Values.FirstOrDefault(t => parts.GetEntry(t) is not null && t.EndsWith(".xml", StringComparison.Ordinal) && Load(t)?.Root?.Name.LocalName == "workbook") ?? throw new InvalidDataException("it has no workbook");
        var book = Load(main)!;
        var targets = TargetsOf(main);
        startsIn1904 = Named(book, "workbookPr").FirstOrDefault()?.Attribute("date1904")?.Value is "1" or "true";
        foreach (var sheet in Named(book, "sheet"))
        {
            var name = (string?)sheet.Attribute("name") ?? "";
            if (!targets.TryGetValue(sheet.Attributes().FirstOrDefault(a => a.Name.LocalName == "id")?.Value ?? "", out var part) || !part.Contains("worksheets/", StringComparison.Ordinal)) continue;
            sheets.Add(name);
            partOfSheet[name] = part;
            foreach (var table in TargetsOf(part).Values.Where(t => t.Contains("/tables/", StringComparison.Ordinal)).Select(Load))
                if (table?.Root is { } root && CellRange.Parse((string?)root.Attribute("ref") ?? "") is { } cells)
                    tables.Add(new NamedRange((string?)root.Attribute("displayName") ?? (string?)root.Attribute("name") ?? "", name, cells with { LastRow = cells.LastRow - ((int?)root.Attribute("totalsRowCount") ?? 0) }));
        }
        foreach (var defined in Named(book, "definedName"))
        {
            var text = (string)defined;
            var mark = text.LastIndexOf('!');
            if (mark > 0 && CellRange.Parse(text[(mark + 1)..]) is { } cells) tables.Add(new NamedRange((string?)defined.Attribute("name") ?? "", text[..mark].Trim('\'').Replace("''", "'", StringComparison.Ordinal), cells));
        }
        texts = new(() => targets.Values.FirstOrDefault(t => t.EndsWith("sharedStrings.xml", StringComparison.OrdinalIgnoreCase)) is { } part ? ReadTexts(part) : []);
        forms = new(() => targets.Values.FirstOrDefault(t => t.EndsWith("styles.xml", StringComparison.OrdinalIgnoreCase)) is { } part && Load(part) is { } styles ? FormsIn(styles) : []);
    }

    private enum TimeForm
    {
        None,
        Date,
        Span,
    }

    /// <inheritdoc/>
    public IReadOnlyList<string> Sheets => sheets;

    /// <inheritdoc/>
    public IReadOnlyList<NamedRange> Tables => tables;

    /// <inheritdoc/>
    public IReadOnlyList<string> PassedOver =>
    [
        .. parts.Entries.Any(e => e.FullName.EndsWith("vbaProject.bin", StringComparison.OrdinalIgnoreCase)) ? ["macros"] : Array.Empty<string>(),
        .. parts.Entries.Any(e => e.FullName.StartsWith("xl/externalLinks/", StringComparison.OrdinalIgnoreCase)) ? ["links to other workbooks, whose last values count,"] : Array.Empty<string>(),
    ];

    /// <summary>Opens a workbook.</summary>
    public static Workbook Open(string path)
    {
        var parts = new ZipArchive(new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite), ZipArchiveMode.Read);
        try
        {
            return new Workbook(parts);
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
        using var xml = Reader(partOfSheet[sheet]);
        var row = -1;
        var cells = new List<object?>();
        while (xml.Read())
        {
            if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "row")
            {
                row = int.TryParse(xml.GetAttribute("r"), NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number - 1 : row + 1;
                cells.Clear();
            }
            else if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "c")
            {
                var column = CellRange.Parse(xml.GetAttribute("r") ?? "") is { } at ? at.FirstColumn : cells.Count;
                var value = ReadCell(xml);
                if (value is null) continue;
                while (cells.Count < column) cells.Add(null);
                if (cells.Count == column) cells.Add(value);
                else cells[column] = value;
            }
            else if (xml.NodeType == XmlNodeType.EndElement && xml.LocalName == "row")
            {
                if (cells.Count > 0) yield return (row, [.. cells]);
            }
            else if (xml.NodeType == XmlNodeType.EndElement && xml.LocalName == "sheetData")
            {
                yield break;
            }
        }
    }

    /// <inheritdoc/>
    public IReadOnlyList<CellRange> MergedIn(string sheet) => Scan(sheet).Merged;

    /// <inheritdoc/>
    public CellAddress? FormulaWithoutValue(string sheet, CellRange range)
    {
        foreach (var formula in Scan(sheet).Formulas)
            if (range.Contains(formula.Row, formula.Column)) return formula;
        return null;
    }

    // What has to be known of a sheet before its first row is read.
    private (string Sheet, List<CellRange> Merged, List<CellAddress> Formulas) Scan(string sheet)
    {
        if (scanned is { } known && known.Sheet == sheet) return known;
        var (merged, formulas) = (new List<CellRange>(), new List<CellAddress>());
        using var xml = Reader(partOfSheet[sheet]);
        while (xml.Read())
        {
            if (xml.NodeType != XmlNodeType.Element) continue;
            if (xml.LocalName == "mergeCell" && CellRange.Parse(xml.GetAttribute("ref") ?? "") is { } range) merged.Add(range);
            else if (xml.LocalName == "c" && !xml.IsEmptyElement && xml.GetAttribute("t") is null or "n") ScanCell(xml, formulas);
        }
        scanned = (sheet, merged, formulas);
        return scanned.Value;
    }

    private static void ScanCell(XmlReader xml, List<CellAddress> formulas)
    {
        var address = xml.GetAttribute("r");
        var depth = xml.Depth;
        var (hasFormula, hasValue) = (false, false);
        while (xml.Read() && xml.Depth > depth)
        {
            if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "f") hasFormula = true;
            else if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "v" && !xml.IsEmptyElement && xml.Read() && xml.NodeType == XmlNodeType.Text) hasValue = true;
        }
        if (hasFormula && !hasValue && CellRange.Parse(address ?? "") is { } at) formulas.Add(new CellAddress(at.FirstRow, at.FirstColumn));
    }

    private object? ReadCell(XmlReader xml)
    {
        if (xml.IsEmptyElement) return null;
        var kind = xml.GetAttribute("t");
        _ = int.TryParse(xml.GetAttribute("s"), NumberStyles.None, CultureInfo.InvariantCulture, out var style);
        var depth = xml.Depth;
        string? value = null;
        StringBuilder? own = null;
        while (xml.Read() && xml.Depth > depth)
        {
            if (xml.NodeType != XmlNodeType.Element) continue;
            if (xml.LocalName == "v") value = Content(xml);
            else if (xml.LocalName == "is") own = new StringBuilder();
            else if (xml.LocalName == "rPh") SkipInside(xml);
            else if (xml.LocalName == "t") own?.Append(Unescape(Content(xml)));
        }
        if (kind == "inlineStr") return own?.ToString();
        if (string.IsNullOrEmpty(value)) return null;
        return kind switch
        {
            "s" => texts.Value[int.Parse(value, CultureInfo.InvariantCulture)],
            "str" => Unescape(value),
            "b" => value.Trim() == "1",
            "e" => new CellFailure(value.Trim()),
            "d" => DateTime.Parse(value, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind),
            _ => Number(double.Parse(value, NumberStyles.Float, CultureInfo.InvariantCulture), style < forms.Value.Length ? forms.Value[style] : TimeForm.None),
        };
    }

    // ECMA-376 Part 1, §18.17.4.
    private object Number(double value, TimeForm form)
    {
        const double LastDay = 2958466;
        if (form == TimeForm.None) return value;
        if (form == TimeForm.Span) return TimeSpan.FromMilliseconds(Math.Round(value * 86_400_000)).ToString("c", CultureInfo.InvariantCulture);
        // A date that there is not: 1900 had no 29th of February, and nothing was before it.
        if (value < 0 || value >= LastDay || (!startsIn1904 && (int)value is 60)) return value;
        var start = startsIn1904 ? new DateTime(1904, 1, 1) : value < 60 ? new DateTime(1899, 12, 31) : new DateTime(1899, 12, 30);
        return start.AddMilliseconds(Math.Round(value * 86_400_000));
    }

    private string[] ReadTexts(string part)
    {
        var all = new List<string>();
        using var xml = Reader(part);
        var text = new StringBuilder();
        while (xml.Read())
        {
            if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "si")
            {
                text.Clear();
                if (xml.IsEmptyElement) all.Add("");
            }
            else if (xml.NodeType == XmlNodeType.EndElement && xml.LocalName == "si") all.Add(text.ToString());
            else if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "rPh") SkipInside(xml);
            else if (xml.NodeType == XmlNodeType.Element && xml.LocalName == "t") text.Append(Unescape(Content(xml)));
        }
        return [.. all];
    }

    // The text of an element; the reader is left at its end.
    private static string Content(XmlReader xml)
    {
        if (xml.IsEmptyElement) return "";
        var text = "";
        var depth = xml.Depth;
        while (xml.Read() && xml.Depth > depth)
            if (xml.NodeType is XmlNodeType.Text or XmlNodeType.CDATA or XmlNodeType.Whitespace or XmlNodeType.SignificantWhitespace) text += xml.Value;
        return text;
    }

    private static void SkipInside(XmlReader xml)
    {
        if (xml.IsEmptyElement) return;
        var depth = xml.Depth;
        while (xml.Read() && xml.Depth > depth)
        {
        }
    }

    private static string Unescape(string text) => text.Contains("_x", StringComparison.Ordinal) ? Escaped().Replace(text, m => ((char)int.Parse(m.Groups[1].Value, NumberStyles.HexNumber, CultureInfo.InvariantCulture)).ToString()) : text;

    private static TimeForm[] FormsIn(XDocument styles)
    {
        var own = Named(styles, "numFmt").GroupBy(f => (int?)f.Attribute("numFmtId") ?? 0).ToDictionary(f => f.Key, f => FormOf((string?)f.First().Attribute("formatCode") ?? ""));
        return [.. Named(styles, "cellXfs").Elements().Select(x => (int?)x.Attribute("numFmtId") ?? 0).Select(id => own.TryGetValue(id, out var form) ? form : id switch
        {
            (>= 14 and <= 17) or 22 or (>= 27 and <= 31) or 34 or 35 or 36 or (>= 50 and <= 58) => TimeForm.Date,
            (>= 18 and <= 21) or 32 or 33 or (>= 45 and <= 47) => TimeForm.Span,
            _ => TimeForm.None,
        })];
    }

    private static TimeForm FormOf(string code)
    {
        var elapsed = Elapsed().IsMatch(code);
        var letters = Words().Replace(code.Split(';')[0], "").ToLowerInvariant();
        if (letters.Contains("general", StringComparison.Ordinal)) return TimeForm.None;
        return letters.AsSpan().ContainsAny('y', 'd') ? TimeForm.Date : elapsed || letters.AsSpan().ContainsAny('h', 's') ? TimeForm.Span : letters.Contains('m', StringComparison.Ordinal) ? TimeForm.Date : TimeForm.None;
    }

    private static IEnumerable<XElement> Named(XDocument document, string name) => document.Descendants().Where(e => e.Name.LocalName == name);

    private XmlReader Reader(string part) => XmlReader.Create((parts.GetEntry(part) ?? throw new InvalidDataException($"it has no {part}")).Open(), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, IgnoreComments = true, CloseInput = true });

    private XDocument? Load(string part)
    {
        if (parts.GetEntry(part) is null) return null;
        using var xml = Reader(part);
        return XDocument.Load(xml);
    }

    // Where the relations of a part lead, by their ids; those of the package for no part.
    private Dictionary<string, string> TargetsOf(string part)
    {
        var slash = part.LastIndexOf('/');
        var folder = slash < 0 ? "" : part[..(slash + 1)];
        var relations = Load($"{folder}_rels/{part[(slash + 1)..]}.rels");
        return relations?.Root?.Elements().Where(r => (string?)r.Attribute("TargetMode") != "External")
            .GroupBy(r => (string?)r.Attribute("Id") ?? "").ToDictionary(r => r.Key, r => Uri.UnescapeDataString(new Uri(new Uri($"zip://book/{folder}"), (string?)r.First().Attribute("Target") ?? "").AbsolutePath).TrimStart('/'), StringComparer.Ordinal) ?? [];
    }

    [GeneratedRegex("_x([0-9A-Fa-f]{4})_")]
    private static partial Regex Escaped();

    // What is written in a format as it stands: texts, single signs, colours and conditions.
    [GeneratedRegex("""
        "[^"]*"|\\.|_.|\*.|\[[^\]]*\]
        """)]
    private static partial Regex Words();

    [GeneratedRegex(@"\[(h+|m+|s+)\]", RegexOptions.IgnoreCase)]
    private static partial Regex Elapsed();
}
