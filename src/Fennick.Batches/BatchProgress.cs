namespace Fennick.Batches;

/// <summary>How far a batch is.</summary>
/// <param name="Outcome">The unit that was finished last.</param>
/// <param name="Finished">How many units are finished.</param>
/// <param name="Failed">How many of them failed.</param>
/// <param name="Total">How many there are to make.</param>
/// <param name="Elapsed">How long it has taken so far.</param>
public sealed record BatchProgress(UnitOutcome Outcome, int Finished, int Failed, int Total, TimeSpan Elapsed)
{
    /// <summary>The form that is made of all documents in one go when they are there, such as <c>pdf</c>; <see cref="Finished"/> and <see cref="Total"/> count its files then. Null while units are made.</summary>
    public string? Form { get; init; }

    /// <summary>Units, or files of a form, per second.</summary>
    public double Rate => Elapsed > TimeSpan.Zero ? Finished / Elapsed.TotalSeconds : 0;

    /// <summary>How long the rest will take if it goes on like this.</summary>
    public TimeSpan Left => Rate > 0 ? TimeSpan.FromSeconds((Total - Finished) / Rate) : TimeSpan.Zero;
}
