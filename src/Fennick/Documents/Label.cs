using System.Text;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>The name under which a table, figure or section is referred to.</summary>
/// <param name="Name">Letters, digits, <c>-</c> and <c>_</c>.</param>
/// <param name="Place">Where it was given.</param>
public sealed record Label(string Name, SourcePlace? Place)
{
    /// <summary>Whether a name is a label as it stands.</summary>
    public static bool IsValid(string name) =>
        name.Length > 0 && name.All(c => char.IsLetterOrDigit(c) || c is '-' or '_');

    /// <summary>Brings words to the form of a label: lower case, other runs to <c>-</c>.</summary>
    public static string FromWords(string words)
    {
        var label = new StringBuilder(words.Length);
        foreach (var c in words)
        {
            if (char.IsLetterOrDigit(c) || c == '_') label.Append(char.ToLowerInvariant(c));
            else if (label.Length > 0 && label[^1] != '-') label.Append('-');
        }
        return label.ToString().TrimEnd('-');
    }
}
