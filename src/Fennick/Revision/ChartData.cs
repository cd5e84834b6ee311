using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>Exchanges the data of a chart that people have edited (ECMA-376 Part 1, §21.2): names, categories and numbers are new, colours, titles and sizes stay.</summary>
/// <param name="theirs">Their chart.</param>
/// <param name="fresh">What it would be now.</param>
internal sealed class ChartData(XElement theirs, XElement fresh)
{
    private static readonly string[] Data = ["tx", "cat", "val", "xVal", "yVal", "bubbleSize"];

    /// <summary>Exchanges them; false if the chart has other series now.</summary>
    public bool Exchange()
    {
        XElement[] series = [.. SeriesOf(theirs)];
        XElement[] next = [.. SeriesOf(fresh)];
        if (series.Length != next.Length || series.Length == 0) return false;
        for (var i = 0; i < series.Length; i++)
            if (KindOf(series[i]) != KindOf(next[i]) || Data.Any(d => (series[i].Element(C + d) is null) != (next[i].Element(C + d) is null) && d != "tx")) return false;
        for (var i = 0; i < series.Length; i++)
        {
            foreach (var name in Data) Exchange(series[i].Element(C + name), next[i].Element(C + name));
            foreach (var (bars, now) in series[i].Elements(C + "errBars").Zip(next[i].Elements(C + "errBars")))
            {
                Exchange(bars.Element(C + "plus"), now.Element(C + "plus"));
                Exchange(bars.Element(C + "minus"), now.Element(C + "minus"));
            }
        }
        return true;
    }

    /// <summary>The series of a chart, in their order.</summary>
    public static IEnumerable<XElement> SeriesOf(XElement chart) => chart.Descendants(C + "ser").OrderBy(s => NumberIn(s.Element(C + "order")?.Attribute("val")) ?? 0);

    private static string KindOf(XElement series) => series.Parent!.Name.LocalName;

    private static void Exchange(XElement? data, XElement? now)
    {
        if (data is null || now is null) return;
        data.RemoveNodes();
        data.Add(now.Elements().Select(e => new XElement(e)));
    }
}
