using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Testing;
using Parquet.Serialization;
using Xunit;

namespace Fennick.Data.Tests;

public sealed class ParquetTests : IDisposable
{
    private readonly TestFolder folder = new();

    private sealed class Written
    {
        public string Apiary { get; set; } = "";

        public int Season { get; set; }

        public double? HoneyKg { get; set; }

        public bool Treated { get; set; }

        public DateTime? Seen { get; set; }

        public decimal Price { get; set; }

        public long Bees { get; set; }

        public List<int> Frames { get; set; } = [];
    }

    private sealed record Hive(string Apiary, int Season, double? HoneyKg, bool Treated, DateTime? Seen, decimal Price, long Bees);

    private sealed record WithFrames(string Apiary, int Frames);

    public void Dispose() => folder.Dispose();

    private async Task<string> WriteAsync(int count)
    {
        var path = folder.File("hives.parquet");
        File.Delete(path);
        await ParquetSerializer.SerializeAsync(Enumerable.Range(0, count).Select(i => new Written { Apiary = $"A{i % 3}", Season = 2020 + (i % 5), HoneyKg = i % 4 == 0 ? null : i / 8.0, Treated = i % 2 == 0, Seen = i % 5 == 0 ? null : new DateTime(2025, 1, 1).AddHours(i), Price = i * 0.01m, Bees = 10_000_000_000L + i, Frames = [1, 2] }), path, new Parquet.ParquetOptions { RowGroupSize = 1000 });
        return path;
    }

    private static string Wrong(Action read) => Assert.Throws<ReportException>(read).Message;

    [Fact]
    public async Task Rows_fill_records_across_groups()
    {
        var read = ParquetFile.Read<Hive>(await WriteAsync(5000));
        Assert.Equal(5000, read.Count);
        Assert.Equal(new Hive("A0", 2020, null, true, null, 0, 10_000_000_000), read[0]);
        Assert.Equal(new Hive("A1", 2024, 4999 / 8.0, false, new DateTime(2025, 1, 1).AddHours(4999), 49.99m, 10_000_004_999), read[4999]);
        var columns = ParquetFile.Columns(await WriteAsync(10));
        Assert.Equal([double.NaN, 0.125, 0.25, 0.375, double.NaN, 0.625, 0.75, 0.875, double.NaN, 1.125], Assert.IsType<NumericVariable>(columns.Column("HoneyKg")).Values);
        Assert.Equal(["A0", "A1", "A2"], Assert.IsType<FactorVariable>(columns.Column("Apiary")).Levels);
    }

    private sealed record Strict(double HoneyKg);

    [Fact]
    public async Task What_is_wrong_is_told_by_column_and_row()
    {
        var path = await WriteAsync(3000);
        Assert.StartsWith($"{path}, row 1: error: an empty cell in column `HoneyKg`, and so are 749 cells more: {path}, row 5, {path}, row 9, …", Wrong(() => ParquetFile.Read<Strict>(path)), StringComparison.Ordinal);
        Assert.Contains("there is no column for `Frames`", Wrong(() => ParquetFile.Read<WithFrames>(path)), StringComparison.Ordinal);
        folder.Write("hives.parquet", "PAR1 but not really");
        Assert.Contains("this is no Parquet file, or a damaged one", Wrong(() => ParquetFile.Read<Hive>(path)), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Damage_is_an_error_in_words_never_another()
    {
        var bytes = File.ReadAllBytes(await WriteAsync(50));
        var random = new Random(7);
        for (var i = 0; i < 100; i++)
        {
            var damaged = bytes.ToArray();
            if (i % 3 == 0) damaged = damaged[..random.Next(damaged.Length)];
            else for (var n = 0; n < 1 + (i % 8); n++) damaged[random.Next(damaged.Length)] = (byte)random.Next(256);
            var path = folder.File("d.parquet");
            File.WriteAllBytes(path, damaged);
            try
            {
                _ = ParquetFile.Read<Hive>(path);
            }
            catch (ReportException problem)
            {
                Assert.Contains("d.parquet", problem.Message, StringComparison.Ordinal);
            }
        }
    }
}
