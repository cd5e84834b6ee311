namespace Fennick.Statistics.Numerics;

/// <summary>A sum of two doubles with about 32 digits, for the few places where 16 are not enough.</summary>
/// <remarks>Dekker (1971), Numerische Mathematik 18; products by fused multiply-add.</remarks>
internal readonly record struct DoubleDouble(double High, double Low)
{
    public static implicit operator DoubleDouble(double value) => new(value, 0);

    public double Value => High + Low;

    public static DoubleDouble operator +(DoubleDouble a, DoubleDouble b)
    {
        var sum = a.High + b.High;
        var part = sum - a.High;
        var error = (a.High - (sum - part)) + (b.High - part) + a.Low + b.Low;
        var high = sum + error;
        return new DoubleDouble(high, error - (high - sum));
    }

    public static DoubleDouble operator -(DoubleDouble a) => new(-a.High, -a.Low);

    public static DoubleDouble operator -(DoubleDouble a, DoubleDouble b) => a + -b;

    public static DoubleDouble operator *(DoubleDouble a, double b)
    {
        var product = a.High * b;
        var error = Math.FusedMultiplyAdd(a.High, b, -product) + (a.Low * b);
        var high = product + error;
        return new DoubleDouble(high, error - (high - product));
    }
}
