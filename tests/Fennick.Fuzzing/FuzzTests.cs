using System.Text;
using Fennick.Batches;
using Fennick.Charts;
using Fennick.Citations;
using Fennick.Data;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Mathematics;
using Fennick.Pictures;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Fuzzing;

/// <summary>Whatever comes in, it works or is refused in words; and what comes out is a sound document that has lost no character.</summary>
public sealed class FuzzTests : IDisposable
{
    private static readonly byte[] Dot = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==");
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private string Write(byte[] bytes, string name)
    {
        File.WriteAllBytes(folder.File(name), bytes);
        return folder.File(name);
    }

    [Fact]
    public void Values_of_all_planes_come_out_as_they_went_in()
    {
        var random = Fuzz.Random(1);
        for (var i = 0; i < Fuzz.Tries(60); i++)
        {
            var (words, cell, name) = (Fuzz.Text(random), Fuzz.Text(random), Fuzz.Text(random, 8));
            Fuzz.IsDone($"values of try {i}", () =>
            {
                var report = new Report($"{words}") { Authors = [name] }.Text($"a{words}b").Add(Table.WithHeads("x", name).Row(cell, 1), caption: $"{cell}").Add(Chart.Columns([1, 2], v => $"{words}{v}", v => v).Axes(words, name));
                report.Save(folder.File("values.docx"));
                var docx = WordClean.Check(folder.File("values.docx"));
                Assert.Contains(Visible("a" + words + "b"), Visible(docx.AllText), StringComparison.Ordinal);
                Assert.Contains(Visible(cell), Visible(docx.AllText), StringComparison.Ordinal);
            });
        }
    }

    /// <summary>A text without the characters that no document can hold (XML 1.0, §2.2), and with one kind of space.</summary>
    private static string Visible(string text)
    {
        var visible = new StringBuilder();
        foreach (var rune in text.EnumerateRunes())
            if (!Rune.IsWhiteSpace(rune) && !Rune.IsControl(rune) && rune.Value is not (0xFFFD or 0xFFFE or 0xFFFF or 0xFEFF or 0x2011)) visible.Append(rune.ToString());
        return visible.ToString();
    }

    [Fact]
    public void Formats_are_carried_out_or_refused()
    {
        var random = Fuzz.Random(2);
        object?[] values = [1, -3, 0.0, double.NaN, double.PositiveInfinity, -1e300, 12345.678m, decimal.MaxValue, System.Numerics.BigInteger.Pow(10, 60), "text", true, new DateOnly(1, 1, 1), new DateTime(9999, 12, 31, 23, 59, 59), new TimeSpan(400, 1, 2, 3), new[] { 1, 2 }, null, DayOfWeek.Friday, (1.0, 2.0), 'x', new object()];
        string[] languages = ["en-GB", "de", "ar-SA", "th-TH", "fa-IR", "he-IL", "ja-JP"];
        for (var i = 0; i < Fuzz.Tries(1500); i++)
        {
            var (format, value) = (i % 2 == 0 ? Fuzz.Piece(random) : Fuzz.Text(random, 5), values[random.Next(values.Length)]);
            var language = Fennick.Formatting.Language.Find(languages[random.Next(languages.Length)])!;
            Fuzz.IsDone($"`{format}` of {value} in {language.Tag}", () => Formatted(value, format, language));
            Fuzz.IsDone($"{value} in {language.Tag}", () => Formatted(value, "", language));
            Fuzz.IsDone($"chart `{format}`", () => _ = Chart.Columns([1.5, -2], v => "c", v => v).Format(format));
        }

        static string Formatted(object? value, string format, Fennick.Formatting.Language language)
        {
            try
            {
                return Fennick.Formatting.ValueFormatter.Format(value, format.Length == 0 ? null : format, language);
            }
            catch (Fennick.Formatting.ValueFormatException problem)
            {
                throw new ReportException(Diagnostic.Error(null, problem.Message));
            }
        }
    }

    [Fact]
    public void Manuscripts_and_settings_are_read_or_refused()
    {
        var random = Fuzz.Random(3);
        var sound = File.ReadAllBytes(Repository.PathOf("examples", "survey", "apiary.ms.md"));
        for (var i = 0; i < Fuzz.Tries(150); i++)
        {
            var path = Write(i % 2 == 0 ? Fuzz.Mutate(sound, random) : Encoding.UTF8.GetBytes((i % 4 == 1 ? $"```manuscript\n{Fuzz.Text(random)}: {Fuzz.Text(random)}\npage.{Fuzz.Text(random, 3)}: {Fuzz.Text(random)}\n```\n\n" : "") + Fuzz.Text(random, 200)), "fuzzed.ms.md");
            Fuzz.IsDone($"manuscript {i}: {Convert.ToBase64String(File.ReadAllBytes(path))}", () => Manuscript.Open(path));
        }
    }

