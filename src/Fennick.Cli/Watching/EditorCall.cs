using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;

namespace Fennick.Cli.Watching;

/// <summary>How the user's editor is called with a place.</summary>
internal sealed partial class EditorCall
{
    /// <summary>Names the editor where the command does not.</summary>
    public const string Variable = "FENNICK_EDITOR";

    private readonly string[] words;

    private EditorCall(string[] words) => this.words = words;

    /// <summary>Reads a call such as <c>code --goto {file}:{line}:{column}</c>; null if it is empty.</summary>
    public static EditorCall? Read(string? call)
    {
        string[] words = [.. Word().Matches(call ?? "").Select(m => m.Value.Trim('"'))];
        if (words.Length == 0) return null;
        return new EditorCall(words.Any(w => w.Contains("{file}", StringComparison.Ordinal)) ? words : [.. words, "{file}"]);
    }

    /// <summary>Opens a place.</summary>
    public void Open(string file, int line, int column)
    {
        string Filled(string word) => word.Replace("{file}", file, StringComparison.Ordinal).Replace("{line}", Math.Max(1, line).ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal).Replace("{column}", Math.Max(1, column).ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal);
        try
        {
            using var process = Process.Start(new ProcessStartInfo(words[0], words.Skip(1).Select(Filled)) { UseShellExecute = false, RedirectStandardOutput = true, RedirectStandardError = true });
        }
        catch (Win32Exception problem)
        {
            Terminal.Say($"warning: the editor `{words[0]}` cannot be started: {problem.Message}");
        }
    }

    [GeneratedRegex("\"[^\"]*\"|\\S+")]
    private static partial Regex Word();
}
