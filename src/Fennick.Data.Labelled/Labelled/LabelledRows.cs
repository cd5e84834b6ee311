using System.Text;
using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Data.Labelled;

/// <summary>The rows of a file with labels.</summary>
internal sealed class LabelledRows : RowSource
{
    private readonly int count;
    private readonly string[] heads;
    private int row = -1;

    private LabelledRows(string name, IReadOnlyList<LabelledVariable> variables)
        : base(name)
    {
        Variables = variables;
        heads = [.. variables.Select(v => v.Name)];
        count = variables.Count == 0 ? 0 : variables[0].Numbers?.Count ?? variables[0].Texts!.Count;
        var labels = Tables.Labels.None;
        foreach (var variable in variables.Where(v => v.Label.Length > 0)) labels = labels.With(variable.Name, variable.Label);
        Labels = labels;
    }

    public IReadOnlyList<LabelledVariable> Variables { get; }

    /// <summary>The labels of categories in the order of their codes, by the names of the variables.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> LevelOrders => Variables.Where(v => v is { IsCategory: true, Numbers: not null }).ToDictionary(v => v.Name, v => (IReadOnlyList<string>)[.. v.ValueLabels.Values]);

    /// <inheritdoc/>
    public override IReadOnlyList<string> Heads => heads;

    /// <inheritdoc/>
    public override Tables.Labels? Labels { get; }

    /// <inheritdoc/>
    public override bool HasTypes => true;

    /// <inheritdoc/>
    public override SourcePlace HeadPlace => new(Name, -1, 0);

    /// <inheritdoc/>
    public override int RowNumber => row + 1;

    /// <inheritdoc/>
    public override Cell this[int column]
    {
        get
        {
            var variable = Variables[column];
            if (variable.Texts is { } texts) return texts[row].Length == 0 ? Cell.Missing() : Cell.Text(variable.IsCategory ? variable.TextLabels[texts[row]] : texts[row]);
            var number = variable.Numbers![row];
            if (double.IsNaN(number)) return Cell.Missing();
            if (variable.IsCategory) return Cell.Text(variable.ValueLabels[number]);
            if (variable.Meaning == NumberMeaning.Number) return number == Math.Truncate(number) && Math.Abs(number) < 1e15 ? Cell.Integer((long)number) : Cell.Real(number);
            // So many seconds in one number leave the parts of a second in ten thousandths at best.
            var (whole, unit) = (Math.Floor(number), TimeSpan.TicksPerDay / variable.UnitsPerDay);
            var rest = Math.Round((number - whole) * unit / 1000) * 1000;
            return (whole * unit) + rest + variable.Origin.Ticks is >= 0 and var all && all < DateTime.MaxValue.Ticks ? Cell.Of(variable.Origin.AddTicks(((long)whole * (long)unit) + (long)rest)) : throw new ReportException(Diagnostic.Error(PlaceOf(column), $"the number {number} in `{variable.Name}` is no date"));
        }
    }

    /// <inheritdoc/>
    public override bool TryQuickNumber(int column, out double value)
    {
        // A number takes the code of a category.
        value = Variables[column] is { IsCategory: true, Numbers: { } numbers } ? numbers[row] : double.NaN;
        return !double.IsNaN(value);
    }

    /// <inheritdoc/>
    public override bool TryQuickWhole(int column, out long value)
    {
        value = 0;
        if (!TryQuickNumber(column, out var number) || number != Math.Truncate(number)) return false;
        value = (long)number;
        return true;
    }

    /// <inheritdoc/>
    public override bool Read() => ++row < count;

    /// <inheritdoc/>
    public override SourcePlace PlaceOf(int column) => new($"{NameOfRow(RowNumber)}, variable {heads[column]}", -1, 0);

    /// <summary>Reads a file.</summary>
    /// <exception cref="ReportException">There is none, it is damaged, or of another kind.</exception>
    public static T Read<T>(string path, string? encoding, Func<LabelledRows, T> read) => DataFiles.Read(path, full =>
    {
        var forced = encoding is null ? null : TextEncoding.Find(encoding, new SourcePlace(path, 0, 0));
        using var stream = new FileStream(full, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16);
        var start = new byte[4];
        var length = stream.ReadAtLeast(start, start.Length, throwOnEndOfStream: false);
        stream.Position = 0;
        var kind = Encoding.Latin1.GetString(start, 0, length);
        if (kind is not ("$FL2" or "$FL3" or "<sta") && start[0] is not (113 or 114 or 115))
            throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "this is no `.sav`, `.zsav` or `.dta` file that is known", "save it as one of them, or as CSV"));
        using var rows = DataFiles.Decode(path, kind[0] == '$' ? "`.sav` file" : "`.dta` file", "save it again from the program that it comes from", () => new LabelledRows(path, kind[0] == '$' ? new SystemFile(new BinarySource(stream), forced).Read() : new DtaFile(new BinarySource(stream), forced).Read()));
        return read(rows);
    });
}
