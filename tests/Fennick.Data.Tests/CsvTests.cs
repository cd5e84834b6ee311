using System.Text;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

public sealed class CsvTests : IDisposable
{
    private readonly TestFolder folder = new();

    private enum Strain
    {
        Amber,
        Dusk,
    }

    private sealed record Hive(string Apiary, int Season, double? HoneyKg, bool Treated, Strain Strain, DateOnly? Seen = null, string? Remark = "none");

    private sealed class Settable
    {
        public string Apiary { get; set; } = "";

        public int Season { get; set; } = 7;
    }

    public void Dispose() => folder.Dispose();

    [Fact]
    public void Columns_fill_members_of_that_name()
    {
        var path = folder.Write("hives.csv", "season,apiary,honey_kg,Treated,strain,seen,unused\n2025,\"Alder, \"\"Bank\"\"\",24.5,yes,Dusk,2025-04-01,x\n2024,Müller's Croft,NA,0,amber,,\n");
        Assert.Equal(
            [new Hive("Alder, \"Bank\"", 2025, 24.5, true, Strain.Dusk, new DateOnly(2025, 4, 1)), new Hive("Müller's Croft", 2024, null, false, Strain.Amber)],
            Csv.Read<Hive>(path));
    }

    [Fact]
    public void Semicolons_and_settable_properties_work_too()
    {
        var read = Assert.Single(Csv.Read<Settable>(folder.Write("x.csv", "\uFEFFapiary;other\r\nReed Bank;1\r\n")));
        Assert.Equal(("Reed Bank", 7), (read.Apiary, read.Season));
    }

