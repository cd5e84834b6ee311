using System.Collections.Immutable;

namespace Fennick.Statistics.Variables;

/// <summary>The columns that a response is regressed on.</summary>
public sealed class DesignMatrix
{
    private readonly double[]?[] columns;

    /// <summary>A design of whole columns. A column that is the same in all rows is the constant, wherever it stands and whatever it is called.</summary>
    /// <param name="columns">k columns of n values.</param>
    /// <param name="terms">What each column is.</param>
    /// <exception cref="ArgumentException">The columns differ in length, or there are not as many terms.</exception>
    public DesignMatrix(IReadOnlyList<double[]> columns, ImmutableArray<Term> terms)
        : this(Checked(columns, terms), terms, columns.Count == 0 ? 0 : columns[0].Length)
    {
        Intercept = Array.FindIndex(this.columns, c => c!.Length > 0 && c[0] != 0 && double.IsFinite(c[0]) && !c.AsSpan().ContainsAnyExcept(c[0]));
        if (Intercept < 0) return;
        Partition = Partition.Whole;
        InterceptValue = this.columns[Intercept]![0];
        GroupsOf = GroupsOf.SetItem(Intercept, (0, -1));
    }

    private DesignMatrix(double[]?[] columns, ImmutableArray<Term> terms, int rowCount)
    {
        this.columns = columns;
        Terms = terms;
        RowCount = rowCount;
        GroupsOf = [.. terms.Select(_ => (-1, -1))];
    }

    /// <summary>What the columns are.</summary>
    public ImmutableArray<Term> Terms { get; }

    /// <summary>n, the number of rows.</summary>
    public int RowCount { get; }

    /// <summary>k, the number of columns.</summary>
    public int ColumnCount => columns.Length;

    /// <summary>The place of the constant; -1 if there is none.</summary>
    internal int Intercept { get; private init; } = -1;

    /// <summary>The value that the constant has in all rows.</summary>
    internal double InterceptValue { get; private init; } = 1;

    /// <summary>The groups that stand for the constant and the columns of a factor, or for absorbed effects.</summary>
    internal Partition Partition { get; private init; } = Partition.None;

    /// <summary>For each column that the groups stand for the group whose effect it is and the group that this is compared with, if any; (-1, -1) for a column of its own values.</summary>
    internal ImmutableArray<(int Group, int Reference)> GroupsOf { get; private init; }

    /// <summary>The places of the columns that have values of their own.</summary>
    internal IEnumerable<int> Dense => Enumerable.Range(0, ColumnCount).Where(c => GroupsOf[c].Group < 0);

    /// <summary>Whether there is a constant.</summary>
    internal bool HasIntercept => Intercept >= 0;

    /// <summary>The design of a plan: the constant first if there is one.</summary>
    internal static DesignMatrix Create(double[]?[] columns, ImmutableArray<Term> terms, int rowCount, bool intercept) => new(columns, terms, rowCount)
    {
        Intercept = intercept ? 0 : -1,
        Partition = intercept ? Partition.Whole : Partition.None,
        GroupsOf = [.. terms.Select((_, c) => intercept && c == 0 ? (0, -1) : (-1, -1))],
    };

    /// <summary>A column without any meaning for the mean, such as the slopes of a curve.</summary>
    internal static DesignMatrix OfSlopes(double[][] columns, ImmutableArray<Term> terms) => new(columns, terms, columns[0].Length);

    /// <summary>The same design with the levels of a factor as groups, which stand for its columns and the constant.</summary>
    /// <param name="codes">The group of each row.</param>
    /// <param name="columnOfGroup">The column of each group; -1 for the reference.</param>
    internal DesignMatrix WithGroups(int[] codes, int[] columnOfGroup)
    {
        var reference = Array.IndexOf(columnOfGroup, -1);
        var groups = GroupsOf.ToBuilder();
        if (Intercept >= 0) groups[Intercept] = (reference, -1);
        for (var g = 0; g < columnOfGroup.Length; g++)
            if (columnOfGroup[g] >= 0) groups[columnOfGroup[g]] = (g, reference);
        return new DesignMatrix(columns, Terms, RowCount) { Intercept = Intercept, Partition = new Partition(codes, columnOfGroup.Length), GroupsOf = groups.ToImmutable() };
    }

    /// <summary>The same columns within groups that stand for no term: absorbed effects.</summary>
    internal DesignMatrix Absorbing(Partition partition) => new(columns, Terms, RowCount) { Partition = partition };

    /// <summary>Other values of the same columns.</summary>
    internal DesignMatrix With(double[]?[] changed) => new(changed, Terms, RowCount) { Intercept = Intercept, InterceptValue = InterceptValue, Partition = Partition, GroupsOf = GroupsOf };

    /// <summary>The same design with its rows in other groups.</summary>
    internal DesignMatrix InGroups(int[] codes) => new(columns, Terms, RowCount) { Intercept = Intercept, InterceptValue = InterceptValue, Partition = Partition with { Codes = codes }, GroupsOf = GroupsOf };

    /// <summary>A column's values as they are kept; null for a column that groups stand for.</summary>
    internal double[]? Kept(int place) => columns[place];

    /// <summary>A column's values.</summary>
    internal double[] Column(int place)
    {
        if (columns[place] is { } own) return own;
        var made = new double[RowCount];
        var (group, _) = GroupsOf[place];
        if (place == Intercept) Array.Fill(made, InterceptValue);
        else for (var i = 0; i < made.Length; i++) made[i] = Partition[i] == group ? 1 : 0;
        return made;
    }

    /// <summary>The design without some of its columns.</summary>
    internal DesignMatrix Without(IReadOnlySet<int> dropped)
    {
        if (dropped.Count == 0) return this;
        int[] kept = [.. Enumerable.Range(0, ColumnCount).Where(c => !dropped.Contains(c))];
        return new DesignMatrix([.. kept.Select(c => columns[c])], [.. kept.Select(c => Terms[c])], RowCount)
        {
            Intercept = Array.IndexOf(kept, Intercept),
            InterceptValue = InterceptValue,
            Partition = Partition,
            GroupsOf = [.. kept.Select(c => GroupsOf[c])],
        };
    }

    private static double[]?[] Checked(IReadOnlyList<double[]> columns, ImmutableArray<Term> terms)
    {
        if (columns.Count != terms.Length) throw new ArgumentException("There must be a term for each column.", nameof(terms));
        return columns.Any(c => c.Length != columns[0].Length) ? throw new ArgumentException("The columns must have the same length.", nameof(columns)) : [.. columns];
    }
}
