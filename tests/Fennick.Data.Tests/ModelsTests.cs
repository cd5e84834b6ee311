using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>Tables of coefficients that other programs wrote.</summary>
public sealed class ModelsTests : IDisposable
{
    private readonly TestFolder folder = new();

    private const string Coefficients = """
        model,term,estimate,std.error,statistic,p.value,conf.low,conf.high
        Simple,(Intercept),18.619,1.399,13.31,0.0000,15.80,21.44
        Simple,forage_ha,0.197,0.046,4.28,0.00009,0.104,0.290
        Full,(Intercept),19.10,1.50,12.73,0.0000,16.1,22.1
        Full,forage_ha,0.214,0.060,3.57,0.0008,0.094,0.334
        Full,C(strain)[T.Dusk],1.90,0.80,2.375,0.02,0.3,3.5
        Full,forage_ha:mites,-0.01,0.02,-0.5,0.62,-0.05,0.03
        """;

    public void Dispose() => folder.Dispose();

    private string Wrong(string coefficients, string? fits = null) =>
        Assert.Throws<ReportException>(() => Models.Read(folder.Write("m.csv", coefficients), fits is null ? null : folder.Write("f.csv", fits))).Message;

    [Fact]
    public void Models_of_other_programs_stand_in_tables_and_charts()
    {
        var models = Models.Read(folder.Write("m.csv", Coefficients), folder.Write("f.csv", "model,estimator,response,errors,nobs,r_squared,aic,groups,note\nSimple,least squares,honey_kg,\"robust, HC3\",584,0.14,3201.5,48,\nFull,least squares,honey_kg,\"robust, HC3\",571,0.19,3150.2,48,One apiary is left out.\n"));
        Assert.Equal("""
            ─────────────────────────────────────────
                                 Simple       Full
            ─────────────────────────────────────────
            Forage ha            0.197***    0.214***
                                (0.046)     (0.060)
            Strain
              Dusk                           1.900*
                                            (0.800)
            Forage ha × Mites               −0.010
                                            (0.020)
            Constant            18.619***   19.100***
                                (1.399)     (1.500)
            ╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌
            Observations           584         571
            R²                   0.140       0.190
            AIC                3,201.5     3,150.2
            Groups                  48          48
            ─────────────────────────────────────────
            """, string.Join('\n', RegressionTable.Of(models).ToString().Split('\n').Select(l => l.TrimEnd()).TakeWhile(l => !l.StartsWith("Least", StringComparison.Ordinal))));
        Assert.Contains("Least squares. Standard errors in parentheses, robust, HC3.", RegressionTable.Of(models).ToString().ReplaceLineEndings(" "), StringComparison.Ordinal);
        Assert.Equal((15.8, 21.44), (models[0].Fit.Terms[0].Interval().Low, models[0].Fit.Terms[0].Interval().High));
        Assert.Equal(0.00009, models[0].Fit.Terms[1].PValue);
        new Report("Models").Add(RegressionTable.Of(models)).Add(EstimatesChart.Of(models)).Save(folder.File("m.docx"));
        WordClean.Check(folder.File("m.docx"));
    }

    [Fact]
    public void Names_of_columns_differ_from_program_to_program()
    {
        var json = Models.Read(folder.Write("m.json", """[{"variable": "const", "coef": 2, "se": 0.5, "P>|t|": 0.001}, {"variable": "mites", "coef": -1, "se": 0.25}]"""));
        Assert.Equal(["intercept", "mites"], json[0].Fit.Terms.Select(t => t.Name));
        Assert.Equal(0.001, json[0].Fit.Terms[0].PValue);
        // A statistic without an error gives the error.
        Assert.Equal(0.25, Models.Read(folder.Write("m.csv", "term;coefficient;z value\nmites;-1,5;-6\n"))[0].Fit.Terms[0].StandardError);
    }

    [Theory]
    [InlineData("term,estimate\na,1\n", null, "m.csv:1:1: error: there is neither a column of standard errors nor one of statistics")]
    [InlineData("term,se\na,1\n", null, "there is no column `estimate`; the columns are `term`, `se`")]
    [InlineData("term,estimate,se,t\na,1,0.5,3\n", null, "m.csv:2:4: error: the statistic 3 is not the estimate 1 over its error 0.5")]
    [InlineData("term,estimate,se,p\na,1,0.5,1.2\n", null, "m.csv:2:4: error: a p-value of 1.2 is not between 0 and 1")]
    [InlineData("term,estimate,se\na,1,-0.5\n", null, "m.csv:2:3: error: a standard error of -0.5 is below zero")]
    [InlineData("term,estimate,se,lower,upper\na,1,0.5,2,3\n", null, "the interval from 2 to 3 does not hold the estimate 1")]
    [InlineData("term,estimate,se\na,,0.5\n", null, "m.csv:2:2: error: this coefficient has no estimate")]
    [InlineData("term,estimate,se\na,high,0.5\n", null, "m.csv:2:2: error: `high` is not a number")]
    [InlineData("term,estimate,se\na,1,0.5\na,2,0.5\n", null, "2 terms called `a`; if the file holds several models, name them in a column `model`")]
    [InlineData("term,estimate,se\n", null, "there are no coefficients")]
    [InlineData("model,term,estimate,se\nOne,a,1,0.5\n", "model,n\nTwo,5\n", "f.csv:1:1: error: there are no coefficients of the model `Two`")]
    [InlineData("model,term,estimate,se\nOne,a,1,0.5\nTwo,a,1,0.5\n", "model,n\nTwo,5\n", "f.csv:1:1: error: there is no row for the model `One`")]
    public void What_contradicts_itself_is_refused(string coefficients, string? fits, string expected) => Assert.Contains(expected, Wrong(coefficients, fits), StringComparison.Ordinal);
}
