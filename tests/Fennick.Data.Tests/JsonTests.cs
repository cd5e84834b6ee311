using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

public sealed class JsonTests : IDisposable
{
    private readonly TestFolder folder = new();

    private sealed record Hive(string Apiary, int Season, double? HoneyKg, bool? Treated = null, string? PlaceValley = null, decimal? Price = null, DateOnly? Seen = null);

    public void Dispose() => folder.Dispose();

    private string Wrong(string text, string? at = null) => Assert.Throws<ReportException>(() => Json.Read<Hive>(folder.Write("x.json", text), at)).Message;

    [Fact]
    public void Objects_fill_records()
    {
        Hive[] expected = [new("M\u00FCller's \"Croft\"", 2025, 24.5, true, "Alderwick", 0.1234567890123456789m, new DateOnly(2025, 4, 1)), new("B", 2024, null)];
        const string First = """{"apiary": "M\u00fcller's \"Croft\"", "season": 2025, "honey_kg": 24.5, "treated": true, "place": {"valley": "Alderwick"}, "price": 0.1234567890123456789, "seen": "2025-04-01", "bees": [1, 2]}""";
        const string Second = """{"season": 2024, "apiary": "B", "honey_kg": null}""";
        Assert.Equal(expected, Json.Read<Hive>(folder.Write("a.json", $"[{First}, {Second}]")));
        Assert.Equal(expected, Json.Read<Hive>(folder.Write("a.jsonl", $"{First}\n{Second}\n")));
        Assert.Equal(expected, Json.Read<Hive>(folder.Write("a.json", $"{{\"survey\": {{\"by\": \"us\", \"hives\": [{First}, {Second}]}}, \"end\": 1}}"), "survey.hives"));
        Assert.Equal(expected[1..], Json.Read<Hive>(folder.Write("a.json", Second)));
        Assert.Empty(Json.Read<int>(folder.Write("a.json", "[{\"a\": 1}]")).Skip(1));
    }

    [Theory]
    [InlineData("[{\"apiary\": \"A\",\n \"season\": 2025.5, \"honey_kg\": 1}]", ":2:12: error: `2025.5` in column `season` is not a whole number")]
    [InlineData("[{\"apiary\": \"A\", \"season\": 2025, \"honey_kg\": \"much\"}, {\"apiary\": \"B\", \"season\": 2025, \"honey_kg\": \"more\"}]", ":1:46: error: `much` in column `honey_kg` is not a number that a `double` can hold, and so is 1 cell more: `more`")]
    [InlineData("[{\"apiary\": \"A\", \"saeson\": 2025, \"honey_kg\": 1}]", "there is no column for `Season`; did you mean `saeson`?")]
    [InlineData("[{\"apiary\": \"A\", \"season\": 1, \"season\": 2}]", "`season` stands twice in this object")]
    [InlineData("[{\"apiary\": \"A\", \"honey_kg\": 1}, {\"apiary\": \"A\", \"season\": 1, \"honey_kg\": 1}]", ":1:2: error: an empty cell in column `season`")]
    [InlineData("[{\"apiary\": \"A\",]", ":1:17: error: the file is damaged")]
    [InlineData("[1, 2]", ":1:2: error: each row has to be an object")]
    [InlineData("7", ":1:1: error: this is not an array of objects")]
    [InlineData("", ":1:1: error: the file is ")]
    [InlineData("{\"survey\": {\"hives\": [{\"apiary\": \"A\"}]}}", "the file is one object, not a table; name the array in it: `at: \"survey.hives\"`")]
    [InlineData("[{\"apiary\": \"A\", \"season\": 1, \"honey_kg\": 1}", "the file is damaged")]
    public void What_is_wrong_is_told_by_line_and_column(string text, string expected) => Assert.Contains(expected, Wrong(text), StringComparison.Ordinal);

    [Fact]
    public void A_name_on_the_way_that_is_not_there_is_told() =>
        Assert.Contains("there is no `hive` in this object; did you mean `hives`?", Wrong("{\"hives\": []}", "hive"), StringComparison.Ordinal);

    [Fact]
    public void Columns_take_numbers_and_texts_for_what_they_are()
    {
        var columns = Json.Columns(folder.Write("a.json", """[{"n": 1, "code": "12", "ok": true}, {"n": null, "code": "13"}, {"n": 2.5, "code": null, "ok": false}]"""));
        Assert.Equal([1, double.NaN, 2.5], Assert.IsType<NumericVariable>(columns.Column("n")).Values);
        Assert.Equal(["12", "13"], Assert.IsType<FactorVariable>(columns.Column("code")).Levels);
        Assert.Equal([1, -1, 0], Assert.IsType<FactorVariable>(columns.Column("ok")).Codes);
        Assert.Contains("column `n` holds 2 numbers and one cell that is none: `2`", Assert.Throws<ReportException>(() => Json.Columns(folder.Write("b.json", """[{"n": 1}, {"n": "2"}, {"n": 3}]"""))).Message, StringComparison.Ordinal);
    }
}
