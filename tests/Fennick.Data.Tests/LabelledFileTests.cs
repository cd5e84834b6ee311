using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>Files of statistics packages, written by other programs than this one (the scripts stand beside the files).</summary>
public sealed class LabelledFileTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private static string Named(string name) => Repository.PathOf("tests", "Fennick.Data.Tests", "files", name);

    private sealed record Answer(int Id, string Valley, string Keeps, int? WorthTheWorkReally, double? Weight, string? Note, string? Code, DateOnly? Since, DateTime? Moment);

    private sealed record Hive(int Id, string Valley, string? Keeps, double? Weight, double? Exact, int Small, int Mid, DateOnly? Since, DateTime? Moment);

    [Theory]
    [InlineData("plain.sav")]
    [InlineData("compressed.sav")]
    [InlineData("answers.zsav")]
    public void A_system_file_is_read_with_its_labels_and_missing_codes(string name)
    {
        var answers = LabelledFile.Read<Answer>(Named(name));
        Assert.Equal(["Alderwick", "Bramble Down", "Müller's Croft", "Coldbrook", "Dunmarsh"], answers.Select(a => a.Valley));
        Assert.Equal(["as a hobby", "on the side", "für das Leben", "as a hobby", "on the side"], answers.Select(a => a.Keeps));
        // A number takes the code; 9 is a missing code, and weights below zero are.
        Assert.Equal([1, 2, null, 3, 1], answers.Select(a => a.WorthTheWorkReally));
        Assert.Equal([24.5, null, 19.125, null, 130], answers.Select(a => a.Weight));
        Assert.Equal((string[])[new string('x', 290) + "end", "short", "", "y", "z"], answers.Select(a => a.Note ?? ""));
        Assert.Equal(["Amber", "Dusk", null, "Amber", "Dusk"], answers.Select(a => a.Code));
        Assert.Equal([new DateOnly(2011, 5, 1), new DateOnly(2012, 5, 1), null, new DateOnly(2014, 5, 1), new DateOnly(2015, 5, 1)], answers.Select(a => a.Since));
        Assert.Equal(new DateTime(2025, 9, 20, 12, 30, 5), answers[4].Moment);

        var columns = LabelledFile.Columns(Named(name));
        Assert.Equal(5, columns.Count);
        // The levels stand in the order of the codes, not of the alphabet.
        Assert.Equal(["as a hobby", "on the side", "für das Leben"], ((FactorVariable)columns.Column("keeps")).Levels);
        Assert.Equal(["fully", "partly", "no"], ((FactorVariable)columns.Column("worth_the_work_really")).Levels);
        Assert.Contains("Is the survey worth the work?", FrequencyOf(answers, LabelledFile.Labels<Answer>(Named(name))), StringComparison.Ordinal);
        Assert.Contains("Weight of the hive (kg)", ListingTable.Of(columns).ToString(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("release114.dta")]
    [InlineData("release117.dta")]
    [InlineData("release118.dta")]
    [InlineData("release119.dta")]
    [InlineData("bigendian.dta")]
    public void A_dta_file_of_any_release_is_read(string name)
    {
        var hives = LabelledFile.Read<Hive>(Named(name));
        Assert.Equal(["Alderwick", "Bramble Down", "Müller's Croft", "Coldbrook", "Dunmarsh"], hives.Select(h => h.Valley));
        Assert.Equal(["as a hobby", "on the side", "for a living", "as a hobby", null], hives.Select(h => h.Keeps));
        // A short number is what was meant, not what its bits are in a long one.
        Assert.Equal([24.5, null, 19.125, 130, 24.7], hives.Select(h => h.Weight));
        Assert.Equal([0.1, 2.5, null, -1e10, 3], hives.Select(h => h.Exact));
        Assert.Equal([1, -5, 100, 7, 8], hives.Select(h => h.Small));
        Assert.Equal([1000, -32000, 5, 6, 7], hives.Select(h => h.Mid));
        Assert.Equal([new DateOnly(2011, 5, 1), new DateOnly(2018, 12, 31), null, new DateOnly(1959, 12, 31), new DateOnly(2024, 2, 29)], hives.Select(h => h.Since));
        Assert.Equal([new DateTime(2025, 9, 20, 12, 30, 15), new DateTime(2025, 9, 21), new DateTime(2000, 1, 1, 23, 59, 59), new DateTime(1970, 1, 1, 0, 0, 1), null], hives.Select(h => h.Moment));
        Assert.Equal(["as a hobby", "on the side", "for a living"], ((FactorVariable)LabelledFile.Columns(Named(name)).Column("keeps")).Levels);
        Assert.Contains("How bees are kept", DescriptiveTable.Of(hives, h => new { h.Keeps, h.Mid }).Labels(LabelledFile.Labels<Hive>(Named(name))).ToString(), StringComparison.Ordinal);
        if (name is "release114.dta" or "bigendian.dta") return;
        var notes = (FactorVariable)LabelledFile.Columns(Named(name)).Column("note");
        Assert.Equal([new string('x', 290) + "end", "short", null, "y", "z"], notes.Codes.Select(c => c < 0 ? null : notes.Levels[c]));
    }

    [Fact]
    public void What_is_wrong_is_told_with_the_file_row_and_variable()
    {
        Assert.Contains("there is no data file", Told(() => LabelledFile.Columns(folder.File("none.sav"))), StringComparison.Ordinal);
        Assert.Contains("this is no `.sav`, `.zsav` or `.dta` file that is known; save it as one of them, or as CSV", Told(() => LabelledFile.Columns(folder.Write("a.sav", "id,valley\n1,2\n"))), StringComparison.Ordinal);
        Assert.Contains("plain.sav, row 1, variable valley: error: `Alderwick` in column `valley` is not a whole number from -2,147,483,648 to 2,147,483,647, and so are 4 cells more", Told(() => LabelledFile.Read<Wrong>(Named("plain.sav"))).Replace(Path.GetDirectoryName(Named("x")) + "/", "", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.Contains("there is no column for `Apiary`", Told(() => LabelledFile.Read<Lacking>(Named("release118.dta"))), StringComparison.Ordinal);
        Assert.Contains("release 120 of the format is not known", Told(() => LabelledFile.Columns(Changed("release118.dta", "<release>118"u8, "<release>120"u8))), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("plain.sav")]
    [InlineData("compressed.sav")]
    [InlineData("answers.zsav")]
    [InlineData("release114.dta")]
    [InlineData("release118.dta")]
    public void A_damaged_file_is_refused_or_read_and_nothing_else(string name)
    {
        var bytes = File.ReadAllBytes(Named(name));
        var random = new Random(22);
        var refused = 0;
        for (var i = 0; i < 120; i++)
        {
            var damaged = i % 2 == 0 ? bytes[..random.Next(bytes.Length)] : (byte[])bytes.Clone();
            if (i % 2 == 1) for (var n = random.Next(1, 6); n > 0; n--) damaged[random.Next(Math.Min(damaged.Length, i % 4 == 1 ? 700 : int.MaxValue))] = (byte)random.Next(256);
            var path = folder.File($"damaged{Path.GetExtension(name)}");
            File.WriteAllBytes(path, damaged);
            try
            {
                LabelledFile.Columns(path);
            }
            catch (ReportException)
            {
                refused++;
            }
        }
        Assert.True(refused > 45, $"{refused} of 120 were refused");
    }

    private static string FrequencyOf(IEnumerable<Answer> answers, Labels labels) => DescriptiveTable.Of(answers, a => new { a.WorthTheWorkReally }).Labels(labels).ToString();

    private string Changed(string name, ReadOnlySpan<byte> from, ReadOnlySpan<byte> to)
    {
        var bytes = File.ReadAllBytes(Named(name));
        to.CopyTo(bytes.AsSpan(bytes.AsSpan().IndexOf(from)));
        File.WriteAllBytes(folder.File(name), bytes);
        return folder.File(name);
    }

    private static string Told(Action action) => Assert.Throws<ReportException>(action).Message;

    private sealed record Wrong(int Id, int Valley);

    private sealed record Lacking(string Apiary);
}
