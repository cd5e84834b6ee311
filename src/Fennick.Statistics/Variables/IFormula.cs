namespace Fennick.Statistics.Variables;

/// <summary>How a variable is computed from its record.</summary>
internal interface IFormula
{
    /// <summary>The members of the record that it is computed from.</summary>
    IReadOnlyList<Member> Members { get; }

    /// <summary>Whether it is a member as it is, without any arithmetic.</summary>
    bool IsPlain { get; }

    /// <summary>The derivative with respect to a member, for each record.</summary>
    /// <exception cref="AnalysisException">The formula has no derivative that could be found.</exception>
    double[] Slopes(Member member);

    /// <summary>The values if a member had another value in every record; not-a-number where they are missing.</summary>
    double[] ValuesWith(Member member, object value);
}

/// <summary>A member of a record that formulas are made of.</summary>
/// <param name="Path">How it is reached from the record: <c>ForageHa</c>, <c>Site.Altitude</c>.</param>
/// <param name="Name">Its own name.</param>
internal sealed record Member(string Path, string Name);
