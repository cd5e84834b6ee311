using System.Buffers;
using System.Globalization;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Running;

namespace Fennick.Files;

/// <summary>Reads text of which every byte is accounted for: what is not in the encoding that is expected is refused, never replaced.</summary>
internal static class TextEncoding
{
    private const int Block = 1 << 16;
    private const int LongestShown = 40;

    // What programs write that do not write UTF-8, the usual first.
    private static readonly string[] Likely = ["windows-1252", "windows-1250", "windows-1251", "iso-8859-15", "macintosh", "ibm850", "windows-1253", "windows-1254", "utf-16"];

    /// <summary>The encoding of a name, which refuses what it does not know.</summary>
    /// <exception cref="ReportException">There is none.</exception>
    public static Encoding Find(string name, SourcePlace? place = null)
    {
        try
        {
            var found = CodePagesEncodingProvider.Instance.GetEncoding(name) ?? Encoding.GetEncoding(name);
            return Strict(found);
        }
        catch (ArgumentException)
        {
            throw new ReportException(Diagnostic.Error(place, $"`{name}` is not an encoding", Nearest.Suggest(name, ["utf-8", .. Likely]) ?? "write a name such as `utf-8`, `windows-1252` or `utf-16`"));
        }
    }

    /// <summary>The encoding of a data file: what its mark says, or else the one that is named, or else UTF-8. The whole file is in it.</summary>
    /// <param name="path">The file.</param>
    /// <param name="name">The name of its encoding; the usual one if null.</param>
    /// <param name="display">What messages call the file.</param>
    /// <exception cref="ReportException">It is not: the line is named, and what the file may be in.</exception>
    public static Encoding Of(string path, string? name, string? display = null)
    {
        using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1, FileOptions.SequentialScan);
        return Of(file, name, display ?? path);
    }

    /// <summary>The encoding of data that can be read again.</summary>
    /// <exception cref="ReportException">They are not in it: the line is named, and what they may be in.</exception>
    public static Encoding Of(Stream file, string? name, string display)
    {
        Span<byte> start = stackalloc byte[4];
        start = start[..file.ReadAtLeast(start, 4, throwOnEndOfStream: false)];
        file.Position = 0;
        name ??= RunContext.Current?.Encoding;
        var encoding = OfMark(start) ?? (name is null ? Strict(Encoding.UTF8) : Find(name));
        Check(file, encoding, display, name is null ? "name its encoding in the setting `data.encoding` or in the call, such as `encoding: \"windows-1252\"`, or save it as UTF-8" : null);
        return encoding;
    }

    /// <summary>The text of a file that has to be in UTF-8.</summary>
    /// <param name="path">The file.</param>
    /// <param name="display">What messages call it.</param>
    /// <exception cref="ReportException">It is not.</exception>
    public static string ReadUtf8(string path, string display)
    {
        var bytes = File.ReadAllBytes(path);
        var strict = Strict(Encoding.UTF8);
        using (var stream = new MemoryStream(bytes)) Check(stream, OfMark(bytes) ?? strict, display, null, isData: false);
        return (OfMark(bytes) ?? strict).GetString(bytes).TrimStart('\uFEFF');
    }

    /// <summary>The lines of a data file.</summary>
    public static string[] ReadLines(string path, string display) => File.ReadAllLines(path, Of(path, null, display));

    private static Encoding Strict(Encoding encoding)
    {
        if (encoding is UTF8Encoding) return new UTF8Encoding(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);
        var strict = (Encoding)encoding.Clone();
        strict.EncoderFallback = EncoderFallback.ExceptionFallback;
        strict.DecoderFallback = DecoderFallback.ExceptionFallback;
        return strict;
    }

    private static Encoding? OfMark(ReadOnlySpan<byte> start) =>
        start.StartsWith(Encoding.UTF8.Preamble) ? Strict(Encoding.UTF8)
        : start.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]) ? new UnicodeEncoding(bigEndian: false, byteOrderMark: true, throwOnInvalidBytes: true)
        : start.StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]) ? new UnicodeEncoding(bigEndian: true, byteOrderMark: true, throwOnInvalidBytes: true) : null;

    private static void Check(Stream file, Encoding encoding, string display, string? advice, bool isData = true)
    {
        var decoder = encoding.GetDecoder();
        var (bytes, characters) = (ArrayPool<byte>.Shared.Rent(Block), ArrayPool<char>.Shared.Rent(Block + 8));
        var (line, done) = (1, 0L);
        try
        {
            int count;
            var isUtf8 = encoding is UTF8Encoding;
            var isWhole = true;
            while ((count = file.Read(bytes, 0, Block)) > 0)
            {
                // Most data are of characters that are one byte each.
                var block = bytes.AsSpan(0, count);
                if (isUtf8 && isWhole && Ascii.IsValid(block) && !block.Contains((byte)0))
                {
                    line += block.Count((byte)'\n');
                    done += count;
                    continue;
                }
                isWhole = false;
                try
                {
                    var read = decoder.GetChars(bytes.AsSpan(0, count), characters, flush: false);
                    // Text has no such character; a text of two bytes a character has it everywhere.
                    if (characters.AsSpan(0, read).Contains('\0')) throw Refused(file, display, line + characters.AsSpan(0, read)[..characters.AsSpan(0, read).IndexOf('\0')].Count('\n'), "holds a zero character", ["utf-16", "utf-16BE"], advice);
                    line += characters.AsSpan(0, read).Count('\n');
                }
                catch (DecoderFallbackException problem)
                {
                    var at = Math.Clamp(problem.Index, 0, count);
                    if (!isData) throw new ReportException([Diagnostic.Error(new SourcePlace(display, line + bytes.AsSpan(0, at).Count((byte)'\n'), 1), $"the file is not UTF-8 (byte {done + at})", "save it as UTF-8")], problem);
                    throw Refused(file, display, line + bytes.AsSpan(0, at).Count((byte)'\n'), $"is not in {NameOf(encoding)} (byte {(done + at + 1).ToString(CultureInfo.InvariantCulture)} of the file)", Likely, advice);
                }
                done += count;
            }
            try
            {
                decoder.GetChars([], characters, flush: true);
            }
            catch (DecoderFallbackException)
            {
                throw Refused(file, display, line, $"is not in {NameOf(encoding)}: the file ends in the middle of a character", [], advice);
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(bytes);
            ArrayPool<char>.Shared.Return(characters);
        }
    }

    private static string NameOf(Encoding encoding) => encoding is UTF8Encoding ? "UTF-8" : encoding.WebName;

    private static ReportException Refused(Stream file, string display, int line, string what, string[] candidates, string? advice)
    {
        var row = RowAt(file, line);
        var likely = candidates.Select(c => (Name: c, Text: Decode(row, c))).Where(c => c.Text is not null).OrderByDescending(c => Plausibility(c.Text!)).Take(2)
            .Select(c => $"`{c.Name}` (it reads `{(c.Text!.Length > LongestShown ? $"{c.Text[..LongestShown]}…" : c.Text)}` then)").ToArray();
        string[] parts = [.. likely.Length == 0 ? [] : new[] { $"it may be {string.Join(" or ", likely)}" }, .. advice is null ? [] : new[] { advice }];
        return new ReportException(Diagnostic.Error(new SourcePlace(display, line, 1), $"this line {what}", parts.Length == 0 ? null : string.Join("; ", parts)));
    }

    private static byte[] RowAt(Stream whole, int line)
    {
        const int Longest = 4096;
        whole.Position = 0;
        var file = new BufferedStream(whole, Block);
        for (var left = line - 1; left > 0;) if (file.ReadByte() is var read && read == '\n') left--; else if (read < 0) return [];
        var row = new List<byte>();
        while (row.Count < Longest && file.ReadByte() is >= 0 and not '\n' and var read) row.Add((byte)read);
        return [.. row];
    }

    private static string? Decode(byte[] row, string name)
    {
        try
        {
            return Find(name).GetString(row).TrimEnd('\r');
        }
        catch (Exception problem) when (problem is DecoderFallbackException or ReportException)
        {
            return null;
        }
    }

    /// <summary>How much a text looks like words: letters among letters count, capitals within words, many accents in a row and signs count against it.</summary>
    private static int Plausibility(string text)
    {
        var score = 0;
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            if (c <= '\u007F') continue;
            var isInWord = i > 0 && char.IsLower(text[i - 1]);
            var isCrowded = i > 1 && IsAccented(c) && IsAccented(text[i - 1]) && IsAccented(text[i - 2]);
            score += char.IsControl(c) ? -5 : isCrowded ? -4 : char.IsLetter(c) ? (char.IsUpper(c) && isInWord ? -2 : 3) : "€°–’“”²³½£".Contains(c) ? 2 : -1;
        }
        return score;
    }

    private static bool IsAccented(char c) => c is > '\u007F' and <= '\u017F' && char.IsLetter(c);
}
