using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>
/// The signs of the numbers in one file: given, or found from its first numbers. A file in which two conventions meet, or in which a number can be read in two
/// ways, is refused.
/// </summary>
internal sealed partial class NumberSigns
{
    private const int MostExactDigits = 15;

    private static readonly double[] Powers = [.. Enumerable.Range(0, MostExactDigits + 1).Select(p => double.Parse($"1e{p}", CultureInfo.InvariantCulture))];

    private readonly bool isGiven;
    private readonly bool mayBeComma;
    private char? decimalSign;
    private char? thousandsSign;
    private (SourcePlace Place, string Text)? point;
    private (SourcePlace Place, string Text)? comma;
    private (SourcePlace Place, string Text)? unclear;

    /// <summary>The signs that are given; those that are not are found.</summary>
    /// <param name="decimalSign">The sign before the decimals.</param>
    /// <param name="thousandsSign">The sign between groups of three digits.</param>
    /// <param name="mayBeComma">Whether a comma before decimals is understood where no sign is given.</param>
    public NumberSigns(char? decimalSign = null, char? thousandsSign = null, bool mayBeComma = false)
    {
        isGiven = decimalSign is not null || thousandsSign is not null;
        this.decimalSign = decimalSign ?? (thousandsSign is null ? null : thousandsSign == ',' ? '.' : thousandsSign == '.' ? ',' : '.');
        this.thousandsSign = thousandsSign;
        this.mayBeComma = mayBeComma;
    }

    /// <summary>The sign before the decimals as far as it is known.</summary>
    public char? DecimalSign => decimalSign;

    /// <summary>The sign between groups of three digits as far as one was met.</summary>
    public char? ThousandsSign => thousandsSign;

