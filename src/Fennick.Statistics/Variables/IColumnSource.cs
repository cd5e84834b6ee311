namespace Fennick.Statistics.Variables;

/// <summary>A data set whose variables are named: a data frame, or what a database query returned.</summary>
public interface IColumnSource
{
    /// <summary>The names of its variables.</summary>
    IReadOnlyList<string> Names { get; }

    /// <summary>A variable by name.</summary>
    /// <exception cref="AnalysisException">There is none of that name.</exception>
    Variable Column(string name);
}
