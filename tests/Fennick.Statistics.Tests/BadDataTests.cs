using Fennick.Statistics.Fits;
using Fennick.Statistics.Survival;
using Xunit;
using static Fennick.Statistics.Tests.Seasons;

namespace Fennick.Statistics.Tests;

/// <summary>Data that do not allow a model: refused in the reader's words, or told beside the result.</summary>
public sealed class BadDataTests
{
    private static string Refused(Action action) => Assert.Throws<AnalysisException>(action).Message;

    [Fact]
    public void Times_without_events()
    {
        var none = All.Select(s => s with { Died = 0 }).ToList();
        Assert.Contains("occurred in none of the 288 rows", Refused(() => Regression.Cox(none, s => s.Weeks, s => s.Died, s => s.QueenAge)), StringComparison.Ordinal);
        Assert.Contains("occurred in none", Refused(() => SurvivalTests.LogRank(none, s => s.Weeks, s => s.Died == 1, s => s.Treated)), StringComparison.Ordinal);
        var curve = SurvivalCurve.Of(none, s => s.Weeks, s => s.Died == 1);
        Assert.Equal((0, null, 1.0), (curve.Events, curve.Median, curve.Steps[^1].Survival));
        Assert.Equal(double.PositiveInfinity, curve.QuantileInterval(0.5).High);
        Assert.Contains("must be 1 where the event occurred", Refused(() => Regression.Cox(All, s => s.Weeks, s => s.Grade, s => s.QueenAge)), StringComparison.Ordinal);
        Assert.Contains("negative in", Refused(() => Regression.Cox(All, s => -s.Weeks, s => s.Died, s => s.QueenAge)), StringComparison.Ordinal);
        Assert.Contains("negative or not finite", Refused(() => SurvivalCurve.Of([-1, 2], [true, false])), StringComparison.Ordinal);
        Assert.Contains("there is one group", Refused(() => SurvivalTests.LogRank(All.Where(s => s.Treated == "yes"), s => s.Weeks, s => s.Died == 1, s => s.Treated)), StringComparison.Ordinal);
        Assert.Contains("no rows", Refused(() => SurvivalCurve.Of(Array.Empty<double>(), [])), StringComparison.Ordinal);
    }

    [Fact]
    public void All_times_tied_and_strata_without_events()
    {
        var tied = All.Select(s => s with { Weeks = 7 }).ToList();
        var fit = Regression.Cox(tied, s => s.Weeks, s => s.Died, s => s.Treated);
        Assert.True(fit.Converged && double.IsFinite(fit["Treated=yes"].StandardError));
        var empty = All.Select(s => s with { Died = s.Strain == "Heath" ? 0 : s.Died }).ToList();
        Assert.Contains(Regression.Cox(empty, s => s.Weeks, s => s.Died, s => s.Treated, strata: s => s.Strain).Warnings, w => w.Message.Contains("1 of the strata holds no event", StringComparison.Ordinal));
    }

