using Fennick.Statistics.Fits;
using FsCheck;
using FsCheck.Fluent;
using Xunit;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Scaling, shifting and permuting rows change nothing that they should not.</summary>
public sealed class InvarianceTests
{
    [Fact]
    public void Scales_shifts_and_orders()
    {
        var scales = Gen.Choose(-6, 6).Select(p => Math.Pow(10, p));
        var shifts = Gen.Choose(-1000, 1000).Select(s => s / 10.0);
        var cases = from scale in scales from shift in shifts from seed in Gen.Choose(0, 1 << 20) select (scale, shift, seed);
        var plain = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites, h.Strain });
        Prop.ForAll(cases.ToArbitrary(), c =>
        {
            var shuffled = Hives.ToArray();
            new Random(c.seed).Shuffle(shuffled);
            var (scale, shift) = (c.scale, c.shift);
            var changed = Regression.LeastSquares(shuffled, h => h.HoneyKg, h => new { ForageHa = (h.ForageHa * scale) + shift, h.Mites, h.Strain });
            AssertDigits(plain["ForageHa"].Estimate, changed["ForageHa"].Estimate * scale, 8, "scaled estimate");
            foreach (var name in (string[])["Mites", "Strain=Dusk"])
            {
                AssertDigits(plain[name].Estimate, changed[name].Estimate, 8, name);
                AssertDigits(plain.With(StandardErrors.Hc3)[name].StandardError, changed.With(StandardErrors.Hc3)[name].StandardError, 8, name);
                AssertDigits(plain[name].PValue, changed[name].PValue, 6, name);
            }
            AssertDigits(plain.RSquared, changed.RSquared, 9, "R²");
            AssertDigits(plain.LogLikelihood, changed.LogLikelihood, 9, "log-likelihood");
        }).Check(Config.QuickThrowOnFailure.WithMaxTest(50));
    }

    [Fact]
    public void Many_rows_are_shared_between_threads_with_the_same_result()
    {
        var many = Enumerable.Range(0, 400).SelectMany(_ => Hives).ToArray();
        var (one, all) = (Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites, h.Strain }), Regression.LeastSquares(many, h => h.HoneyKg, h => new { h.ForageHa, h.Mites, h.Strain }));
        for (var t = 0; t < one.Terms.Length; t++) AssertDigits(one.Terms[t].Estimate, all.Terms[t].Estimate, 10, one.Terms[t].Name);
        AssertDigits(one.RSquared, all.RSquared, 10, "R²");
        AssertDigits(one.With(StandardErrors.Hc0)["Mites"].StandardError / 20, all.With(StandardErrors.Hc0)["Mites"].StandardError, 9, "HC0");
    }
}
