using Fennick.Diagnostics;
using Fennick.Manuscripts;

namespace Fennick.Cli.Watching;

/// <summary>One unit of a roster.</summary>
/// <param name="Roster">The file of the roster.</param>
/// <param name="Unit">What stands in the unit's first column.</param>
internal sealed record RosterUnit(string Roster, string Unit)
{
    /// <summary>The values that it has for the parameters of a manuscript.</summary>
    /// <exception cref="ReportException">There is no such roster, or no such unit in it.</exception>
    public IEnumerable<KeyValuePair<string, string>> ValuesFor(Manuscript manuscript)
    {
        var roster = Batches.Roster.Read(Roster, manuscript.DataEncoding);
        var row = roster.FirstOrDefault(r => r.Cells[0] == Unit)
            ?? throw new ReportException(Diagnostic.Error(new SourcePlace(Roster, 0, 0), $"no unit has `{Unit}` in the first column, `{roster.Columns[0]}`", Nearest.Suggest(Unit, roster.Select(r => r.Cells[0] ?? "")) ?? $"the first units are {string.Join(", ", roster.Take(3).Select(r => $"`{r.Cells[0]}`"))}"));
        foreach (var parameter in manuscript.Tree.Settings.Parameters)
            if (roster.Columns.IndexOf(parameter.Name) is >= 0 and var column && row.Cells[column] is { } value) yield return KeyValuePair.Create(parameter.Name, value);
    }
}
