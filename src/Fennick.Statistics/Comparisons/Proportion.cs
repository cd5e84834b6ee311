using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Comparisons;

/// <summary>A proportion.</summary>
public sealed record Proportion
{
    /// <summary>A proportion of counts.</summary>
    /// <param name="successes">How many.</param>
    /// <param name="count">Of how many.</param>
    /// <exception cref="AnalysisException">There are no cases, or more successes than cases.</exception>
    public Proportion(int successes, int count)
    {
        if (count <= 0) throw new AnalysisException("there are no cases to take a proportion of");
        if (successes < 0 || successes > count) throw new AnalysisException($"{successes} of {count} is not a proportion");
        Successes = successes;
        Count = count;
    }

    /// <summary>How many.</summary>
    public int Successes { get; }

    /// <summary>Of how many.</summary>
    public int Count { get; }

    /// <summary>Between 0 and 1.</summary>
    public double Value => Successes / (double)Count;

    /// <summary>Wilson's interval.</summary>
    /// <param name="level">Its level, such as 0.95.</param>
    /// <remarks>Wilson (1927), Journal of the American Statistical Association 22.</remarks>
    public Interval Interval(double level = 0.95)
    {
        var z = Tails.NormalQuantile(1 - level);
        var z2 = z * z;
        var middle = (Successes + (z2 / 2)) / (Count + z2);
        var half = z / (Count + z2) * Math.Sqrt((Successes * (double)(Count - Successes) / Count) + (z2 / 4));
        return new Interval(Successes == 0 ? 0 : middle - half, Successes == Count ? 1 : middle + half);
    }
}
