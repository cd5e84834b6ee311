using System.Collections.Immutable;
using System.Globalization;
using System.IO.Hashing;
using System.Text;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Batches;

/// <summary>Names the documents of a batch: <c>{valley}/{apiary}.docx</c>, safe for every usual file system.</summary>
internal sealed partial class NamePattern
{
    // A name of 255 bytes is the longest, and while it is written a file bears more than its name.
    private const int LongestName = 180;
    private const string Forbidden = "/\\:*?\"<>|";
    private static readonly string[] Devices = ["CON", "PRN", "AUX", "NUL"];

    private readonly Roster roster;
    private readonly ImmutableArray<string> segments;

    /// <param name="pattern">The pattern; the roster's column of that name, or <c>row</c>, stands in braces.</param>
    /// <param name="roster">The roster.</param>
    /// <exception cref="ReportException">It names no column, or leads out of the folder.</exception>
    public NamePattern(string pattern, Roster roster)
    {
        this.roster = roster;
        var place = new SourcePlace("--name", -1, 0);
        if (pattern.EndsWith(".docx", StringComparison.OrdinalIgnoreCase)) pattern = pattern[..^".docx".Length];
        segments = [.. pattern.Split('/')];
        if (segments.Any(s => s.Trim() is "" or "." or ".."))
            throw new ReportException(Diagnostic.Error(place, $"`{pattern}` is not a pattern for names inside the folder of the batch", "write one such as `{valley}/{apiary}.docx`"));
        var holes = Hole().Matches(pattern).Select(m => m.Groups[1].Value).ToArray();
        if (holes.Length == 0) throw new ReportException(Diagnostic.Error(place, $"`{pattern}` gives all units one name", $"put a column into it, such as `{{{roster.Columns.FirstOrDefault() ?? "row"}}}`"));
        foreach (var hole in holes.Where(h => h != "row")) roster.FindColumn(hole, place);
    }

    /// <summary>The name of a row's document, without <c>.docx</c>.</summary>
    public string NameOf(RosterRow row) => string.Join('/', segments.Select(s => Safe(Hole().Replace(s, m => Text(row, m.Groups[1].Value)))));

    private string Text(RosterRow row, string column) => column == "row" && roster.TryFindColumn(column) is null
        ? row.Number.ToString(CultureInfo.InvariantCulture) : row.Cells[roster.FindColumn(column, null)] ?? "";

    /// <summary>A name for a file or a folder: what cannot stand in one becomes a hyphen, and what is too long is cut and told apart by a hash.</summary>
    internal static string Safe(string name)
    {
        // Half a character comes as the sign for none; neither that nor what is not a character can be normalised.
        var safe = Composed.Of(string.Concat(name.EnumerateRunes().Select(r => Rune.IsControl(r) || r == Rune.ReplacementChar || (r.Value & 0xFFFE) == 0xFFFE || r.Value is >= 0xFDD0 and <= 0xFDEF || Forbidden.Contains(r.ToString(), StringComparison.Ordinal) ? "-" : r.ToString()))).Trim().TrimEnd('.', ' ');
        // A hidden file, or only dots.
        if (safe.StartsWith('.')) safe = "-" + safe.TrimStart('.');
        if (safe.Length == 0) safe = "-";
        var stem = safe.Split('.')[0].ToUpperInvariant();
        if (Devices.Contains(stem) || DeviceNumber().IsMatch(stem)) safe = "-" + safe;
        if (Encoding.UTF8.GetByteCount(safe) <= LongestName) return safe;
        var hash = XxHash32.HashToUInt32(Encoding.UTF8.GetBytes(safe)).ToString("x8", CultureInfo.InvariantCulture);
        var cut = new StringBuilder();
        var bytes = 0;
        foreach (var rune in safe.EnumerateRunes())
        {
            bytes += rune.Utf8SequenceLength;
            if (bytes > LongestName - hash.Length - 1) break;
            cut.Append(rune.ToString());
        }
        return $"{cut.ToString().TrimEnd()}-{hash}";
    }

    [GeneratedRegex(@"\{\s*([^{}]*?)\s*\}")]
    private static partial Regex Hole();

    [GeneratedRegex("^(COM|LPT)[0-9]$")]
    private static partial Regex DeviceNumber();
}
