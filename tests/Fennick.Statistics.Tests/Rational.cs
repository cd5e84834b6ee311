using System.Numerics;

namespace Fennick.Statistics.Tests;

/// <summary>A fraction of whole numbers of any length: what double arithmetic is measured against.</summary>
internal readonly record struct Rational(BigInteger Top, BigInteger Bottom)
{
    public static implicit operator Rational(double value)
    {
        var bits = BitConverter.DoubleToInt64Bits(value);
        var exponent = (int)((bits >> 52) & 0x7FF);
        BigInteger mantissa = (bits & 0xFFFFFFFFFFFFF) | (exponent == 0 ? 0 : 1L << 52);
        var power = Math.Max(exponent, 1) - 1075;
        if (value < 0) mantissa = -mantissa;
        return power >= 0 ? new(mantissa << power, 1) : Reduced(mantissa, BigInteger.One << -power);
    }

    public static Rational operator +(Rational a, Rational b) => Reduced((a.Top * b.Bottom) + (b.Top * a.Bottom), a.Bottom * b.Bottom);

    public static Rational operator -(Rational a, Rational b) => Reduced((a.Top * b.Bottom) - (b.Top * a.Bottom), a.Bottom * b.Bottom);

    public static Rational operator *(Rational a, Rational b) => Reduced(a.Top * b.Top, a.Bottom * b.Bottom);

    public static Rational operator /(Rational a, Rational b) => Reduced(a.Top * b.Bottom, a.Bottom * b.Top);

    public double Value
    {
        get
        {
            if (Top.IsZero) return 0;
            // 80 bits of the quotient are more than a double holds.
            var shift = 80 - (int)(Top.GetBitLength() - Bottom.GetBitLength());
            var quotient = shift >= 0 ? (Top << shift) / Bottom : Top / (Bottom << -shift);
            return Math.ScaleB((double)quotient, -shift);
        }
    }

    /// <summary>The coefficients of least squares and their standard errors.</summary>
    public static (double Estimate, double Error)[] LeastSquares(double[][] columns, double[] response)
    {
        var k = columns.Length;
        Rational[][] exact = [.. columns.Select(c => c.Select(v => (Rational)v).ToArray())];
        Rational[] y = [.. response.Select(v => (Rational)v)];
        Rational Dot(Rational[] a, Rational[] b) => a.Zip(b, (p, q) => p * q).Aggregate(new Rational(0, 1), (s, v) => s + v);
        // X'X beside X'y and the unit matrix, brought to the unit matrix by Gauss's elimination.
        var rows = Enumerable.Range(0, k).Select(i => Enumerable.Range(0, k).Select(j => Dot(exact[i], exact[j])).Append(Dot(exact[i], y)).Concat(Enumerable.Range(0, k).Select(j => (Rational)(i == j ? 1.0 : 0.0))).ToArray()).ToArray();
        for (var p = 0; p < k; p++)
        {
            var pivot = rows[p][p];
            for (var c = 0; c < rows[p].Length; c++) rows[p][c] /= pivot;
            for (var r = 0; r < k; r++)
            {
                if (r == p) continue;
                var factor = rows[r][p];
                for (var c = 0; c < rows[r].Length; c++) rows[r][c] -= factor * rows[p][c];
            }
        }
        var residuals = y.Select((v, i) => Enumerable.Range(0, k).Aggregate(v, (rest, c) => rest - (rows[c][k] * exact[c][i]))).ToArray();
        var variance = Dot(residuals, residuals) / (Rational)(double)(y.Length - k);
        return [.. Enumerable.Range(0, k).Select(c => (rows[c][k].Value, Math.Sqrt((variance * rows[c][k + 1 + c]).Value)))];
    }

    private static Rational Reduced(BigInteger top, BigInteger bottom)
    {
        var divisor = BigInteger.GreatestCommonDivisor(top, bottom);
        if (bottom.Sign < 0) divisor = -divisor;
        return new(top / divisor, bottom / divisor);
    }
}
