using System.Globalization;

namespace Fennick.Statistics.Numerics;

/// <summary>A sum of two doubles with about 32 digits, for the few places where 16 are not enough.</summary>
/// <remarks>Dekker (1971), Numerische Mathematik 18; products by fused multiply-add.</remarks>
internal readonly record struct DoubleDouble(double High, double Low)
{
    private static readonly DoubleDouble LogOfTwo = new(0.6931471805599453, 2.3190468138462996e-17);

    public static implicit operator DoubleDouble(double value) => new(value, 0);

    public double Value => High + Low;

    public static DoubleDouble operator +(DoubleDouble a, DoubleDouble b)
    {
        var sum = a.High + b.High;
        var part = sum - a.High;
        var error = (a.High - (sum - part)) + (b.High - part) + a.Low + b.Low;
        return Normalised(sum, error);
    }

    public static DoubleDouble operator -(DoubleDouble a) => new(-a.High, -a.Low);

    public static DoubleDouble operator -(DoubleDouble a, DoubleDouble b) => a + -b;

    public static DoubleDouble operator *(DoubleDouble a, double b)
    {
        var product = a.High * b;
        return Normalised(product, Math.FusedMultiplyAdd(a.High, b, -product) + (a.Low * b));
    }

    public static DoubleDouble operator *(DoubleDouble a, DoubleDouble b)
    {
        var product = a.High * b.High;
        return Normalised(product, Math.FusedMultiplyAdd(a.High, b.High, -product) + (a.High * b.Low) + (a.Low * b.High));
    }

    public static DoubleDouble operator /(DoubleDouble a, DoubleDouble b)
    {
        DoubleDouble quotient = a.High / b.High;
        quotient += (a - (quotient * b)).Value / b.High;
        return quotient + ((a - (quotient * b)).Value / b.High);
    }

    /// <summary>The number that the shortest decimal form of a double stands for: 0.1 and not the binary fraction next to it.</summary>
    public static DoubleDouble OfDecimal(double value)
    {
        if (!double.IsFinite(value) || value == 0) return value;
        var shortest = value.ToString("R", CultureInfo.InvariantCulture);
        // Digits and the power of ten of the last one.
        var parts = shortest.Split('E');
        var point = parts[0].IndexOf('.');
        var exponent = (parts.Length > 1 ? int.Parse(parts[1], CultureInfo.InvariantCulture) : 0) - (point < 0 ? 0 : parts[0].Length - point - 1);
        if (!long.TryParse(parts[0].Replace(".", "", StringComparison.Ordinal), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var digits) || Math.Abs(exponent) > 300) return value;
        DoubleDouble result = new((double)digits, (double)(digits - (long)(double)digits));
        for (; exponent > 0; exponent -= Math.Min(exponent, 22)) result *= Math.Pow(10, Math.Min(exponent, 22));
        for (; exponent < 0; exponent += Math.Min(-exponent, 22)) result /= Math.Pow(10, Math.Min(-exponent, 22));
        return result;
    }

    /// <summary>e to a power: the argument is made small by halving, the result squared as often.</summary>
    public static DoubleDouble Exp(DoubleDouble x)
    {
        const int halvings = 9;
        if (!(Math.Abs(x.High) < 700)) return Math.Exp(x.High);
        var twos = Math.Round(x.High / LogOfTwo.High);
        var small = (x - (LogOfTwo * twos)) * Math.ScaleB(1, -halvings);
        DoubleDouble term = small, sum = small;
        // e^x − 1, whose squaring keeps the digits of small values.
        for (var i = 2; i < 12; i++)
        {
            term = term * small / i;
            sum += term;
        }
        for (var i = 0; i < halvings; i++) sum = (sum * 2) + (sum * sum);
        var result = sum + 1;
        return result * Math.ScaleB(1, (int)twos);
    }

    /// <summary>The natural logarithm, by one step of Newton's from that of a double.</summary>
    public static DoubleDouble Log(DoubleDouble x)
    {
        DoubleDouble guess = Math.Log(x.High);
        return double.IsFinite(guess.High) ? guess + (x * Exp(-guess)) - 1 : guess;
    }

    /// <summary>The square root, by one step of Newton's.</summary>
    public static DoubleDouble Sqrt(DoubleDouble x)
    {
        DoubleDouble guess = Math.Sqrt(x.High);
        return guess.High > 0 ? guess + ((x - (guess * guess)) / (guess * 2)) : guess;
    }

    /// <summary>A power of a number.</summary>
    public static DoubleDouble Pow(DoubleDouble x, DoubleDouble exponent)
    {
        if (exponent.Low != 0 || exponent.High != Math.Floor(exponent.High) || Math.Abs(exponent.High) > 1000) return Exp(exponent * Log(x));
        DoubleDouble power = 1;
        for (var i = 0; i < Math.Abs(exponent.High); i++) power *= x;
        return exponent.High < 0 ? (DoubleDouble)1 / power : power;
    }

    private static DoubleDouble Normalised(double sum, double error)
    {
        var high = sum + error;
        return new DoubleDouble(high, error - (high - sum));
    }
}
