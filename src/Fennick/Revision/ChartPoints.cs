using System.Globalization;
using System.Text;
using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>What a chart draws (ECMA-376 Part 1, §21.2): its points by series and category, and the words in it.</summary>
internal static class ChartPoints
{
    private static readonly string[] Numbers = ["val", "yVal", "xVal", "bubbleSize"];
    private static readonly string[] Bars = ["plus", "minus"];

    /// <summary>A number that is drawn.</summary>
    /// <param name="Name">Its series and category, in words.</param>
    /// <param name="Value">It; NaN if it is none.</param>
    public readonly record struct Point(string Name, double Value);

    /// <summary>The numbers, in the order of the series.</summary>
    public static IReadOnlyList<Point> Of(XElement chart)
    {
        var points = new List<Point>();
        XElement[] all = [.. ChartData.SeriesOf(chart)];
        foreach (var (n, series) in all.Index())
        {
            var name = TextOf(series.Element(C + "tx")) is { Length: > 0 } text ? text : all.Length == 1 ? "" : string.Create(CultureInfo.InvariantCulture, $"series {n + 1}");
            var categories = ValuesOf(series.Element(C + "cat"));
            foreach (var kind in Numbers)
                foreach (var (index, value) in ValuesOf(series.Element(C + kind))) points.Add(Named(name, categories, index, kind is "xVal" or "bubbleSize" ? kind == "xVal" ? "x" : "size" : "", value));
            foreach (var kind in Bars)
                foreach (var (index, value) in series.Elements(C + "errBars").SelectMany(b => ValuesOf(b.Element(C + kind)))) points.Add(Named(name, categories, index, kind == "plus" ? "upper end" : "lower end", value));
        }
        return points;
    }

    private static Point Named(string series, IReadOnlyDictionary<int, string> categories, int index, string kind, string value)
    {
        var category = categories.GetValueOrDefault(index) ?? string.Create(CultureInfo.InvariantCulture, $"point {index + 1}");
        var name = string.Join(", ", new[] { series, category }.Where(t => t.Length > 0).Select(t => $"“{t}”").Append(kind).Where(t => t.Length > 0));
        return new Point(name, double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) ? number : double.NaN);
    }

    /// <summary>The titles of a chart and of its axes.</summary>
    public static string WordsOf(XElement chart) => string.Join('\n', chart.Descendants(C + "title").Select(TextOf));

    /// <summary>By what it is known whether a chart says something else.</summary>
    public static string SignatureOf(XElement chart)
    {
        var text = new StringBuilder(WordsOf(chart));
        foreach (var point in Of(chart)) text.Append(CultureInfo.InvariantCulture, $"\n{point.Name}={point.Value:R}");
        return Records.RecordedCell.Hash(text.ToString());
    }

    private static string TextOf(XElement? element) => element is null ? "" : string.Concat(element.Descendants().Where(e => e.Name == A + "t" || e.Name == C + "v").Select(e => e.Value)).Trim();

    private static Dictionary<int, string> ValuesOf(XElement? data)
    {
        var values = new Dictionary<int, string>();
        // Of categories in levels the innermost comes first.
        var from = data?.Descendants(C + "lvl").FirstOrDefault() ?? data;
        foreach (var point in from?.Descendants(C + "pt") ?? [])
            if (NumberIn(point.Attribute("idx")) is { } index) values.TryAdd(index, point.Element(C + "v")?.Value ?? "");
        return values;
    }
}
