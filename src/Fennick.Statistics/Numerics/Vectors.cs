using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Fennick.Statistics.Numerics;

/// <summary>The loops that linear algebra is made of, eight numbers at a time; on processors with narrower registers the runtime takes two of them for one.</summary>
internal static class Vectors
{
    public static double Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var width = Vector512<double>.Count;
        var first = Vector512<double>.Zero;
        var second = Vector512<double>.Zero;
        var i = 0;
        ref var pa = ref MemoryMarshal.GetReference(a);
        ref var pb = ref MemoryMarshal.GetReference(b);
        for (; i <= a.Length - (2 * width); i += 2 * width)
        {
            first = Vector512.FusedMultiplyAdd(Load(ref pa, i), Load(ref pb, i), first);
            second = Vector512.FusedMultiplyAdd(Load(ref pa, i + width), Load(ref pb, i + width), second);
        }
        var sum = Vector512.Sum(first + second);
        for (; i < a.Length; i++) sum += a[i] * b[i];
        return sum;
    }

    /// <summary>Dot products of one vector with two others.</summary>
    public static (double First, double Second) Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b, ReadOnlySpan<double> c)
    {
        var width = Vector512<double>.Count;
        var first = Vector512<double>.Zero;
        var second = Vector512<double>.Zero;
        ref var pa = ref MemoryMarshal.GetReference(a);
        ref var pb = ref MemoryMarshal.GetReference(b);
        ref var pc = ref MemoryMarshal.GetReference(c);
        var i = 0;
        for (; i <= a.Length - width; i += width)
        {
            var own = Load(ref pa, i);
            first = Vector512.FusedMultiplyAdd(own, Load(ref pb, i), first);
            second = Vector512.FusedMultiplyAdd(own, Load(ref pc, i), second);
        }
        var (x, y) = (Vector512.Sum(first), Vector512.Sum(second));
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
        var width = Vector512<double>.Count;
        var (f1, f2) = (Vector512.Create(firstFactor), Vector512.Create(secondFactor));
        ref var p1 = ref MemoryMarshal.GetReference(firstTarget);
        ref var p2 = ref MemoryMarshal.GetReference(secondTarget);
        ref var ps = ref MemoryMarshal.GetReference(source);
        var i = 0;
        for (; i <= source.Length - width; i += width)
        {
            var own = Load(ref ps, i);
            Store(ref p1, i, Vector512.FusedMultiplyAdd(f1, own, Load(ref p1, i)));
            Store(ref p2, i, Vector512.FusedMultiplyAdd(f2, own, Load(ref p2, i)));
        }
        for (; i < source.Length; i++)
        {
            firstTarget[i] += firstFactor * source[i];
            secondTarget[i] += secondFactor * source[i];
        }
    }

    public static double Sum(ReadOnlySpan<double> values)
    {
        var width = Vector512<double>.Count;
        var first = Vector512<double>.Zero;
        var second = Vector512<double>.Zero;
        var i = 0;
        ref var start = ref MemoryMarshal.GetReference(values);
        for (; i <= values.Length - (2 * width); i += 2 * width)
        {
            first += Load(ref start, i);
            second += Load(ref start, i + width);
        }
        var sum = Vector512.Sum(first + second);
        for (; i < values.Length; i++) sum += values[i];
        return sum;
    }

    /// <summary>The sums of (value − centre) and of its square.</summary>
    public static (double Sum, double Squares) Around(ReadOnlySpan<double> values, double centre)
    {
        var width = Vector512<double>.Count;
        var centres = Vector512.Create(centre);
        var sums = Vector512<double>.Zero;
        var squares = Vector512<double>.Zero;
        var i = 0;
        ref var start = ref MemoryMarshal.GetReference(values);
        for (; i <= values.Length - width; i += width)
        {
            var distance = Load(ref start, i) - centres;
            sums += distance;
            squares = Vector512.FusedMultiplyAdd(distance, distance, squares);
        }
        var (sum, square) = (Vector512.Sum(sums), Vector512.Sum(squares));
        for (; i < values.Length; i++)
        {
            sum += values[i] - centre;
            square += (values[i] - centre) * (values[i] - centre);
        }
        return (sum, square);
    }

    /// <summary>The weighted sums of (value − centre) and of its square.</summary>
    public static (double Sum, double Squares) Around(ReadOnlySpan<double> values, double centre, ReadOnlySpan<double> weights)
    {
        var width = Vector512<double>.Count;
        var centres = Vector512.Create(centre);
        var sums = Vector512<double>.Zero;
        var squares = Vector512<double>.Zero;
        ref var pv = ref MemoryMarshal.GetReference(values);
        ref var pw = ref MemoryMarshal.GetReference(weights);
        var i = 0;
        for (; i <= values.Length - width; i += width)
        {
            var distance = Load(ref pv, i) - centres;
            var weighted = distance * Load(ref pw, i);
            sums += weighted;
            squares = Vector512.FusedMultiplyAdd(distance, weighted, squares);
        }
        var (sum, square) = (Vector512.Sum(sums), Vector512.Sum(squares));
        for (; i < values.Length; i++)
        {
            var distance = values[i] - centre;
            sum += weights[i] * distance;
            square += weights[i] * distance * distance;
        }
        return (sum, square);
    }

    /// <summary>The lanes of a sum that is kept apart over many calls, so that only the last one adds them up.</summary>
    public static int Lanes => Vector512<double>.Count;

    /// <summary>Adds the dot products of three vectors, which stand one after the other, with each of two others, which are read once.</summary>
    /// <param name="scaled">Three vectors of n values.</param>
    /// <param name="b0">n values.</param>
    /// <param name="b1">n values, or none.</param>
    /// <param name="sums">Six sums of <see cref="Lanes"/> lanes each, those of b0 first; three if b1 is empty.</param>
    public static void AddDots(ReadOnlySpan<double> scaled, ReadOnlySpan<double> b0, ReadOnlySpan<double> b1, Span<double> sums)
    {
        var width = Vector512<double>.Count;
        var n = b0.Length;
        var both = !b1.IsEmpty;
        ref var target = ref MemoryMarshal.GetReference(sums);
        Vector512<double> s00 = Load(ref target, 0), s01 = Load(ref target, width), s02 = Load(ref target, 2 * width), s10 = default, s11 = default, s12 = default;
        if (both) (s10, s11, s12) = (Load(ref target, 3 * width), Load(ref target, 4 * width), Load(ref target, 5 * width));
        ref var p0 = ref MemoryMarshal.GetReference(scaled);
        ref var p1 = ref Unsafe.Add(ref p0, n);
        ref var p2 = ref Unsafe.Add(ref p1, n);
        ref var q0 = ref MemoryMarshal.GetReference(b0);
        ref var q1 = ref both ? ref MemoryMarshal.GetReference(b1) : ref q0;
        var i = 0;
        for (; i <= n - width; i += width)
        {
            var (x, y) = (Load(ref q0, i), Load(ref q1, i));
            var own = Load(ref p0, i);
            s00 = Vector512.FusedMultiplyAdd(own, x, s00);
            s10 = Vector512.FusedMultiplyAdd(own, y, s10);
            own = Load(ref p1, i);
            s01 = Vector512.FusedMultiplyAdd(own, x, s01);
            s11 = Vector512.FusedMultiplyAdd(own, y, s11);
            own = Load(ref p2, i);
            s02 = Vector512.FusedMultiplyAdd(own, x, s02);
            s12 = Vector512.FusedMultiplyAdd(own, y, s12);
        }
        Store(ref target, 0, s00);
        Store(ref target, width, s01);
        Store(ref target, 2 * width, s02);
        if (both)
        {
            Store(ref target, 3 * width, s10);
            Store(ref target, 4 * width, s11);
            Store(ref target, 5 * width, s12);
        }
        for (; i < n; i++)
        {
            for (var kind = 0; kind < 3; kind++)
            {
                sums[kind * width] += scaled[(kind * n) + i] * b0[i];
                if (both) sums[(3 + kind) * width] += scaled[(kind * n) + i] * b1[i];
            }
        }
    }

    /// <summary>target = (source − centre) · scale, times a factor for each value unless there are none.</summary>
    public static void Standardise(Span<double> target, ReadOnlySpan<double> source, double centre, double scale, ReadOnlySpan<double> factors)
    {
        var width = Vector512<double>.Count;
        var (centres, scales) = (Vector512.Create(centre), Vector512.Create(scale));
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

    /// <summary>target += factor · every stride-th value of the source.</summary>
    public static void AddScaledStrided(Span<double> target, double factor, ReadOnlySpan<double> source, int stride)
    {
        if (source.Length <= (target.Length - 1) * stride) throw new ArgumentException("The source is too short.", nameof(source));
        ref var ps = ref MemoryMarshal.GetReference(source);
        for (var c = 0; c < target.Length; c++)
        {
            target[c] += factor * ps;
            ps = ref Unsafe.Add(ref ps, stride);
        }
    }

    /// <summary>target += source², value by value.</summary>
    public static void AddSquares(Span<double> target, ReadOnlySpan<double> source)
    {
        var width = Vector512<double>.Count;
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var ps = ref MemoryMarshal.GetReference(source);
        var i = 0;
        for (; i <= target.Length - width; i += width)
        {
            var own = Load(ref ps, i);
            Store(ref pt, i, Vector512.FusedMultiplyAdd(own, own, Load(ref pt, i)));
        }
        for (; i < target.Length; i++) target[i] += source[i] * source[i];
    }

    /// <summary>target = a · b, value by value.</summary>
    public static void Multiply(Span<double> target, ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var width = Vector512<double>.Count;
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var pa = ref MemoryMarshal.GetReference(a);
        ref var pb = ref MemoryMarshal.GetReference(b);
        var i = 0;
        for (; i <= target.Length - width; i += width) Store(ref pt, i, Load(ref pa, i) * Load(ref pb, i));
        for (; i < target.Length; i++) target[i] = a[i] * b[i];
    }

    /// <summary>target += factor · source.</summary>
    public static void AddScaled(Span<double> target, double factor, ReadOnlySpan<double> source)
    {
        var width = Vector512<double>.Count;
        var factors = Vector512.Create(factor);
        var i = 0;
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var ps = ref MemoryMarshal.GetReference(source);
        for (; i <= target.Length - width; i += width)
            Store(ref pt, i, Vector512.FusedMultiplyAdd(factors, Load(ref ps, i), Load(ref pt, i)));
        for (; i < target.Length; i++) target[i] += factor * source[i];
    }

    /// <summary>target += factor · (source − centre).</summary>
    public static void AddCentred(Span<double> target, double factor, ReadOnlySpan<double> source, double centre)
    {
        var width = Vector512<double>.Count;
        var (factors, centres) = (Vector512.Create(factor), Vector512.Create(centre));
        var i = 0;
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var ps = ref MemoryMarshal.GetReference(source);
        for (; i <= target.Length - width; i += width)
            Store(ref pt, i, Vector512.FusedMultiplyAdd(factors, Load(ref ps, i) - centres, Load(ref pt, i)));
        for (; i < target.Length; i++) target[i] += factor * (source[i] - centre);
    }

    /// <summary>Takes multiples of four vectors, which stand one after the other, from a target.</summary>
    public static void SubtractFour(Span<double> target, ReadOnlySpan<double> sources, double f0, double f1, double f2, double f3)
    {
        var width = Vector512<double>.Count;
        var n = target.Length;
        var (v0, v1, v2, v3) = (Vector512.Create(-f0), Vector512.Create(-f1), Vector512.Create(-f2), Vector512.Create(-f3));
        ref var pt = ref MemoryMarshal.GetReference(target);
        ref var ps = ref MemoryMarshal.GetReference(sources);
        var i = 0;
        for (; i <= n - width; i += width)
        {
            var even = Vector512.FusedMultiplyAdd(v0, Load(ref ps, i), Vector512.FusedMultiplyAdd(v1, Load(ref ps, n + i), Load(ref pt, i)));
            Store(ref pt, i, Vector512.FusedMultiplyAdd(v2, Load(ref ps, (2 * n) + i), Vector512.FusedMultiplyAdd(v3, Load(ref ps, (3 * n) + i), even)));
        }
        for (; i < n; i++) target[i] -= (f0 * sources[i]) + (f1 * sources[n + i]) + (f2 * sources[(2 * n) + i]) + (f3 * sources[(3 * n) + i]);
    }

    private static void Store(ref double start, int offset, Vector512<double> value) => Unsafe.WriteUnaligned(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)), value);

    private static Vector512<double> Load(ref double start, int offset) => Unsafe.ReadUnaligned<Vector512<double>>(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)));
}
