using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>Character-separated files as offices keep them.</summary>
public sealed class DialectTests : IDisposable
{
    private readonly TestFolder folder = new();

    private sealed record Weighed(string Apiary, double? Honey, decimal? Price = null, int? Count = null, DateOnly? Day = null);

    public void Dispose() => folder.Dispose();

    private string File(string text) => folder.Write("x.csv", text);

    private string Wrong(string text, CsvDialect? dialect = null) => Assert.Throws<ReportException>(() => Csv.Read<Weighed>(File(text), dialect ?? new CsvDialect())).Message;

    [Theory]
    [InlineData("apiary;honey\nA;24,5\nB;1.024,75\nC;0,125\n", new[] { 24.5, 1024.75, 0.125 })]
    [InlineData("apiary\thoney\nA\t24,5\nB\t1 024,75\nC\t-3\n", new[] { 24.5, 1024.75, -3 })]
    [InlineData("apiary|honey\nA|24.5\nB|1,024.75\nC|1,000\n", new[] { 24.5, 1024.75, 1000 })]
    [InlineData("apiary,honey\nA,\"1,024.75\"\nB,\"12,000,000\"\nC,7\n", new[] { 1024.75, 12_000_000, 7 })]
    [InlineData("apiary;honey\nA;1'024.5\nB;2\u00A0000\nC;1,5e3\n", null)]
    [InlineData("apiary;honey\nA;1,234\nB;0,5\nC;7\n", new[] { 1.234, 0.5, 7 })]
    public void Separator_and_signs_are_found(string text, double[]? expected)
    {
        if (expected is null) Assert.Contains("`1,5e3` has a comma where `1024.5` (", Wrong(text), StringComparison.Ordinal);
        else Assert.Equal(expected, Csv.Read<Weighed>(File(text)).Select(w => w.Honey!.Value));
    }

    [Theory]
    [InlineData("apiary;honey\nA;1,234\nB;7\n", "x.csv:2:2: error: `1,234` may be 1.234 or 1234; say by `DecimalSign` or `ThousandsSign`")]
    [InlineData("apiary;honey\nA;1,25\nB;2.5\n", "x.csv:2:2: error: `1,25` has a comma where `2.5` (")]
    [InlineData("apiary;honey\nA;2.5\nB;1,25\n", "`1,25` has a comma where `2.5` (")]
    [InlineData("apiary;honey\nA;1.234\nB;1.234,5\n", "`1.234,5` has a comma where `1.234` (")]
    [InlineData("apiary,honey\nA,\"2,5\"\n", "say what the comma means by `new CsvDialect { DecimalSign = ',' }`")]
    [InlineData("apiary;honey\nA;12,34,5\n", "`12,34,5` in column `honey` is not a number")]
    [InlineData("apiary;honey\nA;1.2.3\n", "`1.2.3` in column `honey` is not a number")]
    [InlineData("apiary,honey\nA,n/a\nB,2\nC,n/a\nD,?\nE,x\n", "x.csv:2:2: error: `n/a` in column `honey` is not a number that a `double` can hold, and so are 3 cells more: `n/a` (", "if it stands for a missing value, say so by `new CsvDialect { Missing = [\"\", \"NA\", \"n/a\"] }`")]
    [InlineData("apiary,honey,day\nA,x,2025-01-01\nB,2,yesterday\n", "`x` in column `honey`", "x.csv:3:3: error: `yesterday` in column `day` is not a date")]
    [InlineData("apiary,honey,day\nA,1,03/04/2025\n", "say by `DateFormat` of a `CsvDialect` how they are written: `dd/MM/yyyy` or `MM/dd/yyyy`")]
    [InlineData("apiary,honey,day\nA,1,13/4/2025\n", "how they are written: `d/M/yyyy`")]
    [InlineData("apiary,honey,count\nA,1,1.5\n", "make the member a `double`")]
    public void What_could_be_read_in_two_ways_is_refused(string text, params string[] expected)
    {
        var message = Wrong(text);
        Assert.All(expected, e => Assert.Contains(e, message, StringComparison.Ordinal));
    }

    [Fact]
    public void What_is_said_counts()
    {
        var dialect = new CsvDialect { Separator = ';', Quote = '\'', DecimalSign = ',', ThousandsSign = '.', DateFormat = "dd.MM.yyyy", Missing = ["", "-9"], LinesBefore = 2, Comment = '#', Encoding = "windows-1252" };
        var path = folder.File("w.csv");
        System.IO.File.WriteAllBytes(path, System.Text.CodePagesEncodingProvider.Instance.GetEncoding(1252)!.GetBytes("Survey\nof 2025\napiary;honey;price;count;day\n'M\u00FCller; Sons';1.234;2,10;1.000;03.04.2025\n# not weighed\nB;-9;;;\n"));
        Assert.Equal([new Weighed("M\u00FCller; Sons", 1234, 2.10m, 1000, new DateOnly(2025, 4, 3)), new Weighed("B", null)], Csv.Read<Weighed>(path, dialect));
        Assert.Equal("separator `;`, quotation mark `'`, decimal sign `,`, thousands sign `.`, dates as `dd.MM.yyyy`, encoding `windows-1252`, lines before `2`, comments behind `#`, missing values ``, `-9`", dialect.ToString());
        Assert.Contains("is not a date", Wrong("apiary,honey,day\nA,1,30/04/2025\n", new CsvDialect { DateFormat = "MM/dd/yyyy" }), StringComparison.Ordinal);
        Assert.Contains("x.csv:5:2: error", Wrong("a\nb\napiary,honey\nA,1\nB,x\n", new CsvDialect { LinesBefore = 2 }), StringComparison.Ordinal);
        Assert.Contains("the file has 1 lines, and 3 are said", Wrong("a", new CsvDialect { LinesBefore = 3 }), StringComparison.Ordinal);
    }

