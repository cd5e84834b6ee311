// Makes data/hives.csv and data/apiaries.csv of the Larkmere Hive Survey: dotnet run examples/survey/generate.cs
// Everything is made up. The same program always writes the same bytes: it has its own random numbers.
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text;

string[] valleys = ["Alderwick", "Bramble Down", "Coldbrook", "Dunmarsh", "Eskerdale", "Fernhollow"];
string[][] apiaries =
[
    ["Alder Bank", "Mill Orchard", "Quarry Edge", "Long Meadow", "Rook Wood", "Chapel Garth", "Stony Ford", "Hazel Copse"],
    ["Bramble Top", "Warren Side", "Beacon Field", "Sheep Walk", "Thorn Hedge", "Down Farm", "Chalk Pit", "Wether Fold"],
    ["Cold Spring", "Bridge End", "Weir House", "Otter Bend", "St Bride's Well", "Ash Holt", "Kiln Yard", "Trout Pool"],
    ["Marsh Gate", "Reed Bank", "Heron Stand", "Dyke End", "Peat Cutting", "Willow Carr", "Sluice Cottage", "North/South Field"],
    ["Esker Head", "Gravel Ridge", "Müller's Croft", "High Fell", "Juniper Scar", "Tarn Side", "Drovers Rest", "Wind Gap"],
    ["Fern Hollow", "Moss Bank", "Badger Sett", "Oak Hanger", "Charcoal Glade", "Deer Leap", "Foxglove Ride", "Spindle Lane"],
];
string[] accents = ["#6B4E8E", "#2B6E5E", "#1F6287", "#8C4A2F", "#4E6B1F", "#7B3F61"];
double[] valleyEffects = [0.8, 0.3, -0.4, -6.5, 0.2, 1.1];
double[] springOffsets = [0.4, 0.1, -0.6, 0.0, -0.9, 0.7];
double[] seasonTemperatures = [9.1, 10.4, 9.6, 10.9, 10.2];
double[] strainEffects = [0.0, 2.4, -1.6];
string[] strains = ["Amber", "Dusk", "Heath"];

var random = new Random64(20251103);
var hives = new StringBuilder("season,valley,apiary,hive,strain,queen_age,forage_ha,spring_temp,mites,treated,honey_kg,survived\n");
var roster = new StringBuilder("apiary,valley,hives,altitude_m,accent,since\n");
for (var v = 0; v < valleys.Length; v++)
{
    for (var a = 0; a < apiaries[v].Length; a++)
    {
        var name = apiaries[v][a];
        var count = name == "Wind Gap" ? 2 : 9 + random.Below(9);
        var altitude = (v == 4 ? 240 : 60) + random.Below(180);
        var since = 1998 + random.Below(23);
        roster.Append(CultureInfo.InvariantCulture, $"{name},{valleys[v]},{count},{altitude},{accents[v]},{since}\n");
        var apiaryForage = 14 + (30 * random.Unit());
        var apiaryEffect = 1.1 * random.Normal();
        for (var season = 2021; season <= 2025; season++)
        {
            if (season == 2025 && name == "Otter Bend") continue;
            var temperature = seasonTemperatures[season - 2021] + springOffsets[v] - (0.004 * (altitude - 100));
            for (var hive = 1; hive <= count; hive++)
            {
                var strain = Pick(random.Unit(), v);
                var queenAge = 1 + random.Below(4);
                var forage = Math.Max(3, apiaryForage + (4 * random.Normal()));
                var springTemp = temperature + (0.3 * random.Normal());
                var treated = random.Unit() < 0.62;
                var mites = random.Poisson(Math.Exp(1.0 + (0.12 * (queenAge - 1)) - (treated ? 0.55 : 0) + (strain == 2 ? 0.25 : 0)));
                var honey = 6 + (6.2 * Math.Log(forage)) + (0.95 * (springTemp - 10)) - (0.62 * mites) + strainEffects[strain]
                    + valleyEffects[v] + apiaryEffect + (3.1 * random.Normal());
                var survival = 1 / (1 + Math.Exp(-(2.6 - (0.22 * mites) - (0.38 * (queenAge - 1)) + (treated ? 0.7 : 0))));
                var survived = random.Unit() < survival ? 1 : 0;
                string Cell(double value, string format, double missing) =>
                    random.Unit() < missing ? "" : value.ToString(format, CultureInfo.InvariantCulture);
                hives.Append(CultureInfo.InvariantCulture, $"{season},{valleys[v]},{name},{hive},{strains[strain]},{queenAge},{Cell(forage, "0.0", 0)},{Cell(springTemp, "0.0", 0.01)},{Cell(mites, "0", 0.03)},{(treated ? "yes" : "no")},{Cell(Math.Max(0, honey), "0.0", 0.02)},{survived}\n");
            }
        }
    }
}
var data = Path.Combine(Here(), "data");
Directory.CreateDirectory(data);
File.WriteAllText(Path.Combine(data, "hives.csv"), hives.ToString());
File.WriteAllText(Path.Combine(data, "apiaries.csv"), roster.ToString());
Console.WriteLine($"{hives.ToString().Count(c => c == '\n') - 1} rows in {Path.Combine(data, "hives.csv")}");

static int Pick(double u, int valley) => u < 0.5 - (0.04 * valley) ? 0 : u < 0.8 - (0.02 * valley) ? 1 : 2;

static string Here([CallerFilePath] string file = "") => Path.GetDirectoryName(file)!;

/// <summary>SplitMix64: small, and the same on every machine.</summary>
internal sealed class Random64(ulong seed)
{
    private ulong state = seed;

    public double Unit() => (Next() >> 11) * (1.0 / (1UL << 53));

    public int Below(int bound) => (int)(Unit() * bound);

    public double Normal() => Math.Sqrt(-2 * Math.Log(1 - Unit())) * Math.Cos(2 * Math.PI * Unit());

    public int Poisson(double mean)
    {
        var limit = Math.Exp(-mean);
        var product = Unit();
        var count = 0;
        for (; product > limit; count++) product *= Unit();
        return count;
    }

    private ulong Next()
    {
        state += 0x9E3779B97F4A7C15;
        var z = state;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
        return z ^ (z >> 31);
    }
}
