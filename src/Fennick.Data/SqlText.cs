using System.Collections;
using System.Data.Common;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.RegularExpressions;
using Fennick.Data.Reading;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>
/// A query whose values are parameters. It is written as an interpolated string: <c>$"select * from hives where valley = {valley} and season in {seasons}"</c> sends the
/// values beside the words, never in them, so that an apostrophe in a name breaks nothing; a list is a list of parameters.
/// </summary>
[InterpolatedStringHandler]
public sealed partial class SqlText
{
    private static readonly HashSet<string> Reading = new(StringComparer.OrdinalIgnoreCase) { "select", "with", "values", "table", "from", "show", "describe", "explain", "pragma", "summarize", "pivot", "unpivot" };

    private static readonly HashSet<string> Changing = new(StringComparer.OrdinalIgnoreCase)
    {
        "insert", "update", "delete", "merge", "upsert", "drop", "alter", "create", "truncate", "grant", "revoke", "copy", "attach", "detach", "vacuum", "reindex", "call", "exec", "execute", "do", "install", "load", "into", "set",
    };

    private readonly List<object> parts = [];

    /// <summary>A query without words yet; the compiler calls this.</summary>
    /// <param name="literalLength">How many characters the words have.</param>
    /// <param name="formattedCount">How many values there are.</param>
    public SqlText(int literalLength, int formattedCount) => parts.Capacity = Math.Max(1, (2 * formattedCount) + (literalLength > 0 ? 1 : 0));

    private SqlText(string words, IEnumerable<Given> given)
    {
        parts.Add(words);
        parts.AddRange(given);
    }

    /// <summary>A query that stands in a file, with parameters that it names, such as <c>@valley</c>. The file counts as an input.</summary>
    /// <param name="path">A file in UTF-8.</param>
    /// <param name="parameters">The values by the names in the file, without the sign before them.</param>
    /// <exception cref="ReportException">The file cannot be read.</exception>
    public static SqlText Read(string path, params (string Name, object? Value)[] parameters)
    {
        ArgumentNullException.ThrowIfNull(parameters);
        return DataFiles.Read(path, full => new SqlText(Files.TextEncoding.ReadUtf8(full, path), parameters.Select(p => new Given(p.Name, p.Value))));
    }

    /// <summary>Words of the query; the compiler calls this.</summary>
    public void AppendLiteral(string value) => parts.Add(value);

    /// <summary>A value of the query, or a list of values; the compiler calls this.</summary>
    /// <exception cref="ReportException">The value stands within quotation marks.</exception>
    public void AppendFormatted<T>(T value)
    {
        if (Quotes().Count(string.Concat(parts.OfType<string>())) % 2 != 0)
            throw new ReportException(Diagnostic.Error(null, $"the value `{value}` stands in quotation marks in the query, where it would be words", "leave the marks out: a value is sent beside the query"));
        parts.Add(new Given(null, value));
    }

    /// <summary>The words with signs for the values.</summary>
    public override string ToString() => string.Concat(parts.Select((p, i) => p is string words ? words : p is Given { Name: null } ? $"@p{i}" : ""));

    /// <summary>Fills a command.</summary>
    /// <param name="command">The command of an open connection.</param>
    /// <param name="mayChange">Whether the query may do more than read.</param>
    /// <exception cref="ReportException">It does more than read.</exception>
    internal void Fill(DbCommand command, bool mayChange)
    {
        if (!mayChange) CheckReads();
        var sign = command.GetType().Namespace?.StartsWith("DuckDB", StringComparison.Ordinal) == true ? '$' : '@';
        var text = new StringBuilder();
        var count = 0;
        foreach (var part in parts)
        {
            switch (part)
            {
                case string words:
                    text.Append(words);
                    break;
                case Given { Name: { } name } given:
                    Add(name.TrimStart('@', '$', ':'), given.Value);
                    break;
                case Given { Value: IEnumerable list and not (string or byte[]) }:
                    // A list without values is one that nothing is in.
                    var names = list.Cast<object?>().Select(AddNext).ToArray();
                    text.Append('(').AppendJoin(", ", names.Length == 0 ? ["null"] : names).Append(')');
                    break;
                case Given given:
                    text.Append(AddNext(given.Value));
                    break;
            }
        }
        command.CommandText = text.ToString();

        string AddNext(object? value)
        {
            var name = $"p{count++}";
            Add(name, value);
            return $"{sign}{name}";
        }

        void Add(string name, object? value)
        {
            var parameter = command.CreateParameter();
            parameter.ParameterName = name;
            parameter.Value = value switch { null => DBNull.Value, Enum e => e.ToString(), _ => value };
            command.Parameters.Add(parameter);
        }
    }

    private void CheckReads()
    {
        var words = Words().Matches(Passed().Replace(string.Concat(parts.Select(p => p as string ?? (p is Given { Name: null } ? " ? " : ""))), " ")).Select(m => m.Value).ToArray();
        var first = words.FirstOrDefault(w => w != "(") ?? "";
        var found = !Reading.Contains(first) ? first : words.FirstOrDefault(Changing.Contains) ?? (words.Index().FirstOrDefault(w => w.Item == ";" && w.Index < words.Length - 1 && words[(w.Index + 1)..].Any(n => n != ";")).Item is ";" ? "more than one statement" : null);
        if (found is null) return;
        throw new ReportException(Diagnostic.Error(null, first == "" ? "the query is empty" : $"the query does more than read data: `{found}`", first == "" ? null : "if it is meant to change data, say so by `mayChange: true`"));
    }

    [GeneratedRegex("'")]
    private static partial Regex Quotes();

    // Texts, quoted names and comments.
    [GeneratedRegex("""'(?:[^']|'')*'|"(?:[^"]|"")*"|`[^`]*`|\[[^\]]*\]|--[^\n]*|/\*.*?\*/""", RegexOptions.Singleline)]
    private static partial Regex Passed();

    // A name behind a point is that of a column.
    [GeneratedRegex(@"(?<![.\w])[A-Za-z_]+\w*(?!\s*\.|\w)|[;(]")]
    private static partial Regex Words();

    private sealed record Given(string? Name, object? Value);
}
