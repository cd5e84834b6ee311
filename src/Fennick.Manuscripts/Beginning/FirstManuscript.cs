using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Fennick.Data;
using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Tables;

namespace Fennick.Manuscripts.Beginning;

/// <summary>
/// Writes a first manuscript from a data file, to be edited: an overview table, a section with sentences and a chart for each variable that says most, and comparisons between groups.
/// </summary>
internal sealed partial class FirstManuscript
{
    private const int MostNumbers = 3;
    private const int MostFactors = 3;
    private const int FewGroups = 12;
    private const int ColumnsOfChart = 7;
    private const int GroupsOfTable = 4;

    private static readonly HashSet<string> Years = new(StringComparer.OrdinalIgnoreCase) { "year", "season", "jahr", "annee", "anno", "ano", "rok", "jaar" };
    private static readonly HashSet<string> Keys = new(StringComparer.OrdinalIgnoreCase) { "id", "nr", "no", "number", "index", "row", "code", "key" };

    private readonly StringBuilder text = new();
    private readonly Column[] columns;
    private readonly Columns data;
    private readonly HashSet<string> labels = new(StringComparer.Ordinal) { "overview", "summary" };

    private FirstManuscript(Columns data)
    {
        this.data = data;
        columns = [.. data.Names.Select((n, i) => new Column(n, i, data.Column(n), data.Labels[n]))];
        if (columns.GroupBy(c => c.Member, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } same)
            throw new ReportException(Diagnostic.Error(null, $"the columns {string.Join(" and ", same.Select(c => $"`{c.Name}`"))} differ only in signs that names of members do not have", "rename one of them"));
    }

    /// <summary>The manuscript.</summary>
    /// <param name="file">The data file, by a path from where the manuscript will be.</param>
    /// <param name="data">What is in it.</param>
    /// <param name="title">The title, in Markdown.</param>
    /// <param name="author">The author.</param>
    /// <param name="argument">What the call that reads it says of the part that is meant.</param>
    /// <exception cref="ReportException">The data have no rows, or columns that cannot be told apart.</exception>
    public static string Of(string file, Columns data, string title, string author, string argument)
    {
        if (data.Count == 0) throw new ReportException(Diagnostic.Error(new SourcePlace(file, 0, 0), "there are no rows in it", "name a file with data"));
        var manuscript = new FirstManuscript(data);
        manuscript.Write(file, title, author, argument);
        return manuscript.text.ToString();
    }

    /// <summary>Parts a data file from what of it is meant: <c>sites.xlsx#Apiaries</c>, a table, a range, or a sheet.</summary>
    public static (string File, string? Part) Split(string named) => named.LastIndexOf('#') is > 0 and var hash && !File.Exists(named) ? (named[..hash], named[(hash + 1)..]) : (named, null);

