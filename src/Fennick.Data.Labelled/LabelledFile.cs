using System.Reflection;
using Fennick.Data.Labelled;
using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Statistics.Variables;

namespace Fennick.Data;

/// <summary>
/// Reads the files in which statistics packages keep data with labels: system files (<c>.sav</c>, also compressed, and <c>.zsav</c>) and <c>.dta</c> of releases 113 to 119. Missing codes are missing values; a variable whose values all
/// have labels holds categories, and its labels are what is read; dates by the variable's format are dates.
/// </summary>
public static class LabelledFile
{
    /// <summary>Reads the rows into records, by the names of the variables as <see cref="Csv.Read{T}(string, string?)"/> does. Of a category a text member takes the label, a number its code. A missing value needs a member that may be null.</summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="path">The file.</param>
    /// <param name="encoding">The encoding of its texts, where the file itself says none or a wrong one.</param>
    /// <exception cref="ReportException">There is no such file, it is damaged or of another kind, a variable is missing, or cells have the wrong form: variable and row are named.</exception>
    /// <example><code>
    /// var answers = LabelledFile.Read&lt;Answer&gt;("survey.sav");
    /// record Answer(string Valley, int? Age, double Weight);
    /// </code></example>
    public static IReadOnlyList<T> Read<T>(string path, string? encoding = null) => LabelledRows.Read(path, encoding, rows => rows.Records<T>());

    /// <summary>Reads the rows as columns for statistics, overviews and listings: numbers as they are, categories and texts as factors, the levels of a category in the order of its codes. What the file calls its variables becomes the columns' labels.</summary>
    /// <param name="path">The file.</param>
    /// <param name="encoding">The encoding of its texts, where the file itself says none or a wrong one.</param>
    /// <exception cref="ReportException">There is no such file, it is damaged, or of another kind.</exception>
    public static Columns Columns(string path, string? encoding = null)
    {
        IReadOnlyDictionary<string, IReadOnlyList<string>> orders = new Dictionary<string, IReadOnlyList<string>>();
        var read = ColumnReader.Read(pick => LabelledRows.Read(path, encoding, rows =>
        {
            orders = rows.LevelOrders;
            return pick(rows);
        }), []);
        return new Columns(read.Names.Select(n => read.Column(n) is FactorVariable factor && orders.TryGetValue(n, out var order) ? InOrder(factor, order) : read.Column(n))) { Labels = read.Labels };
    }

    /// <summary>What the file calls its variables, for tables and charts of its records: by the names of the members that take them.</summary>
    /// <typeparam name="T">The type of the records.</typeparam>
    /// <param name="path">The file.</param>
    /// <param name="encoding">The encoding of its texts, where the file itself says none or a wrong one.</param>
    /// <exception cref="ReportException">There is no such file, it is damaged, or of another kind.</exception>
    /// <example><code>DescriptiveTable.Of(answers, a =&gt; new { a.Age }).Labels(LabelledFile.Labels&lt;Answer&gt;("survey.sav"))</code></example>
    public static Tables.Labels Labels<T>(string path, string? encoding = null) => LabelledRows.Read(path, encoding, rows =>
    {
        var labels = Tables.Labels.None;
        foreach (var member in typeof(T).GetProperties(BindingFlags.Instance | BindingFlags.Public))
            if (rows.Variables.FirstOrDefault(v => ColumnNames.AreAlike(member.Name, v.Name)) is { Label.Length: > 0 } variable) labels = labels.With(member.Name, variable.Label);
        return labels;
    });

    private static FactorVariable InOrder(FactorVariable factor, IReadOnlyList<string> order)
    {
        var levels = factor.Levels.OrderBy(l => order.Index().FirstOrDefault(o => o.Item == l, (Index: int.MaxValue, Item: "")).Index).ToArray();
        var places = levels.Index().ToDictionary(l => l.Item, l => l.Index, StringComparer.Ordinal);
        return new FactorVariable(factor.Name, [.. levels], [.. factor.Codes.Select(c => c < 0 ? -1 : places[factor.Levels[c]])]);
    }
}
