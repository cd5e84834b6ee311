using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Statistics.Variables;

namespace Fennick.Data.Reading;

/// <summary>Reads the rows of a source as columns, and finds what each holds.</summary>
internal static class ColumnReader
{
    private const int CellsShown = 3;

    /// <summary>Columns of a source that can be opened more than once: where a column turns out to be text behind its first numbers, it is read again.</summary>
    /// <param name="open">Opens the source and gives it to what it is called with.</param>
    /// <param name="texts">The columns that are text whatever they hold.</param>
    /// <exception cref="ReportException">Two columns have one name, or one is mostly numbers but not throughout.</exception>
    public static Columns Read(Func<Func<RowSource, Column[]>, Column[]> open, IReadOnlyList<string> texts)
    {
        Tables.Labels? labels = null;
        var columns = open(rows =>
        {
            CheckHeads(rows);
            labels = rows.Labels;
            var all = rows.Heads.Select(h => new Column(h.Trim(), texts.Any(t => ColumnNames.AreAlike(t, h)))).ToArray();
            if (texts.FirstOrDefault(t => !rows.Heads.Any(h => ColumnNames.AreAlike(t, h))) is { } unknown)
                throw new ReportException(Diagnostic.Error(rows.HeadPlace, $"there is no column `{unknown}` to take for text", Nearest.Suggest(unknown, rows.Heads)));
            while (rows.Read())
                for (var c = 0; c < all.Length; c++) all[c].Add(rows[c], rows, c);
            Diagnostic[] problems = [.. all.Select(c => c.Problem()).OfType<Diagnostic>(), .. rows.Cells.Signs.Doubts()];
            return problems.Length == 0 ? all : throw new ReportException(problems);
        });
        if (columns.Any(c => c.IsToBeReadAgain))
        {
            var again = columns.Select(c => c.IsToBeReadAgain ? new Column(c.Name, isText: true) : null).ToArray();
            open(rows =>
            {
                while (rows.Read())
                    for (var c = 0; c < again.Length; c++) again[c]?.Add(rows[c], rows, c);
                return [];
            });
            columns = [.. columns.Select((c, i) => again[i] ?? c)];
        }
        return new Columns(columns.Select(c => c.ToVariable())) { Labels = labels ?? Tables.Labels.None };
    }

    private static void CheckHeads(RowSource rows)
    {
        for (var c = 0; c < rows.Heads.Count; c++)
            if (string.IsNullOrWhiteSpace(rows.Heads[c])) throw new ReportException(Diagnostic.Error(rows.HeadPlace, $"column {c + 1} has no name", "name it, or take it out"));
        if (rows.Heads.GroupBy(h => h.Trim(), StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw new ReportException(Diagnostic.Error(rows.HeadPlace, $"{twice.Count()} columns are called `{twice.Key}`", "rename all but one"));
    }

    /// <summary>What is known of one column.</summary>
    internal sealed class Column(string name, bool isText)
    {
        private readonly bool isText = isText;
        private readonly List<double> numbers = [];
        private readonly Dictionary<string, int> codes = new(StringComparer.Ordinal);
        private readonly List<string> levels = [];
        private readonly List<int> rowCodes = [];
        private readonly List<(SourcePlace Place, string Text)> firstTexts = [];
        private int numberCount;
        private int textCount;
        private bool hasCodes;
        private bool isTextMode = isText;

        public string Name => name;

        /// <summary>Whether it is text, and began with numbers.</summary>
        public bool IsToBeReadAgain { get; private set; }

        public void Add(in Cell cell, RowSource rows, int column)
        {
            if (cell.Kind == CellKind.Missing || (cell.Kind == CellKind.Text && cell.ToText().Length == 0))
            {
                if (isTextMode) rowCodes.Add(-1);
                else numbers.Add(double.NaN);
                return;
            }
            if (!isText && (cell.Kind is CellKind.Whole or CellKind.Number or CellKind.Exact || (cell.Kind == CellKind.Text && !rows.HasTypes)) && rows.Cells.TryNumber(cell, rows, column, out var number))
            {
                numberCount++;
                hasCodes |= cell.Kind == CellKind.Text && HasZeroBefore(cell.ToText().Trim());
                if (!isTextMode) numbers.Add(number);
                else rowCodes.Add(Code(cell.ToText()));
                return;
            }
            var text = cell.ToText();
            textCount++;
            if (firstTexts.Count < CellsShown) firstTexts.Add((rows.PlaceOf(column), text));
            if (!isTextMode)
            {
                isTextMode = true;
                IsToBeReadAgain = numberCount > 0;
                if (!IsToBeReadAgain) rowCodes.AddRange(Enumerable.Repeat(-1, numbers.Count));
            }
            if (!IsToBeReadAgain) rowCodes.Add(Code(text));
        }

        public Diagnostic? Problem()
        {
            if (hasCodes && !isTextMode) (isTextMode, IsToBeReadAgain) = (true, true);
            if (isText || hasCodes || textCount == 0 || numberCount <= textCount) return null;
            var shown = string.Join(", ", firstTexts.Select((t, i) => i == 0 ? $"`{t.Text}`" : $"`{t.Text}` ({t.Place})"));
            return Diagnostic.Error(firstTexts[0].Place, $"column `{name}` holds {numberCount.ToString("N0", CultureInfo.InvariantCulture)} numbers and {(textCount == 1 ? "one cell that is none" : $"{textCount.ToString("N0", CultureInfo.InvariantCulture)} cells that are none")}: {shown}{(textCount > firstTexts.Count ? ", …" : "")}",
                "put them right, name them as missing, or name the column as text");
        }

        public Variable ToVariable()
        {
            if (!isTextMode) return new NumericVariable(name, [.. numbers]);
            var ordered = levels.Order(NaturalOrder.Comparer).ToList();
            var places = ordered.Select((level, i) => (level, i)).ToDictionary(p => p.level, p => p.i, StringComparer.Ordinal);
            return new FactorVariable(name, [.. ordered], [.. rowCodes.Select(c => c < 0 ? -1 : places[levels[c]])]);
        }

        private int Code(string text)
        {
            if (codes.TryGetValue(text, out var code)) return code;
            codes.Add(text, levels.Count);
            levels.Add(text);
            return levels.Count - 1;
        }

        private static bool HasZeroBefore(string text) => text.TrimStart('+', '-') is ['0', >= '0' and <= '9', ..];
    }
}
