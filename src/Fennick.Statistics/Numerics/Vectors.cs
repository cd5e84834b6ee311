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
            Unsafe.WriteUnaligned(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref pt, i)), Vector.FusedMultiplyAdd(factors, Load(ref ps, i), Load(ref pt, i)));
        for (; i < target.Length; i++) target[i] += factor * source[i];
    }

    private static Vector<double> Load(ref double start, int offset) => Unsafe.ReadUnaligned<Vector<double>>(ref Unsafe.As<double, byte>(ref Unsafe.Add(ref start, offset)));
}
