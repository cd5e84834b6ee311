using System.Globalization;
using System.Text.Json;
using Xunit;

namespace Fennick.Statistics.Tests;

/// <summary>A row of the reference survey.</summary>
public sealed record Hive(string Apiary, string Strain, double ForageHa, double SpringTemp, double Mites, int QueenAge, bool Treated, double HoneyKg, int Survived, double Weight);

/// <summary>The reference data, and what an independent implementation computes from them.</summary>
public static class Survey
{
    private static readonly JsonElement Expected = JsonDocument.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Reference", "survey.expected.json"))).RootElement;

    public static IReadOnlyList<Hive> Hives { get; } = [.. File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Reference", "survey.csv")).Skip(1).Select(Read)];

    public static JsonElement Value(string path) => path.Split('/').Aggregate(Expected, (element, name) => element.GetProperty(name));

    public static double Number(string path) => Value(path).GetDouble();

    /// <summary>Asserts agreement to a number of significant digits.</summary>
    public static void AssertDigits(double expected, double actual, int digits, string what)
    {
        var error = Math.Abs(actual - expected) / (expected == 0 ? 1 : Math.Abs(expected));
        Assert.True(error <= Math.Pow(10, -digits), $"{what}: expected {expected:R}, got {actual:R}, which agrees to {-Math.Log10(error):0.0} digits, not {digits}");
    }

    private static Hive Read(string line)
    {
        var cells = line.Split(',');
        double Number(int i) => double.Parse(cells[i], CultureInfo.InvariantCulture);
        return new Hive(cells[0], cells[1], Number(2), Number(3), Number(4), (int)Number(5), cells[6] == "yes", Number(7), (int)Number(8), Number(9));
    }
}
