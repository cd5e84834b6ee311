using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

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
            first = Multiplied(Load(ref pa, i), Load(ref pb, i), first);
            second = Multiplied(Load(ref pa, i + width), Load(ref pb, i + width), second);
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
            first = Multiplied(own, Load(ref pb, i), first);
            second = Multiplied(own, Load(ref pc, i), second);
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
            Store(ref p1, i, Multiplied(f1, own, Load(ref p1, i)));
            Store(ref p2, i, Multiplied(f2, own, Load(ref p2, i)));
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
            squares = Multiplied(distance, distance, squares);
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
            squares = Multiplied(distance, weighted, squares);
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

    /// <summary>A number of columns rounded up to whole registers.</summary>
    public static int Padded(int columns) => (columns + Vector512<double>.Count - 1) / Vector512<double>.Count * Vector512<double>.Count;

    /// <summary>Turns columns that stand one after the other into rows.</summary>
    /// <param name="columns">k columns of n values.</param>
    /// <param name="rows">n rows of k values, each padded to the stride.</param>
    /// <param name="n">The number of rows.</param>
    /// <param name="k">The number of columns.</param>
    /// <param name="stride">The length of a row.</param>
    public static void Transpose(ReadOnlySpan<double> columns, Span<double> rows, int n, int k, int stride)
    {
        if (columns.Length < n * k || rows.Length < n * stride) throw new ArgumentException("The room is too small.", nameof(rows));
        ref var source = ref MemoryMarshal.GetReference(columns);
        ref var target = ref MemoryMarshal.GetReference(rows);
        var c = 0;
        // Four by four in registers.
        for (; Avx.IsSupported && c + 4 <= k; c += 4)
        {
            var i = 0;
            for (; i + 4 <= n; i += 4)
            {
                ref var from = ref Unsafe.Add(ref source, (c * n) + i);
                var (a0, a1) = (Load256(ref from, 0), Load256(ref from, n));
                var (a2, a3) = (Load256(ref from, 2 * n), Load256(ref from, 3 * n));
                var (low01, high01) = (Avx.UnpackLow(a0, a1), Avx.UnpackHigh(a0, a1));
                var (low23, high23) = (Avx.UnpackLow(a2, a3), Avx.UnpackHigh(a2, a3));
                ref var to = ref Unsafe.Add(ref target, (i * stride) + c);
                Store256(ref to, 0, Avx.Permute2x128(low01, low23, 0x20));
                Store256(ref to, stride, Avx.Permute2x128(high01, high23, 0x20));
                Store256(ref to, 2 * stride, Avx.Permute2x128(low01, low23, 0x31));
                Store256(ref to, 3 * stride, Avx.Permute2x128(high01, high23, 0x31));
            }
            for (; i < n; i++)
                for (var j = c; j < c + 4; j++) Unsafe.Add(ref target, (i * stride) + j) = Unsafe.Add(ref source, (j * n) + i);
        }
        for (; c < k; c++)
            for (var i = 0; i < n; i++) Unsafe.Add(ref target, (i * stride) + c) = Unsafe.Add(ref source, (c * n) + i);
    }

    /// <summary>Adds the weighted cross-product of rows, at least its lower triangle: Σ wᵢ xᵢ xᵢ'.</summary>
    /// <param name="rows">n rows, each padded to the stride; what the padding holds comes into sums that nobody reads.</param>
    /// <param name="columns">How many values of a row are used.</param>
    /// <param name="stride">The length of a row, a multiple of eight.</param>
    /// <param name="weights">n weights.</param>
    /// <param name="sums">stride × stride sums.</param>
    public static void AddCrossProduct(ReadOnlySpan<double> rows, int columns, int stride, ReadOnlySpan<double> weights, Span<double> sums)
    {
        var width = Vector512<double>.Count;
        if (rows.Length < weights.Length * stride || sums.Length < stride * stride) throw new ArgumentException("The room is too small.", nameof(sums));
        ref var first = ref MemoryMarshal.GetReference(sums);
        for (var a = 0; a < stride; a += width)
        {
            var b = 0;
            // Where at most half of the last tiles is used, two of them are halved and taken together.
            if (a + (width / 2) >= columns)
                for (; b + width <= a; b += 2 * width) AddHalves(rows, stride, weights, a, b, ref Unsafe.Add(ref first, (a * stride) + b));
            for (; b <= a; b += width) AddTile(rows, stride, weights, a, b, ref Unsafe.Add(ref first, (a * stride) + b));
        }
    }

    /// <summary>The first four rows of two tiles side by side.</summary>
    private static void AddHalves(ReadOnlySpan<double> rows, int stride, ReadOnlySpan<double> weights, int a, int b, ref double corner)
    {
        var width = Vector512<double>.Count;
        ref var left = ref Unsafe.Add(ref MemoryMarshal.GetReference(rows), a);
        ref var right = ref Unsafe.Add(ref MemoryMarshal.GetReference(rows), b);
        ref var next = ref Unsafe.Add(ref corner, width);
        Vector512<double> s0 = Load(ref corner, 0), s1 = Load(ref corner, stride), s2 = Load(ref corner, 2 * stride), s3 = Load(ref corner, 3 * stride);
        Vector512<double> t0 = Load(ref next, 0), t1 = Load(ref next, stride), t2 = Load(ref next, 2 * stride), t3 = Load(ref next, 3 * stride);
        foreach (var weight in weights)
        {
            var factor = Vector512.Create(weight);
            var own = Load(ref right, 0) * factor;
            var other = Load(ref right, width) * factor;
            var value = Vector512.Create(left);
            s0 = Multiplied(value, own, s0);
            t0 = Multiplied(value, other, t0);
            value = Vector512.Create(Unsafe.Add(ref left, 1));
            s1 = Multiplied(value, own, s1);
            t1 = Multiplied(value, other, t1);
            value = Vector512.Create(Unsafe.Add(ref left, 2));
            s2 = Multiplied(value, own, s2);
            t2 = Multiplied(value, other, t2);
            value = Vector512.Create(Unsafe.Add(ref left, 3));
            s3 = Multiplied(value, own, s3);
            t3 = Multiplied(value, other, t3);
            left = ref Unsafe.Add(ref left, stride);
            right = ref Unsafe.Add(ref right, stride);
        }
        Store(ref corner, 0, s0);
        Store(ref corner, stride, s1);
        Store(ref corner, 2 * stride, s2);
        Store(ref corner, 3 * stride, s3);
        Store(ref next, 0, t0);
        Store(ref next, stride, t1);
        Store(ref next, 2 * stride, t2);
        Store(ref next, 3 * stride, t3);
    }

    /// <summary>A tile of eight by eight sums, which stay in registers over all rows.</summary>
    private static void AddTile(ReadOnlySpan<double> rows, int stride, ReadOnlySpan<double> weights, int a, int b, ref double corner)
    {
        ref var left = ref Unsafe.Add(ref MemoryMarshal.GetReference(rows), a);
        ref var right = ref Unsafe.Add(ref MemoryMarshal.GetReference(rows), b);
        Vector512<double> s0 = Load(ref corner, 0), s1 = Load(ref corner, stride), s2 = Load(ref corner, 2 * stride), s3 = Load(ref corner, 3 * stride);
        Vector512<double> s4 = Load(ref corner, 4 * stride), s5 = Load(ref corner, 5 * stride), s6 = Load(ref corner, 6 * stride), s7 = Load(ref corner, 7 * stride);
        foreach (var weight in weights)
        {
            var own = Load(ref right, 0) * Vector512.Create(weight);
            s0 = Multiplied(Vector512.Create(left), own, s0);
            s1 = Multiplied(Vector512.Create(Unsafe.Add(ref left, 1)), own, s1);
            s2 = Multiplied(Vector512.Create(Unsafe.Add(ref left, 2)), own, s2);
            s3 = Multiplied(Vector512.Create(Unsafe.Add(ref left, 3)), own, s3);
            s4 = Multiplied(Vector512.Create(Unsafe.Add(ref left, 4)), own, s4);
            s5 = Multiplied(Vector512.Create(Unsafe.Add(ref left, 5)), own, s5);
            s6 = Multiplied(Vector512.Create(Unsafe.Add(ref left, 6)), own, s6);
            s7 = Multiplied(Vector512.Create(Unsafe.Add(ref left, 7)), own, s7);
            left = ref Unsafe.Add(ref left, stride);
            right = ref Unsafe.Add(ref right, stride);
        }
        Store(ref corner, 0, s0);
        Store(ref corner, stride, s1);
        Store(ref corner, 2 * stride, s2);
        Store(ref corner, 3 * stride, s3);
        Store(ref corner, 4 * stride, s4);
        Store(ref corner, 5 * stride, s5);
        Store(ref corner, 6 * stride, s6);
        Store(ref corner, 7 * stride, s7);
    }

    /// <summary>Adds rows, each times a factor, to the sums of their groups.</summary>
    /// <param name="rows">n rows, each padded to the stride; what the padding holds comes into sums that nobody reads.</param>
    /// <param name="stride">The length of a row and of a sum, a multiple of eight.</param>
    /// <param name="groups">The group of each of the n rows.</param>
    /// <param name="factors">n factors.</param>
    /// <param name="sums">A sum for each group.</param>
    public static void AddToGroups(ReadOnlySpan<double> rows, int stride, ReadOnlySpan<int> groups, ReadOnlySpan<double> factors, Span<double> sums)
    {
        var width = Vector512<double>.Count;
        if (rows.Length < groups.Length * stride || factors.Length < groups.Length) throw new ArgumentException("The room is too small.", nameof(rows));
        ref var row = ref MemoryMarshal.GetReference(rows);
        for (var i = 0; i < groups.Length; i++)
        {
            ref var target = ref MemoryMarshal.GetReference(sums.Slice(groups[i] * stride, stride));
            var factor = Vector512.Create(factors[i]);
            for (var c = 0; c < stride; c += width) Store(ref target, c, Multiplied(factor, Load(ref row, c), Load(ref target, c)));
            row = ref Unsafe.Add(ref row, stride);
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
            Store(ref pt, i, Multiplied(own, own, Load(ref pt, i)));
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
            Store(ref pt, i, Multiplied(factors, Load(ref ps, i), Load(ref pt, i)));
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
            Store(ref pt, i, Multiplied(factors, Load(ref ps, i) - centres, Load(ref pt, i)));
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
            var even = Multiplied(v0, Load(ref ps, i), Multiplied(v1, Load(ref ps, n + i), Load(ref pt, i)));
            Store(ref pt, i, Multiplied(v2, Load(ref ps, (2 * n) + i), Multiplied(v3, Load(ref ps, (3 * n) + i), even)));
        }
        for (; i < n; i++) target[i] -= (f0 * sources[i]) + (f1 * sources[n + i]) + (f2 * sources[(2 * n) + i]) + (f3 * sources[(3 * n) + i]);
    }

    /// <summary>a · b + c. Where the runtime holds back wide registers for all code, this loop is worth them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector512<double> Multiplied(Vector512<double> a, Vector512<double> b, Vector512<double> c) =>
        Avx512F.IsSupported ? Avx512F.FusedMultiplyAdd(a, b, c) : Vector512.FusedMultiplyAdd(a, b, c);

    private static Vector256<double> Load256(ref double start, int offset) => Unsafe.ReadUnaligned<Vector256<double>>(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)));

    private static void Store256(ref double start, int offset, Vector256<double> value) => Unsafe.WriteUnaligned(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)), value);

    private static void Store(ref double start, int offset, Vector512<double> value) => Unsafe.WriteUnaligned(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)), value);

    private static Vector512<double> Load(ref double start, int offset) => Unsafe.ReadUnaligned<Vector512<double>>(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)));
}