    [Fact]
    public void The_dialect_of_a_file_is_told()
    {
        var found = Csv.FindDialect(File("apiary;honey;day\nA;24,5;03.11.2025\nB;1.024,5;04.11.2025\n"));
        Assert.Equal("separator `;`, decimal sign `,`, thousands sign `.`", found.ToString());
        Assert.Equal("separator `,`, decimal sign `.`", Csv.FindDialect(File("apiary,honey\nA,1\n")).ToString());
    }

    [Fact]
    public void Columns_are_numbers_or_factors()
    {
        var columns = Csv.Columns(File("apiary,honey,code,late\nA,24.5,007,\nB,NA,12,x\nC,3,13,7\nD,,14,y\n"));
        Assert.Equal(["apiary", "honey", "code", "late"], columns.Names);
        Assert.Equal(4, columns.Count);
        Assert.Equal([24.5, double.NaN, 3, double.NaN], Assert.IsType<NumericVariable>(columns.Column("honey")).Values);
        // Zeros before a number are those of a code; a column that is text behind a number keeps the number as it is written.
        Assert.Equal(["007", "12", "13", "14"], Levels("code"));
        Assert.Equal([null, "x", "7", "y"], Levels("late"));

        IEnumerable<string?> Levels(string name) => Assert.IsType<FactorVariable>(columns.Column(name)) is var factor ? factor.Codes.Select(c => c < 0 ? null : factor.Levels[c]) : [];
    }

    [Theory]
    [InlineData("a,b\n1,x\n2,x\nlow,y\n3,y\nhigh,y\n4,y\n?,y\n", "x.csv:4:1: error: column `a` holds 4 numbers and 3 cells that are none: `low`, `high` (")]
    [InlineData("low,b\nn/a,x\n2,x\n3,x\n", "x.csv:2:1: error: column `low` holds 2 numbers and one cell that is none: `n/a`")]
    [InlineData("a,,b\n1,2,3\n", "x.csv:1:1: error: column 2 has no name")]
    [InlineData("a,b,a\n1,2,3\n", "2 columns are called `a`")]
    public void A_mixed_or_nameless_column_is_refused(string text, string expected) => Assert.Contains(expected, Assert.Throws<ReportException>(() => Csv.Columns(File(text))).Message, StringComparison.Ordinal);

    [Fact]
    public void A_column_that_is_named_is_text()
    {
        var path = File("area,n\n12,1\n13,2\n14,x\n15,3\n");
        Assert.Contains("no column `aera`", Assert.Throws<ReportException>(() => Csv.Columns(path, new CsvDialect { TextColumns = ["aera"] })).Message, StringComparison.Ordinal);
        var columns = Csv.Columns(path, new CsvDialect { TextColumns = ["area"], Missing = ["x"] });
        Assert.Equal(["12", "13", "14", "15"], Assert.IsType<FactorVariable>(columns.Column("area")).Levels);
        Assert.IsType<NumericVariable>(columns.Column("n"));
    }

    private sealed record Wide(string Name, int Whole, long Long, double Number, double? Optional, decimal Exact, bool Flag, DateOnly Day, int Left = 5, string? Note = null);

    [Fact]
    public void The_many_are_read_as_the_few()
    {
        // Behind 2,000 rows records are made in another way.
        var rows = Enumerable.Range(0, 5000).Select(i => new Wide($"n{i % 7}", i, 10_000_000_000L + i, i / 8.0, i % 3 == 0 ? null : i * 0.5, i + 0.10m, i % 2 == 0, new DateOnly(2020, 1, 1).AddDays(i), 5, i % 4 == 0 ? null : "x")).ToList();
        var path = File("name,whole,long,number,optional,exact,flag,day,note\n" + string.Concat(rows.Select(r => FormattableString.Invariant($"{r.Name},{r.Whole},{r.Long},{r.Number},{r.Optional},{r.Exact},{(r.Flag ? "yes" : "no")},{r.Day:yyyy-MM-dd},{r.Note}\n"))));
        Assert.Equal(rows, Csv.Read<Wide>(path));
        System.IO.File.AppendAllText(path, "z,x,1,1,1,1,yes,2025-01-01,\n");
        Assert.Contains($":{rows.Count + 2}:2: error: `x` in column `whole`", Assert.Throws<ReportException>(() => Csv.Read<Wide>(path)).Message, StringComparison.Ordinal);
        Assert.Equal(rows.Select(r => r.Name), Csv.Read<Named>(path).Take(rows.Count).Select(n => n.Name));
    }

    private sealed class Named
    {
        public string Name { get; set; } = "";
    }
}
