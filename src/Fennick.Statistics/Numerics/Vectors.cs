using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Fennick.Statistics.Numerics;

/// <summary>The two loops that linear algebra is made of.</summary>
internal static class Vectors
{
    public static double Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var width = Vector<double>.Count;
        var first = Vector<double>.Zero;
        var second = Vector<double>.Zero;
        var i = 0;
        ref var pa = ref MemoryMarshal.GetReference(a);
        ref var pb = ref MemoryMarshal.GetReference(b);
        for (; i <= a.Length - (2 * width); i += 2 * width)
        {
            first = Vector.FusedMultiplyAdd(Load(ref pa, i), Load(ref pb, i), first);
            second = Vector.FusedMultiplyAdd(Load(ref pa, i + width), Load(ref pb, i + width), second);
        }
        var sum = Vector.Sum(first + second);
        for (; i < a.Length; i++) sum += a[i] * b[i];
        return sum;
    }

    /// <summary>Dot products of one vector with two others.</summary>
    public static (double First, double Second) Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b, ReadOnlySpan<double> c)
    {
        var width = Vector<double>.Count;
        var first = Vector<double>.Zero;
        var second = Vector<double>.Zero;
        ref var pa = ref MemoryMarshal.GetReference(a);
        ref var pb = ref MemoryMarshal.GetReference(b);
        ref var pc = ref MemoryMarshal.GetReference(c);
        var i = 0;
        for (; i <= a.Length - width; i += width)
        {
            var own = Load(ref pa, i);
            first = Vector.FusedMultiplyAdd(own, Load(ref pb, i), first);
            second = Vector.FusedMultiplyAdd(own, Load(ref pc, i), second);
        }
        var (x, y) = (Vector.Sum(first), Vector.Sum(second));
        for (; i < a.Length; i++)
        {
            x += a[i] * b[i];
            y += a[i] * c[i];
        }
        return (x, y);
    }

    /// <summary>Adds multiples of one vector to two others.</summary>
    public static void AddToBoth(Span<double> firstTarget, double firstFactor, Span<double> secondTarget, double secondFactor, ReadOnlySpan<double> source)
    {
        var width = Vector<double>.Count;
        var (f1, f2) = (new Vector<double>(firstFactor), new Vector<double>(secondFactor));
        ref var p1 = ref MemoryMarshal.GetReference(firstTarget);
        ref var p2 = ref MemoryMarshal.GetReference(secondTarget);
        ref var ps = ref MemoryMarshal.GetReference(source);
        var i = 0;
        for (; i <= source.Length - width; i += width)
        {
            var own = Load(ref ps, i);
            Store(ref p1, i, Vector.FusedMultiplyAdd(f1, own, Load(ref p1, i)));
            Store(ref p2, i, Vector.FusedMultiplyAdd(f2, own, Load(ref p2, i)));
        }
        for (; i < source.Length; i++)
        {
            firstTarget[i] += firstFactor * source[i];
            secondTarget[i] += secondFactor * source[i];
        }
    }

    public static double Sum(ReadOnlySpan<double> values)
    {
        var width = Vector<double>.Count;
        var first = Vector<double>.Zero;
        var second = Vector<double>.Zero;
        var i = 0;
        ref var start = ref MemoryMarshal.GetReference(values);
        for (; i <= values.Length - (2 * width); i += 2 * width)
        {
            first += Load(ref start, i);
            second += Load(ref start, i + width);
        }
        var sum = Vector.Sum(first + second);
        for (; i < values.Length; i++) sum += values[i];
        return sum;
    }

    /// <summary>The sums of (value − centre) and of its square.</summary>
    public static (double Sum, double Squares) Around(ReadOnlySpan<double> values, double centre)
    {
        var width = Vector<double>.Count;
        var centres = new Vector<double>(centre);
        var sums = Vector<double>.Zero;
        var squares = Vector<double>.Zero;
        var i = 0;
        ref var start = ref MemoryMarshal.GetReference(values);
        for (; i <= values.Length - width; i += width)
        {
            var distance = Load(ref start, i) - centres;
            sums += distance;
            squares = Vector.FusedMultiplyAdd(distance, distance, squares);
        }
        var (sum, square) = (Vector.Sum(sums), Vector.Sum(squares));
        for (; i < values.Length; i++)
        {
            sum += values[i] - centre;
            square += (values[i] - centre) * (values[i] - centre);
        }
        return (sum, square);
    }

    /// <summary>Dot products of three vectors with each of two others, which are read once.</summary>
    public static void Dots(ReadOnlySpan<double> a0, ReadOnlySpan<double> a1, ReadOnlySpan<double> a2, ReadOnlySpan<double> b0, ReadOnlySpan<double> b1, Span<double> sums)
    {
        var width = Vector<double>.Count;
        Vector<double> s00 = default, s10 = default, s20 = default, s01 = default, s11 = default, s21 = default;
        ref var p0 = ref MemoryMarshal.GetReference(a0);
        ref var p1 = ref MemoryMarshal.GetReference(a1);
        ref var p2 = ref MemoryMarshal.GetReference(a2);
        ref var q0 = ref MemoryMarshal.GetReference(b0);
        ref var q1 = ref MemoryMarshal.GetReference(b1);
        var i = 0;
        for (; i <= a0.Length - width; i += width)
        {
            var (x, y) = (Load(ref q0, i), Load(ref q1, i));
            var a = Load(ref p0, i);
            s00 = Vector.FusedMultiplyAdd(a, x, s00);
            s01 = Vector.FusedMultiplyAdd(a, y, s01);
            a = Load(ref p1, i);
            s10 = Vector.FusedMultiplyAdd(a, x, s10);
            s11 = Vector.FusedMultiplyAdd(a, y, s11);
            a = Load(ref p2, i);
            s20 = Vector.FusedMultiplyAdd(a, x, s20);
            s21 = Vector.FusedMultiplyAdd(a, y, s21);
        }
        (sums[0], sums[1], sums[2]) = (Vector.Sum(s00), Vector.Sum(s10), Vector.Sum(s20));
        (sums[3], sums[4], sums[5]) = (Vector.Sum(s01), Vector.Sum(s11), Vector.Sum(s21));
        for (; i < a0.Length; i++)
        {
            sums[0] += a0[i] * b0[i];
            sums[1] += a1[i] * b0[i];
            sums[2] += a2[i] * b0[i];
            sums[3] += a0[i] * b1[i];
            sums[4] += a1[i] * b1[i];
            sums[5] += a2[i] * b1[i];
        }
    }

    /// <summary>target = (source − centre) · scale, times a factor for each value unless there are none.</summary>
    public static void Standardise(Span<double> target, ReadOnlySpan<double> source, double centre, double scale, ReadOnlySpan<double> factors)
    {
        var width = Vector<double>.Count;
        var (centres, scales) = (new Vector<double>(centre), new Vector<double>(scale));
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var ps = ref MemoryMarshal.GetReference(source);
        ref var pf = ref MemoryMarshal.GetReference(factors);
        var i = 0;
        for (; i <= target.Length - width; i += width)
        {
            var value = (Load(ref ps, i) - centres) * scales;
            Store(ref pt, i, factors.IsEmpty ? value : value * Load(ref pf, i));
        }
        for (; i < target.Length; i++) target[i] = (source[i] - centre) * scale * (factors.IsEmpty ? 1 : factors[i]);
    }

    /// <summary>target = a · b, value by value.</summary>
    public static void Multiply(Span<double> target, ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var width = Vector<double>.Count;
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var pa = ref MemoryMarshal.GetReference(a);
        ref var pb = ref MemoryMarshal.GetReference(b);
        var i = 0;
        for (; i <= target.Length - width; i += width) Store(ref pt, i, Load(ref pa, i) * Load(ref pb, i));
        for (; i < target.Length; i++) target[i] = a[i] * b[i];
    }

    /// <summary>Whether no value is infinite or missing.</summary>
    public static bool AreFinite(ReadOnlySpan<double> values)
    {
        // Zero times anything that is not finite is not a number, and stays so in the sum.
        var width = Vector<double>.Count;
        var sum = Vector<double>.Zero;
        var i = 0;
        ref var start = ref MemoryMarshal.GetReference(values);
        for (; i <= values.Length - width; i += width) sum = Vector.FusedMultiplyAdd(Load(ref start, i), Vector<double>.Zero, sum);
        var rest = Vector.Sum(sum);
        for (; i < values.Length; i++) rest += values[i] * 0;
        return rest == 0;
    }

    /// <summary>target += factor · source.</summary>
    public static void AddScaled(Span<double> target, double factor, ReadOnlySpan<double> source)
    {
        var width = Vector<double>.Count;
        var factors = new Vector<double>(factor);
        var i = 0;
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var ps = ref MemoryMarshal.GetReference(source);
        for (; i <= target.Length - width; i += width)
            Store(ref pt, i, Vector.FusedMultiplyAdd(factors, Load(ref ps, i), Load(ref pt, i)));
        for (; i < target.Length; i++) target[i] += factor * source[i];
    }

    /// <summary>target += first factor · first source + second factor · second source.</summary>
    public static void AddScaled(Span<double> target, double firstFactor, ReadOnlySpan<double> first, double secondFactor, ReadOnlySpan<double> second)
    {
        var width = Vector<double>.Count;
        var (f1, f2) = (new Vector<double>(firstFactor), new Vector<double>(secondFactor));
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var p1 = ref MemoryMarshal.GetReference(first);
        ref var p2 = ref MemoryMarshal.GetReference(second);
        var i = 0;
        for (; i <= target.Length - width; i += width)
            Store(ref pt, i, Vector.FusedMultiplyAdd(f2, Load(ref p2, i), Vector.FusedMultiplyAdd(f1, Load(ref p1, i), Load(ref pt, i))));
        for (; i < target.Length; i++) target[i] += (firstFactor * first[i]) + (secondFactor * second[i]);
    }

    private static void Store(ref double start, int offset, Vector<double> value) => Unsafe.WriteUnaligned(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)), value);

    private static Vector<double> Load(ref double start, int offset) => Unsafe.ReadUnaligned<Vector<double>>(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)));
}
