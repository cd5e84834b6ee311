namespace Fennick.Data.Labelled;

/// <summary>How the numbers of a variable are to be understood.</summary>
internal enum NumberMeaning
{
    Number,

    /// <summary>Days since an origin.</summary>
    Day,

    /// <summary>Parts of seconds since an origin.</summary>
    Moment,
}

/// <summary>A variable of a file, with its values.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Label">What it is called for people; empty if the file does not say.</param>
internal sealed record LabelledVariable(string Name, string Label)
{
    /// <summary>Its numbers, in the order of the rows, not-a-number for missing ones; null if it holds texts.</summary>
    public List<double>? Numbers { get; init; }

    /// <summary>Its texts, in the order of the rows; null if it holds numbers.</summary>
    public List<string>? Texts { get; init; }

    /// <summary>The labels of its codes, in the order of the codes.</summary>
    public SortedDictionary<double, string> ValueLabels { get; init; } = [];

    /// <summary>The labels of its texts.</summary>
    public Dictionary<string, string> TextLabels { get; init; } = new(StringComparer.Ordinal);

    public NumberMeaning Meaning { get; init; }

    /// <summary>What its times are counted from.</summary>
    public DateTime Origin { get; init; }

    /// <summary>How many of its units make a day.</summary>
    public double UnitsPerDay { get; init; } = 1;

    /// <summary>Whether all that it holds has labels.</summary>
    public bool IsCategory => isCategory ??= Numbers is { } numbers
        ? ValueLabels.Count > 0 && Meaning == NumberMeaning.Number && numbers.Any(n => !double.IsNaN(n)) && numbers.All(n => double.IsNaN(n) || ValueLabels.ContainsKey(n))
        : TextLabels.Count > 0 && Texts!.Any(t => t.Length > 0) && Texts!.All(t => t.Length == 0 || TextLabels.ContainsKey(t));

    private bool? isCategory;
}
