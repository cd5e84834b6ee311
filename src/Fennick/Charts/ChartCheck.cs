using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Charts;

/// <summary>Finds what a chart was told that comes to nothing.</summary>
internal static class ChartCheck
{
    // More points than this make a document slow in a word processor.
    private const int MostNativePoints = 5000;

    /// <summary>Whether a chart is drawn as a picture although charts are native: the word processor has none of its kind, or not for so many points.</summary>
    public static bool NeedsPicture(Chart chart) => chart.Layers.Any(l => l.Mark == ChartMark.Violins) || PointsOf(chart) > MostNativePoints;

    private static int PointsOf(Chart chart) => chart.Layers.Sum(l => l.Series.Sum(s => s.Points.Length));

    /// <summary>What a reader must know, and what names nothing in the chart.</summary>
    public static IEnumerable<Diagnostic> Find(Chart chart, Language language)
    {
        foreach (var remark in chart.Remarks) yield return remark;
        if (PointsOf(chart) > MostNativePoints) yield return Diagnostic.Warning(null, $"the chart has {ValueFormatter.Format(PointsOf(chart), "N0", Language.Default)} points, more than a word processor draws well; it is a picture", "show fewer points, or a summary such as `Chart.Boxes`");
        string Text(object? value) => ChartWords.Of(value, null, language);
        var names = chart.Layers.SelectMany(l => l.Series).SelectMany(s => s.Points.Select(p => p.At).Append(s.Name)).Where(n => n is not null and not "").Select(Text).ToHashSet();
        foreach (var highlighted in chart.Highlighted.Where(h => !names.Contains(Text(h)))) yield return Nothing(highlighted, "to highlight");
        foreach (var note in chart.Notes.Where(n => !names.Contains(Text(n.At)))) yield return Nothing(note.At, $"for the note \"{note.Words}\"");
        var isOfNames = !chart.Layers.SelectMany(l => l.Series).SelectMany(s => s.Points).All(p => BaseValue.IsNumber(p.At));
        foreach (var end in isOfNames ? chart.References.Where(r => r.IsAtBase).SelectMany(r => new[] { r.From, r.To }).OfType<object>().Where(e => !names.Contains(Text(e))) : []) yield return Nothing(end, "for a line or span");
        if (!chart.References.IsEmpty && chart.LiesOnSide == true && chart.Stacking != Stacking.None) yield return Diagnostic.Warning(null, "lines and spans are not drawn across stacked bars", "take columns, or bars beside each other");

        Diagnostic Nothing(object name, string what) => Diagnostic.Warning(null, $"the chart has no name or series \"{Text(name)}\" {what}", Nearest.Suggest(Text(name), names) ?? "write it as the chart shows it");
    }
}