    /// <summary>Reads a data file as columns, by what its name ends in.</summary>
    /// <param name="path">The file.</param>
    /// <param name="part">What of a workbook is meant; its first sheet if null.</param>
    /// <returns>What is in it, and what the call that reads it says of the part.</returns>
    /// <exception cref="ReportException">It cannot be read, or its kind is not known.</exception>
    public static (Columns Data, string Argument) Read(string path, string? part = null) => ReaderOf(path) switch
    {
        "Spreadsheet" when part is not null => ReadPart(path, part),
        _ when part is not null => throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), $"only workbooks have parts such as `#{part}`", "name the file alone")),
        "Spreadsheet" => (Spreadsheet.Columns(path), ""),
        "Json" => (Json.Columns(path), ""),
        "ParquetFile" => (ParquetFile.Columns(path), ""),
        "LabelledFile" => (LabelledFile.Columns(path), ""),
        _ => (Csv.Columns(path), ""),
    };

    // A part of a workbook; a table comes before the sheet of its name.
    private static (Columns Data, string Argument) ReadPart(string path, string part)
    {
        if (Cells().IsMatch(part)) return (Spreadsheet.Columns(path, range: part), $", range: \"{part}\"");
        try
        {
            return (Spreadsheet.Columns(path, table: part), $", table: \"{part}\"");
        }
        catch (ReportException) when (Spreadsheet.Sheets(path).Contains(part))
        {
            return (Spreadsheet.Columns(path, sheet: part), $", sheet: \"{part}\"");
        }
    }

    [GeneratedRegex(@"^\$?[A-Za-z]{1,3}\$?[0-9]+(:\$?[A-Za-z]{1,3}\$?[0-9]+)?$")]
    private static partial Regex Cells();

    private static string ReaderOf(string path) => Path.GetExtension(path).ToLowerInvariant() switch
    {
        ".csv" or ".tsv" or ".txt" or ".tab" => "Csv",
        ".xlsx" or ".xlsm" or ".xlsb" or ".xls" or ".ods" => "Spreadsheet",
        ".json" or ".jsonl" or ".ndjson" => "Json",
        ".parquet" => "ParquetFile",
        ".sav" or ".zsav" or ".dta" => "LabelledFile",
        var other => throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), $"files that end in `{other}` are not known", "name a file of character-separated values, a spreadsheet, JSON, Parquet, or a `.sav` or `.dta` file; of a database export the query's result")),
    };

    private void Write(string file, string title, string author, string argument)
    {
        var numbers = columns.Where(c => c.IsMeasured).OrderBy(c => c.IsWhole).ThenByDescending(c => c.Distinct).ThenBy(c => c.Index).Take(MostNumbers).OrderBy(c => c.Index).ToArray();
        var factors = columns.Where(c => c.IsGroup && !c.IsYear).Take(MostFactors).ToArray();
        var year = columns.FirstOrDefault(c => c.IsYear);
        var group = factors.FirstOrDefault();
        Line("```manuscript", "fennick: 1", $"title: {title}", $"authors: {author}", "language: en-GB", "```", "");
        Line("```csharp prepare", $"var rows = {ReaderOf(file)}.Read<Entry>(\"{file.Replace("\\", "/", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)}\"{argument});");
        foreach (var number in numbers) Line($"var {number.Variable} = Description.Of(rows, r => r.{number.Member});");
        foreach (var factor in factors) Line($"var {factor.Variable} = Frequency.Of(rows, r => r.{factor.Member}).OrderByDescending(f => f.Count).ToList();");
        Line("", $"record Entry({string.Join(", ", columns.Select(c => $"{(c.Words == Labels.None[c.Name] ? "" : $"[Label({Quoted(c.Words)})] ")}{c.Type} {c.Member}"))});", "```", "");
        Line("# What the data hold", "", $"{{rows.Count:#,0}} rows hold {columns.Length} variables; {{see overview}} shows what each is, how much is missing, and what looks doubtful.", "");
        Step("table", "overview", "What the data hold", "Data.Overview(rows)");
        if (numbers.Length > 0)
        {
            Line("# The numbers", "");
            if (numbers.Length > 1)
            {
                var few = factors.FirstOrDefault(f => f.Distinct <= GroupsOfTable);
                Line($"{{see summary}} {(few is null ? "has them side by side" : $"compares them between the groups of {Prose(few.Within)}")}.", "");
                Step("table", "summary", "The numbers in short", $"DescriptiveTable.Of(rows, r => new {{ {string.Join(", ", numbers.Select(n => $"r.{n.Member}"))} }}){(few is null ? "" : $".By({Quoted(few.Words)}, (Entry r) => r.{few.Member})")}");
            }
            foreach (var number in numbers) WriteNumber(number, year, group);
        }
        if (factors.Length > 0) Line("# The groups", "");
        foreach (var factor in factors) WriteFactor(factor);
    }

    private void WriteNumber(Column number, Column? year, Column? group)
    {
        var (name, format) = (Label(number.Label), number.Format);
        Line($"## {Prose(number.Words)}", "");
        Line($"The mean of {{{number.Variable}.Count:#,0}} values is {{{number.Variable}.Mean:{format}}}; half of them lie between {{{number.Variable}.Quantile(0.25):{format}}} and {{{number.Variable}.Quantile(0.75):{format}}}, all between"
            + $" {{{number.Variable}.Minimum:{format}}} and {{{number.Variable}.Maximum:{format}}}{(number.HasMissing ? $", and {{{number.Variable}.Missing:#,0}} are missing" : "")}. {{see {name}}} shows how they are spread.", "");
        Step("figure", name, $"How {Prose(number.Within)} is spread", $"Chart.Histogram(rows, r => r.{number.Member}).Axes({Quoted(number.Words)}, \"Rows\")");
        if (year is not null && year != number)
        {
            var label = Label($"{number.Label}-by-{year.Label}");
            Line($"{{see {label}}} shows its mean by {Prose(year.Within)}.", "");
            Step("figure", label, $"Mean of {Prose(number.Within)} by {Prose(year.Within)}", $"Chart.Lines(Description.By(rows, r => r.{number.Member}, r => r.{year.Member}), g => g.Group, g => g.Mean).WithPoints().Axes(\"\", {Quoted(number.Words)})");
        }
        if (group is not null)
        {
            var label = Label($"{number.Label}-by-{group.Label}");
            var kind = group.Distinct <= ColumnsOfChart ? "Columns" : "Bars";
            Line($"{{see {label}}} compares the means of the groups of {Prose(group.Within)}.", "");
            Step("figure", label, $"Mean of {Prose(number.Within)} by {Prose(group.Within)}", $"Chart.{kind}(Description.By(rows, r => r.{number.Member}, r => r.{group.Member}), g => g.Group, g => g.Mean){(kind == "Bars" ? ".Sorted()" : "")}.Axes(\"\", {Quoted(number.Words)}).Format(\"{format}\").WithValues()");
        }
    }

    private void WriteFactor(Column factor)
    {
        var name = Label(factor.Label);
        Line($"## {Prose(factor.Words)}", "");
        Line($"The most frequent of {{{factor.Variable}.Count(f => f.Level != null)}} values is {{{factor.Variable}.First(f => f.Level != null).Level}}, with {{{factor.Variable}.First(f => f.Level != null).Share:P0}} of the rows; {{see {name}}} shows all of them.", "");
        Step("table", name, $"Rows by {Prose(factor.Within)}", $"FrequencyTable.Of(rows, r => r.{factor.Member}).Sorted()");
    }

    private void Step(string role, string label, string caption, string code) => Line($"```csharp {role} {label}", $"caption: {caption}{(role == "figure" ? "\nheight: 5.5 cm" : "")}", "=>", code, "```", "");

    private void Line(params string[] lines)
    {
        foreach (var line in lines) text.Append(line).Append('\n');
    }

    private string Label(string wanted)
    {
        var label = wanted;
        for (var i = 2; !labels.Add(label); i++) label = $"{wanted}-{i}";
        return label;
    }

    // Words of the data within Markdown.
    private static string Prose(string words)
    {
        var escaped = new StringBuilder();
        foreach (var c in words) escaped.Append(c is '{' or '}' or '\\' or '*' or '_' or '`' or '[' or ']' or '<' or '$' or '~' or '#' or '@' or '^' ? "\\" : "").Append(c);
        return escaped.ToString();
    }

    private static string Quoted(string words) => Microsoft.CodeAnalysis.CSharp.SymbolDisplay.FormatLiteral(words, quote: true);

    /// <summary>A column as the manuscript speaks of it.</summary>
    private sealed class Column
    {
        private static readonly HashSet<string> Taken = new(StringComparer.Ordinal) { "Entry", "GetType", "ToString", "Equals", "GetHashCode", "EqualityContract", "Deconstruct", "PrintMembers", "MemberwiseClone", "Finalize" };

        public Column(string name, int index, Variable variable, string words)
        {
            (Name, Index, Words) = (name, index, words);
            var parts = string.Concat(name.Select(c => char.IsLetterOrDigit(c) ? c : ' ')).Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var joined = string.Concat(parts.Select(p => char.ToUpperInvariant(p[0]) + p[1..]));
            Member = joined.Length == 0 ? $"Column{index + 1}" : char.IsDigit(joined[0]) || Taken.Contains(joined) ? $"_{joined}" : joined;
            if (joined.Length == 0) throw new ReportException(Diagnostic.Error(null, $"the name of column {index + 1}, `{name}`, has no letter and no digit", "name it by a word"));
            Variable = $"the{joined}";
            Label = string.Join('-', parts).ToLowerInvariant();
            HasMissing = Enumerable.Range(0, variable.Count).Any(variable.IsMissing);
            if (variable is NumericVariable { Values: var values })
            {
                var present = values.Where(v => !double.IsNaN(v)).ToArray();
                IsWhole = present.All(v => v == Math.Floor(v) && Math.Abs(v) < 1e15);
                Distinct = present.Distinct().Count();
                IsNumber = true;
                var largest = present.Length == 0 ? 0 : present.Max(Math.Abs);
                Type = !IsWhole || present.Length == 0 ? "double" : largest <= int.MaxValue ? "int" : "long";
                var decimals = IsWhole ? 1 : Math.Min(3, 1 + present.Take(500).Max(v => Math.Max(0, v.ToString("R", CultureInfo.InvariantCulture).Split('.') is [_, var d] ? Math.Min(d.Length, 6) : 0)));
                Format = largest >= 10_000 ? "#,0" : $"0.{new string('0', largest >= 100 ? Math.Min(decimals, 1) : decimals)}";
                IsKey = parts.Any(Keys.Contains) || (IsWhole && Distinct == present.Length && Distinct > FewGroups && present.Zip(present.Skip(1)).All(p => p.Second == p.First + 1));
                IsYear = IsWhole && Distinct is > 1 and <= 40 && (parts.Any(Years.Contains) || present.All(v => v is >= 1900 and <= 2100));
            }
            else if (variable is FactorVariable factor)
            {
                Distinct = factor.Levels.Length;
                Type = factor.Levels.Length > 0 && factor.Levels.All(l => l.ToLowerInvariant() is "yes" or "no" or "true" or "false") ? "bool"
                    : factor.Levels.Length > 0 && factor.Levels.All(l => DateOnly.TryParseExact(l, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _)) ? "DateOnly" : "string";
            }
            if (HasMissing || Distinct == 0) Type += "?";
        }

        public string Name { get; }

        public int Index { get; }

        public string Words { get; }

        /// <summary>The words within a sentence.</summary>
        public string Within => Words.Length > 1 && char.IsUpper(Words[0]) && !char.IsUpper(Words[1]) ? char.ToLowerInvariant(Words[0]) + Words[1..] : Words;

        public string Member { get; }

        public string Variable { get; }

        public string Label { get; }

        public string Type { get; } = "string";

        public string Format { get; } = "0.0";

        public bool HasMissing { get; }

        public int Distinct { get; }

        public bool IsYear { get; }

        public bool IsMeasured => IsNumber && !IsKey && !IsYear && Distinct > 2;

        public bool IsGroup => !IsNumber && Distinct is >= 2 and <= FewGroups && Type.TrimEnd('?') != "DateOnly";

        private bool IsNumber { get; }

        public bool IsWhole { get; }

        private bool IsKey { get; }
    }
}
