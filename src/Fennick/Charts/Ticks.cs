namespace Fennick.Charts;

/// <summary>Round numbers for axes: 1, 2, 2.5 or 5 times a power of ten apart.</summary>
/// <param name="Minimum">Where the axis begins.</param>
/// <param name="Maximum">Where it ends.</param>
/// <param name="Step">The distance of its ticks.</param>
internal readonly record struct Ticks(double Minimum, double Maximum, double Step)
{
    private static readonly double[] Steps = [1, 2, 2.5, 5, 10];

    /// <summary>How many distances there are.</summary>
    public int Count => (int)Math.Round((Maximum - Minimum) / Step);

    /// <summary>The numbers at the ticks, without the noise of addition.</summary>
    public IEnumerable<double> Numbers
    {
        get
        {
            var (from, step, digits) = (Minimum, Step, Decimals(Step));
            return Enumerable.Range(0, (int)Math.Floor(((Maximum - Minimum) / Step) + 1e-9) + 1).Select(i => digits <= 15 ? Math.Round(from + (i * step), digits) : from + (i * step));
        }
    }

    /// <summary>The decimals that show a step in full.</summary>
    public static int Decimals(double step)
    {
        var magnitude = (int)Math.Floor(Math.Log10(step) + 1e-9);
        var mantissa = step / Math.Pow(10, magnitude);
        return Math.Max(0, (Math.Abs(mantissa - Math.Round(mantissa)) > 1e-6 ? 1 : 0) - magnitude);
    }

    /// <summary>The least round number that is not below a distance.</summary>
    public static double RoundStep(double distance)
    {
        var power = Math.Pow(10, Math.Floor(Math.Log10(distance)));
        return Steps.First(s => s * power >= distance * (1 - 1e-9)) * power;
    }

    /// <summary>The axis that holds a range with at most so many distances.</summary>
    /// <param name="low">The least value.</param>
    /// <param name="high">The greatest value.</param>
    /// <param name="most">How many distances there may be.</param>
    /// <param name="axis">What the user said of it.</param>
    /// <param name="room">The share of the range that is left free beside the values, where it ends there rather than at a tick; null for a tick.</param>
    public static Ticks Of(double low, double high, int most, ChartAxis axis, double? room = null)
    {
        (low, high) = (axis.Minimum ?? Math.Min(low, axis.Maximum ?? low), axis.Maximum ?? Math.Max(high, axis.Minimum ?? high));
        if (high - low <= Math.Abs(high) * 1e-12)
        {
            var half = high == 0 ? 1 : Math.Abs(high) * 0.1;
            (low, high) = (axis.Minimum ?? low - half, axis.Maximum ?? high + half);
            if (high <= low) high = low + (2 * half);
        }
        var step = axis.Step ?? RoundStep((high - low) / most);
        var (from, to) = (axis.Minimum ?? Floor(low, step), axis.Maximum ?? Ceiling(high, step));
        while (axis.Step is null && (to - from) / step > most + 1e-6)
        {
            step = RoundStep(step * 1.01);
            (from, to) = (axis.Minimum ?? Floor(low, step), axis.Maximum ?? Ceiling(high, step));
        }
        if (room is not { } share) return new Ticks(from, to, step);
        var range = high - low;
        return new Ticks(axis.Minimum ?? (low == 0 ? 0 : low - (range * (share + (low < 0 ? 0.09 : 0.02)))), axis.Maximum ?? (high == 0 ? 0 : high + (range * 0.02)), step);
    }

    private static double Floor(double number, double step) => Clean(Math.Floor((number / step) + 1e-9) * step, step);

    private static double Ceiling(double number, double step) => Clean(Math.Ceiling((number / step) - 1e-9) * step, step);

    private static double Clean(double number, double step) => Decimals(step) is var digits and <= 15 ? Math.Round(number, digits) : number;
}
