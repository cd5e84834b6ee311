using System.Globalization;
using System.Text.Json;

namespace Fennick.Statistics.Tests;

/// <summary>A row of the reference panel: an apiary in a season.</summary>
public sealed record Season(string Apiary, int Year, string Strain, string Treated, double SpringTemp, double ForageHa, int QueenAge, double Feed, double Z1, double Z2, double HoneyKg, double Weeks, int Died, int Grade, string Use, int Mites, int Lost);

/// <summary>The reference panel, and what an independent implementation computes from it.</summary>
public static class Seasons
{
    private static readonly JsonElement Expected = JsonDocument.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Reference", "seasons.expected.json")).Replace("NaN", "null", StringComparison.Ordinal)).RootElement;

    public static IReadOnlyList<Season> All { get; } = [.. File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Reference", "seasons.csv")).Skip(1).Select(Read)];

    public static JsonElement Value(string path) => path.Split('/').Aggregate(Expected, (element, name) => element.GetProperty(name));

    public static double Number(string path) => Value(path).GetDouble();

    public static double[] Numbers(string path) => [.. Value(path).EnumerateArray().Select(v => v.GetDouble())];

    /// <summary>The name of a term as it is here.</summary>
    public static string OwnName(string name) => name switch
    {
        "Intercept" or "const" => "intercept",
        "C(strain)[T.Dusk]" or "Dusk" => "Strain=Dusk",
        "C(strain)[T.Heath]" or "Heath" => "Strain=Heath",
        "treated_yes" => "Treated=yes",
        "queen_age" => "QueenAge",
        "spring_temp" => "SpringTemp",
        "forage_ha" => "ForageHa",
        "feed" => "Feed",
        _ => name,
    };

    private static Season Read(string line)
    {
        var cells = line.Split(',');
        double Number(int i) => double.Parse(cells[i], CultureInfo.InvariantCulture);
        return new Season(cells[0], (int)Number(1), cells[2], cells[3], Number(4), Number(5), (int)Number(6), Number(7), Number(8), Number(9), Number(10), Number(11), (int)Number(12), (int)Number(13), cells[14], (int)Number(15), (int)Number(16));
    }
}
