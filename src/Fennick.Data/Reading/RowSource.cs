using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>A table as its source gives it: named columns, and one row after another.</summary>
internal abstract class RowSource(string name) : IDisposable
{
    /// <summary>What messages call it.</summary>
    public string Name => name;

    /// <summary>The names of its columns.</summary>
    public abstract IReadOnlyList<string> Heads { get; }

    /// <summary>What its columns are called for people, by name; null where it does not say.</summary>
    public virtual Tables.Labels? Labels => null;

    /// <summary>Whether the source itself tells numbers from texts.</summary>
    public virtual bool HasTypes => false;

    /// <summary>How its texts are to be understood as numbers and dates.</summary>
    public virtual CellReader Cells { get; } = new();

    /// <summary>A cell of the current row.</summary>
    public abstract Cell this[int column] { get; }

    /// <summary>A cell of the current row as text.</summary>
    public virtual string TextOf(int column) => this[column].ToText();

    /// <summary>The number in a cell where it can be had without a further look; whatever else there is, the cell itself tells.</summary>
    public virtual bool TryQuickNumber(int column, out double value)
    {
        value = 0;
        return false;
    }

    /// <summary>The whole number in a cell where it can be had without a further look.</summary>
    public virtual bool TryQuickWhole(int column, out long value)
    {
        value = 0;
        return false;
    }

    /// <summary>Goes on to the next row.</summary>
    /// <returns>Whether there is one.</returns>
    /// <exception cref="ReportException">The source is damaged.</exception>
    public abstract bool Read();

    /// <summary>Where a cell of the current row is.</summary>
    public abstract SourcePlace PlaceOf(int column);

    /// <summary>The number of the current row, as users count it: that of a line, of a row of a sheet, or of a result.</summary>
    public abstract int RowNumber { get; }

    /// <summary>What messages call a row.</summary>
    public virtual string NameOfRow(int number) => $"{Name}, row {number.ToString(CultureInfo.InvariantCulture)}";

    /// <summary>Where the names of the columns are.</summary>
    public virtual SourcePlace HeadPlace => new(Name, 1, 1);

    /// <inheritdoc/>
    public virtual void Dispose()
    {
    }

    /// <summary>Reads all rows into records.</summary>
    /// <exception cref="ReportException">A column is missing, or cells have the wrong form: a message for each column.</exception>
    public List<T> Records<T>()
    {
        var binder = RecordBinder<T>.Create(this);
        var records = new List<T>();
        var numbers = new List<int>();
        while (Read())
        {
            records.Add(binder.Bind());
            numbers.Add(RowNumber);
        }
        binder.Finish();
        RecordPlaces.Keep(records, row => NameOfRow(numbers[row]));
        return records;
    }
}
