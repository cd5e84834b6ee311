using System.Collections.Immutable;

namespace Fennick.Statistics.Variables;

/// <summary>The columns that a response is regressed on.</summary>
public sealed class DesignMatrix
{
    /// <summary>A design of whole columns.</summary>
    /// <param name="columns">k columns of n values.</param>
    /// <param name="terms">What each column is.</param>
    /// <exception cref="ArgumentException">The columns differ in length, or there are not as many terms.</exception>
    public DesignMatrix(IReadOnlyList<double[]> columns, ImmutableArray<Term> terms)
    {
        ArgumentNullException.ThrowIfNull(columns);
        if (columns.Count != terms.Length) throw new ArgumentException("There must be a term for each column.", nameof(terms));
        if (columns.Any(c => c.Length != columns[0].Length)) throw new ArgumentException("The columns must have the same length.", nameof(columns));
        Columns = [.. columns];
        Terms = terms;
    }

    /// <summary>What the columns are.</summary>
    public ImmutableArray<Term> Terms { get; }

    /// <summary>n, the number of rows.</summary>
    public int RowCount => Columns.Length == 0 ? 0 : Columns[0].Length;

    /// <summary>k, the number of columns.</summary>
    public int ColumnCount => Columns.Length;

    internal double[][] Columns { get; }

    /// <summary>Whether the first column is the constant.</summary>
    internal bool HasIntercept => Terms.Length > 0 && ReferenceEquals(Terms[0], Term.Intercept);

    /// <summary>The design without some of its columns.</summary>
    internal DesignMatrix Without(IReadOnlySet<int> dropped)
    {
        var kept = Enumerable.Range(0, ColumnCount).Where(c => !dropped.Contains(c)).ToArray();
        return new DesignMatrix([.. kept.Select(c => Columns[c])], [.. kept.Select(c => Terms[c])]);
    }
}