    [Theory]
    [InlineData("apiary,season,honey,treated,strain\nA,1,2,yes,Dusk\n", ":1:1: error: there is no column for `HoneyKg`")]
    [InlineData("apiary,season,honey_kg,HoneyKg,treated,strain\n", ":1:1: error: more than one column fits `HoneyKg`: `honey_kg`, `HoneyKg`; rename one of them")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,2,yes,Dusk\nB,x,2,yes,Dusk\n", ":3:2: error: `x` in column `season` is not a whole number from -2,147,483,648 to 2,147,483,647")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,,2,yes,Dusk\n", ":2:2: error: an empty cell in column `season`; make `Season` nullable (`int?`) if values may be missing")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,\"2,5\",yes,Dusk\n", ":2:3: error: `2,5` in column `honey_kg` is not a number that a `double` can hold")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,2,perhaps,Dusk\n", ":2:4: error: `perhaps` in column `treated` is not yes or no")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,2,yes,Dark\n", ":2:5: error: `Dark` in column `strain` is not one of Strain: Amber, Dusk")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1\n", ":2:3: error: this row has 2 cells, but the file has 5 columns; put the cell right that is missing or too many")]
    [InlineData("apiary,season,honey_kg,treated,strain\nA,1,2,yes,Dusk\nB,1,2,yes,Dusk,more\n", ":3:6: error: this row has 6 cells, but the file has 5 columns")]
    public void A_wrong_file_is_told_by_line_and_column(string text, string expected)
    {
        var path = folder.Write("hives.csv", text);
        Assert.StartsWith(path + expected, Assert.Throws<ReportException>(() => Csv.Read<Hive>(path)).Message, StringComparison.Ordinal);
    }

    private sealed record Reading(double Weight = 0, float Share = 0, DateTime Seen = default, DateTimeOffset Sent = default, int Count = 0, Strain Strain = default, double? Mites = null);

    [Fact]
    public void Times_are_those_of_the_standard_and_stay_as_they_are_written()
    {
        var path = folder.Write("readings.csv", "seen,sent,mites\n2025-03-30T02:30:00,2025-03-30T02:30:00+02:00,NaN\n2025-03-30 02:30,2025-03-30 02:30Z,-Infinity\n2025-03-30T02:30:00.25Z,2025-03-30T02:30:00.25-11:30,2e3\n2025-03-30,2025-03-30T00:00+00:00,NA\n");
        var night = new DateTime(2025, 3, 30, 2, 30, 0);
        var read = Csv.Read<Reading>(path);
        Assert.Equal([night, night, night.AddSeconds(0.25), night.Date], read.Select(r => r.Seen));
        Assert.All(read, r => Assert.Equal(DateTimeKind.Unspecified, r.Seen.Kind));
        Assert.Equal([new(night, TimeSpan.FromHours(2)), new(night, default), new(night.AddSeconds(0.25), TimeSpan.FromHours(-11.5)), new DateTimeOffset(night.Date, default)], read.Select(r => r.Sent));
        Assert.Equal([double.NaN, double.NegativeInfinity, 2000, null], read.Select(r => r.Mites));
    }

    [Theory]
    [InlineData("weight\n1e999", "`1e999` in column `weight` is not a number that a `double` can hold")]
    [InlineData("share\n-1e39", "`-1e39` in column `share` is not a number that a `float` can hold")]
    [InlineData("count\n99999999999", "make the member a `long`")]
    [InlineData("count\n1.5", "make the member a `double`")]
    [InlineData("seen\n03/04/2025", "write times as 2025-03-30T02:30:00")]
    [InlineData("seen\n2025-03-30T02:30:00+02:00", "make the member a `DateTimeOffset`")]
    [InlineData("sent\n2025-03-30T02:30:00", "write times as 2025-03-30T02:30:00+02:00")]
    [InlineData("strain\n1", "is not one of Strain: Amber, Dusk")]
    [InlineData("strain\n\"Amber,Dusk\"", "is not one of Strain: Amber, Dusk")]
    public void What_would_be_another_value_is_refused(string text, string expected) =>
        Assert.Contains(expected, Assert.Throws<ReportException>(() => Csv.Read<Reading>(folder.Write("readings.csv", text))).Message, StringComparison.Ordinal);

    [Fact]
    public void A_missing_file_names_the_nearest()
    {
        folder.Write("hives.csv", "");
        Assert.Contains($"did you mean `{folder.File("hives.csv")}`?", Assert.Throws<ReportException>(() => Csv.Read<Hive>(folder.File("hive.csv"))).Message, StringComparison.Ordinal);
        Assert.Contains("there is no folder", Assert.Throws<ReportException>(() => Csv.Read<Hive>(folder.File("no/hive.csv"))).Message, StringComparison.Ordinal);
    }

    private sealed record Place(string Name, int X);

    private string WriteBytes(string text, string encoding)
    {
        var path = folder.File("places.csv");
        File.WriteAllBytes(path, CodePagesEncodingProvider.Instance.GetEncoding(encoding)?.GetBytes(text) ?? [.. Encoding.GetEncoding(encoding).GetPreamble(), .. Encoding.GetEncoding(encoding).GetBytes(text)]);
        return path;
    }

    [Theory]
    [InlineData("windows-1252", "Caf\u00E9 \u20AC")]
    [InlineData("windows-1250", "\u017Belazna")]
    [InlineData("windows-1251", "\u041F\u0430\u0441\u0435\u043A\u0430")]
    [InlineData("macintosh", "Caf\u00E9")]
    public void Another_encoding_is_refused_with_its_row_and_the_likely_one_and_read_when_it_is_named(string encoding, string name)
    {
        var path = WriteBytes($"name,x\nAlder,1\n{name},2\nElm,3\n", encoding);
        var problem = Assert.Throws<ReportException>(() => Csv.Read<Place>(path)).Diagnostics.Single();
        Assert.Equal((path, 3), (problem.Place!.File, problem.Place.Line));
        Assert.StartsWith("this line is not in UTF-8 (byte ", problem.Message, StringComparison.Ordinal);
        Assert.Contains($"`{encoding}` (it reads `{name},2` then)", problem.Suggestion, StringComparison.Ordinal);
        Assert.Equal(["Alder", name, "Elm"], Csv.Read<Place>(path, encoding).Select(p => p.Name));
    }

    [Theory]
    [InlineData("utf-8")]
    [InlineData("utf-16")]
    [InlineData("utf-16BE")]
    public void A_byte_order_mark_says_the_encoding_whatever_the_call_says(string encoding)
    {
        var path = WriteBytes("name,x\nCaf\u00E9 \U0001F41D,1\n", encoding);
        Assert.Equal("Caf\u00E9 \U0001F41D", Csv.Read<Place>(path).Single().Name);
        Assert.Equal("Caf\u00E9 \U0001F41D", Csv.Read<Place>(path, "windows-1252").Single().Name);
    }

    [Fact]
    public void A_wrong_encoding_is_told_wherever_it_is_in_a_large_file()
    {
        var path = folder.File("large.csv");
        for (var rows = 65520 / 8; rows < (65550 / 8) + 3; rows++)
        {
            File.WriteAllBytes(path, [.. Encoding.UTF8.GetBytes("name,x\n" + string.Concat(Enumerable.Repeat("Alder,1\n", rows))), (byte)'C', 0xE9, .. ",1\n"u8]);
            var problem = Assert.Throws<ReportException>(() => Csv.Read<Place>(path)).Diagnostics.Single();
            Assert.Equal(rows + 2, problem.Place!.Line);
            Assert.Contains("`windows-1252` (it reads `C\u00E9,1` then)", problem.Suggestion, StringComparison.Ordinal);
            // Two bytes of a character that stand in two blocks.
            File.WriteAllText(path, "name,x\n" + string.Concat(Enumerable.Repeat("Alder,1\n", rows)) + "Caf\u00E9,1\n");
            Assert.Equal("Caf\u00E9", Csv.Read<Place>(path)[^1].Name);
        }
    }

    [Theory]
    [InlineData(new byte[] { 0x61, 0x00, 0x2C, 0x00, 0x78, 0x00 }, null, "this line holds a zero character")]
    [InlineData(new byte[] { 0x61, 0x2C, 0x78, 0x0A, 0xC3 }, null, "this line is not in UTF-8: the file ends in the middle of a character")]
    [InlineData(new byte[] { 0x61, 0x2C, 0x78 }, "latin", "`latin` is not an encoding")]
    public void Damaged_text_and_unknown_names_are_told(byte[] bytes, string? encoding, string message)
    {
        var path = folder.File("x.csv");
        File.WriteAllBytes(path, bytes);
        Assert.Equal(message, Assert.Throws<ReportException>(() => Csv.Read<Place>(path, encoding)).Diagnostics.Single().Message);
    }

    [Fact]
    public void A_stream_reads_as_the_file_with_its_encoding_and_its_mistakes_are_named()
    {
        Stream Of(string text, Encoding encoding) => new MemoryStream(encoding.GetBytes(text));
        var windows = CodePagesEncodingProvider.Instance.GetEncoding(1252)!;
        Assert.Equal("Café", Csv.Read<Named>(Of("name;weight\nCafé;1.5\n", windows), encoding: "windows-1252").Single().Name);
        Assert.Equal("Café", Csv.Read<Named>(Of("\uFEFFname,weight\nCafé,1.5\n", Encoding.UTF8)).Single().Name);
        Assert.StartsWith("upload:2:1: error: this line is not in UTF-8", Assert.Throws<ReportException>(() => Csv.Read<Named>(Of("name,weight\nCafé,1.5\n", windows), "upload")).Message, StringComparison.Ordinal);
        Assert.StartsWith("upload:2:", Assert.Throws<ReportException>(() => Csv.Read<Named>(Of("name,weight\na,b\n", Encoding.UTF8), "upload")).Message, StringComparison.Ordinal);
        Assert.Throws<ReportException>(() => Csv.Read<Named>(Stream.Null));
        Assert.Throws<ArgumentNullException>(() => Csv.Read<Named>((Stream)null!));
    }

    private sealed record Named(string Name, double Weight);
}
