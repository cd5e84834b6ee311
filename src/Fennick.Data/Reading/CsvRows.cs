using System.Buffers;
using System.Text;
using CsvHelper;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Data.Reading;

/// <summary>The rows of character-separated data.</summary>
internal sealed class CsvRows : RowSource
{
    private const long LargestStream = 1L << 30;

    private static readonly SearchValues<byte> Plain = SearchValues.Create("0123456789.-"u8);

    private readonly CsvReader csv;
    private readonly CsvDialect dialect;
    private readonly byte[][] missing;
    private readonly bool isDefaultMissing;

    private CsvRows(string name, CsvReader csv, CsvDialect dialect)
        : base(name)
    {
        this.csv = csv;
        this.dialect = dialect;
        missing = [.. dialect.Missing.Select(Encoding.UTF8.GetBytes)];
        isDefaultMissing = dialect.Missing is ["", "NA"];
        csv.ReadHeader();
        Cells = new CellReader { DateFormat = dialect.DateFormat, Signs = new NumberSigns(dialect.DecimalSign, dialect.ThousandsSign, csv.Separator != ',') };
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string> Heads => csv.Headers ?? [];

    /// <inheritdoc/>
    public override CellReader Cells { get; }

    /// <inheritdoc/>
    public override SourcePlace HeadPlace => new(Name, dialect.LinesBefore + 1, 1);

    /// <inheritdoc/>
    public override int RowNumber => (int)csv.LineNumber + dialect.LinesBefore;

    /// <summary>The signs of the file as far as they are known.</summary>
    public CsvDialect Found => dialect with { Separator = csv.Separator, DecimalSign = Cells.Signs.DecimalSign ?? '.', ThousandsSign = Cells.Signs.ThousandsSign };

    /// <inheritdoc/>
    public override Cell this[int column]
    {
        get
        {
            var span = csv.GetSpan(column);
            return IsMissing(span) ? span.IsEmpty ? Cell.Missing("") : Cell.Missing(Encoding.UTF8.GetString(span)) : span.IsEmpty ? Cell.Text("") : Cell.Utf8(span);
        }
    }

    /// <inheritdoc/>
    public override string TextOf(int column) => csv.GetString(column);

    /// <inheritdoc/>
    public override bool TryQuickNumber(int column, out double value)
    {
        value = 0;
        if (!isDefaultMissing || Cells.Signs.DecimalSign is ',') return false;
        var span = csv.GetSpan(column);
        if (Cells.Signs.TryReadPlain(span, this, column, out value)) return true;
        // The package is quick with many digits; what it may understand beyond plain numbers is not left to it.
        return span.Length > 0 && span.IndexOfAnyExcept(Plain) < 0 && csv.TryParse(column, out value) && double.IsFinite(value) && Cells.Signs.NotePoint(span, this, column);
    }

    /// <inheritdoc/>
    public override bool TryQuickWhole(int column, out long value)
    {
        value = 0;
        if (!isDefaultMissing) return false;
        var span = csv.GetSpan(column);
        if (span.Length is 0 or > 18) return false;
        foreach (var digit in span)
        {
            if (digit is < (byte)'0' or > (byte)'9') return false;
            value = (value * 10) + (digit - '0');
        }
        return true;
    }

    /// <summary>Reads a file.</summary>
    /// <exception cref="ReportException">There is none, it is damaged, or cannot be read.</exception>
    public static TResult Read<TResult>(string path, CsvDialect dialect, Func<CsvRows, TResult> read) => DataFiles.Read(path, full =>
    {
        var encoding = TextEncoding.Of(full, dialect.Encoding, path);
        using var csv = dialect.LinesBefore == 0 ? CsvReader.FromFile(full, Options(dialect, encoding), FileOptions.SequentialScan) : CsvReader.FromText(Behind(new StreamReader(full, encoding), dialect, path), Options(dialect, Encoding.UTF8));
        return Read(path, csv, dialect, read);
    });

    /// <summary>Reads a stream.</summary>
    /// <exception cref="ReportException">It is damaged.</exception>
    public static TResult Read<TResult>(Stream stream, string name, CsvDialect dialect, Func<CsvRows, TResult> read)
    {
        using var content = new MemoryStream(StreamBytes.Read(stream, LargestStream, name), writable: false);
        var encoding = TextEncoding.Of(content, dialect.Encoding, name);
        content.Position = 0;
        using var csv = CsvReader.FromText(Behind(new StreamReader(content, encoding), dialect, name), Options(dialect, Encoding.UTF8));
        return Read(name, csv, dialect, read);
    }

    /// <inheritdoc/>
    public override bool Read()
    {
        if (!csv.Read()) return false;
        if (csv.FieldCount == Heads.Count) return true;
        throw new ReportException(Diagnostic.Error(new SourcePlace(Name, RowNumber, Math.Min(csv.FieldCount, Heads.Count) + 1), $"this row has {csv.FieldCount} cells, but the file has {Heads.Count} columns",
            "put the cell right that is missing or too many; a cell that holds a comma stands in quotation marks"));
    }

    /// <inheritdoc/>
    public override string NameOfRow(int number) => new SourcePlace(Name, number, 1).ToString();

    /// <inheritdoc/>
    public override SourcePlace PlaceOf(int column) => new(Name, RowNumber, column + 1);

    /// <summary>The cells of the current row as they stand.</summary>
    public string[] Texts() => [.. Enumerable.Range(0, csv.FieldCount).Select(csv.GetString)];

    /// <summary>Goes on to the next row, however many cells it has.</summary>
    public bool ReadAny() => csv.Read();

    private static TResult Read<TResult>(string name, CsvReader csv, CsvDialect dialect, Func<CsvRows, TResult> read)
    {
        try
        {
            using var rows = new CsvRows(name, csv, dialect);
            return read(rows);
        }
        catch (CsvFormatException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(name, (int)problem.LineNumber + dialect.LinesBefore, 1), $"the file is damaged: {problem.Message}")], problem);
        }
    }

    private static CsvReaderOptions Options(CsvDialect dialect, Encoding encoding) => new()
    {
        TrackLineNumbers = true,
        PoolStrings = true,
        MalformedData = CsvMalformedDataHandling.Throw,
        Encoding = encoding,
        Separator = dialect.Separator,
        Quote = dialect.Quote,
        Escape = dialect.Quote,
        CommentPrefix = dialect.Comment,
    };

    // The text behind the lines that stand before the names of the columns.
    private static string Behind(StreamReader reader, CsvDialect dialect, string name)
    {
        using (reader)
        {
            for (var i = 0; i < dialect.LinesBefore; i++)
                if (reader.ReadLine() is null) throw new ReportException(Diagnostic.Error(new SourcePlace(name, i + 1, 1), $"the file has {i} lines, and {dialect.LinesBefore} are said to stand before the names of its columns"));
            return reader.ReadToEnd().TrimStart('\uFEFF');
        }
    }

    private bool IsMissing(ReadOnlySpan<byte> cell)
    {
        if (isDefaultMissing) return cell.IsEmpty || cell.SequenceEqual("NA"u8);
        foreach (var word in missing) if (cell.SequenceEqual(word)) return true;
        return false;
    }
}
