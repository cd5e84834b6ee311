using System.Text.RegularExpressions;

namespace Fennick.Revision;

/// <summary>The words, numbers and signs of a text.</summary>
internal static partial class Words
{
    /// <summary>Where each starts and how long it is.</summary>
    public static (int Start, int Length)[] Of(string text) => [.. Word().Matches(text).Select(m => (m.Index, m.Length))];

    /// <summary>The text by which it is compared: what word processors change while somebody types, such as quotation marks, is the same.</summary>
    public static string Alike(string text) => string.Create(text.Length, text, (to, from) =>
    {
        for (var i = 0; i < from.Length; i++) to[i] = Alike(from[i]);
    });

    private static char Alike(char letter) => letter switch
    {
        '“' or '”' or '„' or '«' or '»' => '"',
        '‘' or '’' or '‚' or '´' or '`' => '\'',
        '\u00A0' or '\u202F' or '\u2009' => ' ',
        '\u2011' => '-',
        _ => letter,
    };

    /// <summary>Digits belong together with the signs between them.</summary>
    [GeneratedRegex(@"\d+(?:[.,\u00A0\u202F'’]\d+)*|\p{L}[\p{L}\p{M}]*|.", RegexOptions.Singleline | RegexOptions.CultureInvariant)]
    private static partial Regex Word();
}