    [Fact]
    public void Formulas_and_sources_are_read_or_refused()
    {
        var random = Fuzz.Random(4);
        var (bib, json) = (File.ReadAllBytes(Repository.PathOf("examples", "survey", "sources.bib")), "[{\"id\":\"a\",\"type\":\"book\",\"title\":\"Bees\",\"author\":[{\"family\":\"Ash\",\"given\":\"Ann\"}],\"issued\":{\"date-parts\":[[2020,1,2]]}}]"u8.ToArray());
        for (var i = 0; i < Fuzz.Tries(400); i++)
        {
            var tex = Fuzz.Text(random, 20);
            Fuzz.IsDone($"formula {tex}", () => Formula.Of(tex));
            Fuzz.IsDone($"bibliography {i}", () => WorkList.Read(Write(Fuzz.Mutate(bib, random), "x.bib")));
            Fuzz.IsDone($"bibliography {i}", () => WorkList.Read(Write(Fuzz.Mutate(json, random), "x.json")));
        }
    }

    private sealed record Row(string Apiary, double? Honey, int Hives, DateOnly? Seen = null);

    [Fact]
    public void Data_and_rosters_are_read_or_refused()
    {
        var random = Fuzz.Random(5);
        var (csv, json) = ("apiary,honey,hives,seen\nAlder Bank,24.5,16,2025-04-01\n\"Mill, \"\"Old\"\"\",NA,3,\nRook Wood,1e3,12,2025-05-01\n"u8.ToArray(), "[{\"apiary\":\"Alder Bank\",\"hives\":16},{\"apiary\":\"Mill\",\"hives\":null,\"open\":true}]"u8.ToArray());
        for (var i = 0; i < Fuzz.Tries(600); i++)
        {
            Fuzz.IsDone($"data {i}", () => Csv.Read<Row>(Write(Fuzz.Mutate(csv, random), "x.csv"), i % 5 == 0 ? "windows-1252" : null));
            Fuzz.IsDone($"roster {i}", () => Roster.Read(Write(Fuzz.Mutate(csv, random), "y.csv")));
            Fuzz.IsDone($"roster {i}", () => Roster.Read(Write(Fuzz.Mutate(json, random), "y.json")));
        }
    }

    [Fact]
    public void Batches_go_on_whatever_their_ledgers_and_units_say()
    {
        var random = Fuzz.Random(6);
        var ledger = "{\"ledger\":1,\"event\":\"batch\",\"at\":\"2025-11-28T10:00:00Z\",\"units\":[\"a.docx\"]}\n{\"event\":\"done\",\"at\":\"2025-11-28T10:00:01Z\",\"unit\":\"a.docx\",\"manuscript\":\"x\",\"data\":{\"../x.csv\":\"1\"},\"output\":\"2\",\"seconds\":0.1}\n"u8.ToArray();
        for (var i = 0; i < Fuzz.Tries(40); i++)
        {
            var into = folder.File($"batch{i}");
            Directory.CreateDirectory(into);
            File.WriteAllBytes(Path.Combine(into, "ledger.jsonl"), Fuzz.Mutate(ledger, random));
            string[] names = [.. Enumerable.Range(0, 3).Select(n => Fuzz.Text(random, 6) + n)];
            Fuzz.IsDone($"batch {i}", () =>
            {
                var result = Batch.Of(Roster.Of(names.Select(n => new { Name = n })), unit => new Report($"{unit["Name"]}").Text($"{unit["Name"]}")).Run(into);
                Assert.All(result.Outcomes, o => Assert.True(o.State == UnitState.Made, $"{System.Text.Json.JsonSerializer.Serialize(o.Unit["Name"])} {o.Error}"));
                foreach (var made in Directory.GetFiles(into, "*.docx")) WordClean.Check(made);
                Assert.Empty(Directory.GetFiles(folder.Path, "*.docx"));
            });
            Fuzz.IsDone($"gathering {i}", () => Gathering.Gather([into]));
        }
    }

    [Fact]
    public void Pictures_are_read_or_refused()
    {
        var random = Fuzz.Random(7);
        var svg = File.ReadAllBytes(Repository.PathOf("examples", "survey", "house", "lark.svg"));
        byte[] jpeg = [0xFF, 0xD8, 0xFF, 0xE0, 0, 16, .. "JFIF\0"u8, 1, 2, 1, 0, 96, 0, 96, 0, 0, 0xFF, 0xE1, 0, 34, .. "Exif\0\0"u8, .. "MM\0*"u8, 0, 0, 0, 8, 0, 1, 1, 0x12, 0, 3, 0, 0, 0, 1, 0, 6, 0, 0, 0, 0, 0, 0, 0xFF, 0xC0, 0, 17, 8, 0, 100, 0, 200, 3, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0xFF, 0xDA, 0, 4, 0, 0, 1, 2, 3, 0xFF, 0xD9];
        for (var i = 0; i < Fuzz.Tries(600); i++)
        {
            Fuzz.IsDone($"png {i}", () => _ = Picture.Of(Fuzz.Mutate(Dot, random)));
            Fuzz.IsDone($"jpeg {i}", () => _ = Picture.Of(Fuzz.Mutate(jpeg, random)));
            Fuzz.IsDone($"svg {i}", () => _ = Picture.Read(Write(Fuzz.Mutate(svg, random), "x.svg"), Fennick.Plots.PictureTools.Instance));
        }
    }
}
