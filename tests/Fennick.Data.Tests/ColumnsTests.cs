using System.Data;
using Fennick.Statistics;
using Fennick.Tables;
using Microsoft.Data.Analysis;
using Xunit;

namespace Fennick.Data.Tests;

public sealed class ColumnsTests
{
    private static readonly (double? Honey, double Forage, string? Strain, bool Treated)[] Rows =
        [(20, 10, "Dusk", true), (22, 14, "Amber", false), (null, 9, "Dusk", true), (25, 21, "Amber", true), (18, 8, null, false), (27, 22, "Dusk", false), (21, 15, "Amber", true)];

    private static DataFrame Frame() => new(
        new PrimitiveDataFrameColumn<double>("honey_kg", Rows.Select(r => r.Honey)),
        new PrimitiveDataFrameColumn<double>("forage_ha", Rows.Select(r => (double?)r.Forage)),
        new StringDataFrameColumn("strain", Rows.Select(r => r.Strain)),
        new PrimitiveDataFrameColumn<bool>("treated", Rows.Select(r => (bool?)r.Treated)));

    private static DataTableReader Reader()
    {
        using var table = new DataTable { Locale = System.Globalization.CultureInfo.InvariantCulture };
        table.Columns.Add("honey_kg", typeof(double));
        table.Columns.Add("forage_ha", typeof(decimal));
        table.Columns.Add("strain", typeof(string));
        foreach (var row in Rows) table.Rows.Add((object?)row.Honey ?? DBNull.Value, row.Forage, (object?)row.Strain ?? DBNull.Value);
        return table.CreateDataReader();
    }

    [Fact]
    public void A_data_frame_a_query_and_records_give_the_same_fit()
    {
        var records = Regression.LeastSquares(Rows, r => r.Honey, r => new { r.Forage, r.Strain });
        var frame = Regression.LeastSquares(Frame(), "honey_kg", "forage_ha", "strain");
        using var reader = Reader();
        var query = Regression.LeastSquares(reader, "honey_kg", "forage_ha", "strain");
        Assert.Equal(["intercept", "forage_ha", "strain=Dusk"], frame.Terms.Select(t => t.Name));
        Assert.Equal((5, 2), (frame.Observations, frame.RowsLeftOut));
        Assert.Equal(records.Terms.Select(t => (t.Estimate, t.StandardError)), frame.Terms.Select(t => (t.Estimate, t.StandardError)));
        Assert.Equal(records.Terms.Select(t => (t.Estimate, t.StandardError)), query.Terms.Select(t => (t.Estimate, t.StandardError)));
        Assert.Equal(
            Regression.LeastSquares(Rows, r => r.Honey, r => new { r.Forage }).With(Statistics.Fits.StandardErrors.ClusteredBy(((double? Honey, double Forage, string? Strain, bool Treated) r) => r.Treated))["Forage"].StandardError,
            Regression.LeastSquares(Frame(), "honey_kg", "forage_ha").With(Statistics.Fits.StandardErrors.ClusteredBy("treated"))["forage_ha"].StandardError);
    }

    [Fact]
    public void An_unknown_column_names_the_nearest() =>
        Assert.Equal("there is no column `forage`; did you mean `forage_ha`?", Assert.Throws<AnalysisException>(() => Regression.LeastSquares(Frame(), "honey_kg", "forage")).Message);

    [Fact]
    public void A_data_frame_and_a_query_are_listed_as_they_are()
    {
        using var reader = Reader();
        foreach (var listing in new[] { ListingTable.Of(Frame()).Columns("honey_kg", "forage_ha", "strain"), ListingTable.Of(reader) })
        {
            Assert.Equal(["Honey kg", "Forage ha", "Strain"], listing.ToTable().HeaderRows[0].Cells.Select(c => c.Content.ToPlainText()));
            Assert.Equal(["20", "10", "Dusk"], listing.ToTable().Rows[0].Cells.Select(c => c.Content.ToPlainText()));
            Assert.Equal(["—", "9", "Dusk"], listing.ToTable().Rows[2].Cells.Select(c => c.Content.ToPlainText()));
        }
    }
}
