using System.Globalization;
using System.IO.Hashing;
using System.Net;
using System.Text;

namespace Fennick.Records;

/// <summary>By what it is known whether a thing in a paragraph is another: made of the mark-up that was written for it.</summary>
internal static class WrittenObject
{
    /// <summary>The key of mark-up that holds no numbers of the document's own.</summary>
    public static string KeyOf(ReadOnlySpan<byte> written) => Crc32.HashToUInt32(written).ToString("x8", CultureInfo.InvariantCulture);

    /// <summary>The key of a shape: of its paths.</summary>
    public static string KeyOfPaths(ReadOnlySpan<byte> written)
    {
        var start = written.IndexOf("<a:pathLst>"u8);
        var end = written.IndexOf("</a:pathLst>"u8);
        return KeyOf(start < 0 || end < start ? written : written[start..end]);
    }

    /// <summary>The letters of a formula.</summary>
    public static string LettersOf(ReadOnlySpan<byte> written)
    {
        var letters = new StringBuilder();
        while (written.IndexOf("<m:t"u8) is >= 0 and var start)
        {
            written = written[(start + 4)..];
            var begin = written.IndexOf((byte)'>') + 1;
            var isText = written[0] is (byte)'>' or (byte)' ';
            var end = written.IndexOf("</m:t>"u8);
            if (!isText || end < begin) continue;
            letters.Append(Encoding.UTF8.GetString(written[begin..end]));
            written = written[end..];
        }
        return WebUtility.HtmlDecode(letters.ToString());
    }
}