    /// <summary>The number that a text in UTF-8 writes.</summary>
    /// <returns>Whether it is one.</returns>
    public bool TryRead(ReadOnlySpan<byte> text, RowSource row, int column, out double value)
    {
        if (TryReadPlain(text, row, column, out value)) return true;
        if (decimalSign is not ',' && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out value) && IsAsWritten(value, text))
        {
            return NotePoint(text, row, column);
        }
        value = 0;
        return !text.IsEmpty && Plain(Encoding.UTF8.GetString(text), row, column) is { } plain && double.TryParse(plain, NumberStyles.Float, CultureInfo.InvariantCulture, out value) && IsAsWritten(value, text);
    }

    /// <summary>The number of a short text of digits and a point, where a point is what stands before decimals.</summary>
    public bool TryReadPlain(ReadOnlySpan<byte> text, RowSource row, int column, out double value)
    {
        value = 0;
        if (decimalSign is ',' || !TryReadShort(text, out value, out var hasPoint)) return false;
        return !hasPoint || NotePoint(text, row, column);
    }

    /// <summary>Takes note of the first number with a point.</summary>
    public bool NotePoint(ReadOnlySpan<byte> text, RowSource row, int column)
    {
        if (point is null && text.Contains((byte)'.')) point = (row.PlaceOf(column), Encoding.UTF8.GetString(text));
        return true;
    }

    // Digits with at most one point among them, of which a double holds all: a whole number by a power of ten, both without error, is rounded once (Clinger, How to read floating point
    // numbers accurately, 1990).
    private static bool TryReadShort(ReadOnlySpan<byte> text, out double value, out bool hasPoint)
    {
        (value, hasPoint) = (0, false);
        var isNegative = text.Length > 0 && text[0] == '-';
        var (number, digits, decimals) = (0L, 0, 0);
        foreach (var sign in isNegative ? text[1..] : text)
        {
            if (sign is >= (byte)'0' and <= (byte)'9')
            {
                number = (number * 10) + (sign - '0');
                digits++;
                if (hasPoint) decimals++;
            }
            else if (sign == '.' && !hasPoint && digits > 0)
            {
                hasPoint = true;
            }
            else
            {
                return false;
            }
        }
        if (digits is 0 or > MostExactDigits || (hasPoint && decimals == 0)) return false;
        value = decimals == 0 ? number : number / Powers[decimals];
        if (isNegative) value = -value;
        return true;
    }

    /// <summary>The number of a text as programs write it; null if the text is none.</summary>
    public string? Plain(string text, RowSource row, int column)
    {
        text = text.Trim();
        if (GroupedBySpace().IsMatch(text) && thousandsSign is null or ' ' or '\'') text = Spaces().Replace(text, "");
        if (!Numeric().IsMatch(text)) return null;
        var hasPoint = text.Contains('.', StringComparison.Ordinal);
        var hasComma = text.Contains(',', StringComparison.Ordinal);
        if (!hasComma && !hasPoint) return text;
        // Signs that neither stand before decimals nor between groups make dates and the like, not numbers.
        if ((text.Count(c => c == '.') > 1 && !GroupedByPoint().IsMatch(text)) || (text.Count(c => c == ',') > 1 && !GroupedByComma().IsMatch(text))) return null;
        if (!isGiven && !Find(text, hasPoint, hasComma, row, column)) return null;
        if (decimalSign is not { } sign) return null;
        if (thousandsSign is { } group && text.Contains(group, StringComparison.Ordinal))
        {
            if (!(group == '.' ? GroupedByPoint() : GroupedByComma()).IsMatch(text)) return null;
            text = text.Replace(group.ToString(), "", StringComparison.Ordinal);
        }
        if (text.Contains(sign == ',' ? '.' : ',', StringComparison.Ordinal) || text.Count(c => c == sign) > 1) return null;
        return text.Replace(sign, '.');
    }

    /// <summary>What is still wrong when all rows are read.</summary>
    public IEnumerable<Diagnostic> Doubts()
    {
        if (point is { } first && (comma ?? unclear) is { } other && !isGiven && !(decimalSign == '.' && thousandsSign == ',' && unclear is null))
        {
            yield return Diagnostic.Error(other.Place, $"`{other.Text}` has a comma where `{first.Text}` ({first.Place}) has a point", "say by `DecimalSign` and `ThousandsSign` of a `CsvDialect` what they mean, or put the file right");
        }
        else if (unclear is { } one && comma is null)
        {
            yield return Diagnostic.Error(one.Place, $"`{one.Text}` may be {one.Text.Replace(',', '.')} or {one.Text.Replace(",", "", StringComparison.Ordinal)}", "say by `DecimalSign` or `ThousandsSign` of a `CsvDialect` what the comma means");
        }
    }

    // Whether the signs of the file are known after this number.
    private bool Find(string text, bool hasPoint, bool hasComma, RowSource row, int column)
    {
        var here = (row.PlaceOf(column), text);
        if (hasPoint && hasComma)
        {
            // The last of the two stands before the decimals.
            var (sign, group) = text.LastIndexOf(',') > text.LastIndexOf('.') ? (',', '.') : ('.', ',');
            if (sign == ',') comma ??= here;
            else point ??= here;
            if (decimalSign is { } known && known != sign) return false;
            (decimalSign, thousandsSign) = (sign, group);
            return true;
        }
        if (hasPoint)
        {
            if (decimalSign == ',' && thousandsSign == '.') return true;
            point ??= here;
            decimalSign ??= '.';
            return true;
        }
        if (decimalSign == '.' && thousandsSign == ',') return true;
        if (!mayBeComma) return false;
        if (text.Count(c => c == ',') > 1 || Unclear().IsMatch(text)) unclear ??= here;
        else comma ??= here;
        // Where a point was met, the two cannot both be right.
        if (point is not null) return false;
        decimalSign = ',';
        return true;
    }

    /// <summary>Whether a number is what the text says, and not too large for its type.</summary>
    private static bool IsAsWritten(double value, ReadOnlySpan<byte> text) => !double.IsInfinity(value) || text.IndexOfAnyInRange((byte)'0', (byte)'9') < 0;

    [GeneratedRegex(@"^[+-]?\d{1,3}([ \u00A0\u202F'\u2019]\d{3})+(?!\d)")]
    private static partial Regex GroupedBySpace();

    [GeneratedRegex(@"[ \u00A0\u202F'\u2019]")]
    private static partial Regex Spaces();

    [GeneratedRegex(@"^[+-]?[\d.,]*\d[\d.,]*([eE][+-]?\d+)?$")]
    private static partial Regex Numeric();

    [GeneratedRegex(@"^[+-]?\d{1,3}(\.\d{3})+(,\d*)?$")]
    private static partial Regex GroupedByPoint();

    [GeneratedRegex(@"^[+-]?\d{1,3}(,\d{3})+(\.\d*)?$")]
    private static partial Regex GroupedByComma();

    // Three digits behind one comma, and before it what a first group may be.
    [GeneratedRegex(@"^[+-]?[1-9]\d{0,2},\d{3}$")]
    private static partial Regex Unclear();
}