    [Fact]
    public void A_category_that_separates()
    {
        // No colony of one strain died: its hazard goes to zero, and that is said and not a number.
        var rows = All.Select(s => s with { Died = s.Strain == "Heath" ? 0 : s.Died }).ToList();
        var fit = Regression.Cox(rows, s => s.Weeks, s => s.Died, s => new { s.Strain, s.QueenAge });
        Assert.Equal(double.NegativeInfinity, fit["Strain=Heath"].Estimate);
        Assert.Contains("`Strain=Heath` has no finite coefficient", Assert.Single(fit.Warnings).Message, StringComparison.Ordinal);
        var without = Regression.Cox([.. rows.Where(s => s.Strain != "Heath")], s => s.Weeks, s => s.Died, s => new { s.Strain, s.QueenAge });
        Survey.AssertDigits(without["QueenAge"].Estimate, fit["QueenAge"].Estimate, 6, "the other term");
        Assert.Contains("no finite estimate", Refused(() => fit.Wald("Strain")), StringComparison.Ordinal);
        var graded = All.Select(s => s with { Grade = s.Treated == "yes" ? 4 : s.Grade }).ToList();
        Assert.Equal(double.PositiveInfinity, Regression.OrderedLogit(graded, s => s.Grade, s => new { s.Treated, s.SpringTemp })["Treated=yes"].Estimate);
        var apart = All.Select(s => s with { Grade = s.Treated == "yes" ? 4 : Math.Min(s.Grade, 3) }).ToList();
        var split = Regression.OrderedLogit(apart, s => s.Grade, s => new { s.Treated, s.SpringTemp });
        Assert.Equal((double.PositiveInfinity, double.PositiveInfinity), (split["Treated=yes"].Estimate, split["3 | 4"].Estimate));
        Assert.True(double.IsFinite(split["2 | 3"].StandardError) && double.IsFinite(split["SpringTemp"].StandardError));
        var used = All.Select(s => s with { Use = s.Treated == "yes" ? "mead" : s.Use == "mead" ? "jar" : s.Use }).ToList();
        Assert.Contains("may separate the categories", Refused(() => Regression.MultinomialLogit(used, s => s.Use, s => s.Treated)), StringComparison.Ordinal);
        var mead = All.Select(s => s with { Use = s.Treated == "yes" && s.Use == "jar" ? "mead" : s.Use }).ToList();
        var uses = Regression.MultinomialLogit(mead, s => s.Use, s => s.Treated);
        Assert.Equal(double.NegativeInfinity, uses["jar: Treated=yes"].Estimate);
        Assert.Contains("the share of `jar` goes to zero", Assert.Single(uses.Warnings).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Categories_that_are_not_there()
    {
        Assert.Contains("no row used has the category `wax`", Refused(() => Regression.MultinomialLogit(All, s => s.Use, s => s.QueenAge, reference: "wax")), StringComparison.Ordinal);
        Assert.Contains("only the category `4`", Refused(() => Regression.OrderedLogit([.. All.Where(s => s.Grade == 4)], s => s.Grade, s => s.QueenAge)), StringComparison.Ordinal);
        Assert.Contains("use a probit regression", Refused(() => Regression.OrderedProbit([.. All.Where(s => s.Grade > 2)], s => s.Grade, s => s.QueenAge)), StringComparison.Ordinal);
        Assert.Contains("too many for categories", Refused(() => Regression.OrderedLogit(All, s => s.HoneyKg, s => s.QueenAge)), StringComparison.Ordinal);
        // A level that no row used has is told, and the model is of the others.
        var fit = Regression.OrderedLogit([.. All.Where(s => s.Grade != 2)], s => (Level)s.Grade, s => s.QueenAge);
        Assert.Equal(["Poor", "Good", "Best"], fit.Categories);
        // Terms that depend on each other are dropped and named, in every model.
        Assert.Contains(Regression.Cox(All, s => s.Weeks, s => s.Died, s => new { s.QueenAge, Twice = 2 * s.QueenAge }).Warnings, w => w.Message.Contains("`Twice`", StringComparison.Ordinal));
        Assert.Contains(Regression.Mixed(All, s => s.HoneyKg, s => new { s.QueenAge, Twice = 2 * s.QueenAge }, s => s.Apiary).Warnings, w => w.Message.Contains("`Twice`", StringComparison.Ordinal));
        Assert.Contains("does not vary", Refused(() => Regression.Mixed(All, s => s.HoneyKg, s => s.QueenAge, s => s.Apiary, s => new { One = s.QueenAge - s.QueenAge })), StringComparison.Ordinal);
        Assert.Contains("at least two are needed", Refused(() => Regression.Cox([.. All.Where(s => s.Apiary == "A00")], s => s.Weeks, s => s.Died, s => s.QueenAge).With(StandardErrors.ClusteredBy((Season s) => s.Apiary))), StringComparison.Ordinal);
    }

    private enum Level
    {
        Poor = 1,
        Fair,
        Good,
        Best,
    }
}
