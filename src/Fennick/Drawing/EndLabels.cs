using Fennick.Charts;
using Fennick.Formatting;

namespace Fennick.Drawing;

/// <summary>The names of series at the ends of their lines.</summary>
internal sealed class EndLabels
{
    private const double Space = 8;
    private readonly List<(int Place, double Value)> ends = [];
    private readonly List<(int Place, double Value)> begins = [];
    private readonly ChartText text;

    public EndLabels(ChartPlan plan, ChartText text, Language language, ChartSeries[] series)
    {
        this.text = text;
        HasLeft = IsSlope(plan);
        var numbers = ChartNumbers.Of(plan.Chart.ValueAxis.Format, [.. series.SelectMany(s => s.Points).Select(p => p.Value).OfType<double>()], language);
        foreach (var one in series)
        {
            if (one.Points.LastOrDefault(p => p.Value is not null) is not { Value: { } last } end) continue;
            ends.Add((plan.PlaceOf(one), last));
            Width = Math.Max(Width, text.Width(HasLeft ? $"{plan.NameOf(one)} {numbers.Text(last, language)}" : plan.NameOf(one)) + Space);
            if (!HasLeft || one.Points[0].Value is not { } first) continue;
            begins.Add((plan.PlaceOf(one), first));
            Left = Math.Max(Left, text.Width(numbers.Text(first, language)) + Space);
        }
    }

    /// <summary>Whether lines run between two places and carry their values at both.</summary>
    public static bool IsSlope(ChartPlan plan) => plan.Chart.Labels == SeriesLabels.AtEnds && plan.Keys.Length == 2 && plan.Chart.Layers.All(l => l.Mark == ChartMark.Lines && l.HasPoints);

    /// <summary>Whether values stand at the beginnings too.</summary>
    public bool HasLeft { get; }

    /// <summary>The room that they need at the right.</summary>
    public double Width { get; }

    /// <summary>The room that they need at the left.</summary>
    public double Left { get; }

    /// <summary>Whether they stand near their ends in a plot of a height.</summary>
    public bool HaveRoom(double height)
    {
        if (ends.Count * text.Line > height) return false;
        var (low, high) = (ends.Min(e => e.Value), ends.Max(e => e.Value));
        if (high == low) return ends.Count == 1;
        var moved = Apart([.. ends.Select(e => (e.Place, (1 - ((e.Value - low) / (high - low))) * height * 0.6))], text.Line * 0.95, height);
        return moved.Values.All(d => Math.Abs(d) <= text.Line * 2);
    }

    /// <summary>How far each value at the beginnings is moved down.</summary>
    public IReadOnlyDictionary<int, double> PlacedLeft(Area plot, FittedValues values, double line) =>
        Apart([.. begins.Select(e => (e.Place, plot.Height * (1 - values.Share(e.Value))))], line * 0.95, plot.Height);

    /// <summary>How far each is moved down, so that none lies on another.</summary>
    public IReadOnlyDictionary<int, double> Placed(Area plot, FittedValues values, double line) =>
        Apart([.. ends.Select(e => (e.Place, plot.Height * (1 - values.Share(e.Value))))], line * 0.95, plot.Height);

    /// <summary>Moves places apart until they have a distance, each as little as may be.</summary>
    public static Dictionary<int, double> Apart((int Place, double At)[] places, double distance, double height)
    {
        var sorted = places.OrderBy(p => p.At).ToArray();
        // Groups of neighbours that touch are set around their mean.
        var groups = new List<(int First, int Count, double Middle)>();
        for (var i = 0; i < sorted.Length; i++)
        {
            groups.Add((i, 1, sorted[i].At));
            while (groups.Count > 1 && Top(groups[^1]) < Bottom(groups[^2]) + distance - 1e-9)
            {
                var (second, first) = (groups[^1], groups[^2]);
                groups.RemoveRange(groups.Count - 2, 2);
                groups.Add((first.First, first.Count + second.Count, ((first.Middle * first.Count) + (second.Middle * second.Count)) / (first.Count + second.Count)));
            }
        }
        var moved = new Dictionary<int, double>();
        foreach (var group in groups)
        {
            var top = Math.Clamp(Top(group), Math.Min(0, height), Math.Max(0, height - ((group.Count - 1) * distance)));
            for (var i = 0; i < group.Count; i++) moved[sorted[group.First + i].Place] = top + (i * distance) - sorted[group.First + i].At;
        }
        return moved;

        double Top((int First, int Count, double Middle) group) => group.Middle - ((group.Count - 1) * distance / 2);
        double Bottom((int First, int Count, double Middle) group) => group.Middle + ((group.Count - 1) * distance / 2);
    }
}
