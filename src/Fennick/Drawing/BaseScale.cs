using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Formatting;

namespace Fennick.Drawing;

/// <summary>The scale of names, dates or numbers by which values are compared.</summary>
internal sealed class BaseScale(ChartPlan plan, ChartText text, ChartAxis axis)
{
    private const double Space = 6;
    private const int MostLines = 3;
    private static readonly (int Count, DateUnit Unit)[] DateSteps =
    [
        (1, DateUnit.Days), (2, DateUnit.Days), (7, DateUnit.Days), (14, DateUnit.Days), (1, DateUnit.Months), (2, DateUnit.Months), (3, DateUnit.Months), (6, DateUnit.Months),
        (1, DateUnit.Years), (2, DateUnit.Years), (5, DateUnit.Years), (10, DateUnit.Years), (20, DateUnit.Years), (50, DateUnit.Years), (100, DateUnit.Years), (200, DateUnit.Years), (500, DateUnit.Years),
    ];

    /// <summary>The axis in a width; for names down the side the width that they may have.</summary>
    public FittedBase Fit(double width, bool isOnSide)
    {
        if (isOnSide) return FitSide(width);
        return plan.IsOfDates ? FitDates(width) : plan.IsOfNumbers ? FitNumbers(width) : FitNames(width);
    }

    private FittedBase FitSide(double width)
    {
        var lines = plan.Names.Select(n => text.Lines(n, width)).ToArray();
        return new FittedBase(AxisKind.Names, 0.5, plan.Names.Length + 0.5, 1) { WidthOfNames = lines.SelectMany(l => l).Select(text.Width).DefaultIfEmpty(0).Max(), Wrapped = [.. lines.Select(l => string.Join('\n', l))] };
    }

    private FittedBase FitNames(double width)
    {
        var count = Math.Max(1, plan.Names.Length);
        // Lines begin and end at the edges, and so do the places of their names.
        var isMidway = plan.Form == ChartForm.Names && plan.Chart.Layers.All(l => l.Mark != ChartMark.Columns) && count > 1;
        var room = (width / (isMidway ? count - 1 : count)) - 4;
        var each = 1;
        // Numbers and the edges of bins may be left out here and there; names may not.
        if (plan.Keys.All(k => k is Bin || BaseValue.IsNumber(k)))
        {
            var widest = plan.Names.Select(text.Width).DefaultIfEmpty(0).Max();
            while (each < count && widest > (room + 4) * each - 4) each++;
        }
        var lines = plan.Names.Select(n => each > 1 ? [n] : text.Lines(n, Math.Max(room, text.WidestWord(n)))).ToArray();
        return new FittedBase(AxisKind.Names, 0.5, count + 0.5, 1)
        {
            Lines = Math.Clamp(lines.Max(l => l.Count), 1, MostLines + 3),
            LabelEach = each,
            Wrapped = [.. lines.Select(l => string.Join('\n', l))],
            HasLabels = plan.Names.Any(n => n.Length > 0),
            OverhangsLeft = isMidway ? lines[0].Max(text.Width) / 2 : 0,
            OverhangsRight = isMidway ? lines[^1].Max(text.Width) / 2 : plan.Keys[^1] is Bin ? text.Width(plan.Names[^1]) / 4 : 0,
        };
    }

    /// <summary>All places along the base as numbers, those of lines and spans too.</summary>
    private double[] Places() => [.. plan.Keys.Select(BaseValue.Number), .. plan.Chart.References.Where(r => r.IsAtBase).SelectMany(r => new[] { r.From, r.To }).OfType<object>().Select(BaseValue.Number)];

    private FittedBase FitNumbers(double width)
    {
        var numbers = Places();
        var (low, high) = (Math.Min(numbers.Min(), axis.Reaches?.Low ?? numbers[0]), Math.Max(numbers.Max(), axis.Reaches?.High ?? numbers[0]));
        var most = 8;
        while (true)
        {
            if (axis.IsLogarithmic) return Logarithm(low, high);
            var ticks = Ticks.Of(low, high, most, axis);
            var (format, code) = ChartNumbers.OfTicks(axis.Format ?? (numbers.All(n => n is >= 1000 and < 3000 && n == Math.Truncate(n)) ? "0" : null), ticks, plan.Language);
            var words = ticks.Numbers.Select(n => (n, ValueFormatter.Format(n, format, plan.Language))).ToImmutableArray();
            if (most == 1 || words.Max(w => text.Width(w.Item2)) + Space <= width / Math.Max(1, words.Length - 1)) return new FittedBase(AxisKind.Numbers, ticks.Minimum, ticks.Maximum, ticks.Step) { Words = words, Code = code, OverhangsRight = text.Width(words[^1].Item2) / 2, OverhangsLeft = text.Width(words[0].Item2) / 2 };
            most--;
        }
    }

    private FittedBase Logarithm(double low, double high)
    {
        var root = high / low <= 60 ? 2 : 10;
        var (first, last) = ((int)Math.Floor(Math.Log(low, root) + 1e-9), (int)Math.Ceiling(Math.Log(high, root) - 1e-9));
        if (first == last) last++;
        var words = Enumerable.Range(first, last - first + 1).Select(p => Math.Pow(root, p)).Select(n => (n, ValueFormatter.Format(n, axis.Format ?? "0.########", plan.Language))).ToImmutableArray();
        return new FittedBase(AxisKind.Numbers, words[0].n, words[^1].n, 1) { LogBase = root, Words = words, OverhangsRight = text.Width(words[^1].Item2) / 2 };
    }

    private FittedBase FitDates(double width)
    {
        var days = Places();
        var (first, last) = (BaseValue.Date(axis.Minimum ?? days.Min()), BaseValue.Date(axis.Maximum ?? days.Max()));
        var dates = plan.Keys.Select(k => BaseValue.Date(BaseValue.Number(k))).ToArray();
        var unit = dates.All(d => d is { Day: 1, Month: 1 }) ? DateUnit.Years : dates.All(d => d.Day == 1) ? DateUnit.Months : DateUnit.Days;
        foreach (var step in DateSteps)
        {
            if (step.Unit < unit) continue;
            var start = Floor(first, step);
            if (first.DayNumber - start.DayNumber > (last.DayNumber - first.DayNumber) * 0.12) start = first;
            var ticks = new List<DateOnly>();
            for (var at = start; at <= last && ticks.Count < 200; at = Next(at, step)) ticks.Add(at);
            var pattern = axis.Format ?? (step.Unit == DateUnit.Years ? "yyyy" : step.Unit == DateUnit.Months ? "MMM yyyy" : "d MMM");
            var words = ticks.Select(t => (BaseValue.Number(t), ValueFormatter.Format(t, pattern, plan.Language))).ToImmutableArray();
            if (words.Length < 200 && (words.Length == 1 || words.Max(w => text.Width(w.Item2)) + Space <= width / ((last.DayNumber - start.DayNumber) / Math.Max(1.0, (ticks[^1].DayNumber - start.DayNumber) / (double)(words.Length - 1)))))
            {
                return new FittedBase(AxisKind.Dates, BaseValue.Number(start), Math.Max(BaseValue.Number(last), BaseValue.Number(start) + 1), step.Count)
                {
                    Words = words,
                    Code = DateCode.Of(pattern, plan.Language.Culture),
                    BaseUnit = unit,
                    Each = step,
                    OverhangsRight = last == ticks[^1] ? text.Width(words[^1].Item2) / 2 : 4,
                    OverhangsLeft = text.Width(words[0].Item2) / 2,
                };
            }
        }
        throw Chart.Refused("the dates of a chart span more than can be drawn", "check them");
    }

    private static DateOnly Floor(DateOnly date, (int Count, DateUnit Unit) step) => step.Unit switch
    {
        DateUnit.Years => new DateOnly(Math.Max(1, date.Year / step.Count * step.Count), 1, 1),
        DateUnit.Months => new DateOnly(date.Year, ((date.Month - 1) / step.Count * step.Count) + 1, 1),
        _ => date,
    };

    private static DateOnly Next(DateOnly date, (int Count, DateUnit Unit) step) =>
        step.Unit switch { DateUnit.Years => date.AddYears(step.Count), DateUnit.Months => date.AddMonths(step.Count), _ => date.AddDays(step.Count) };
}

/// <summary>An axis of names, dates or numbers with its ticks.</summary>
internal sealed record FittedBase(AxisKind Kind, double Minimum, double Maximum, double Step)
{
    public ImmutableArray<(double At, string Words)> Words { get; init; } = [];

    /// <summary>The names with their line breaks.</summary>
    public ImmutableArray<string> Wrapped { get; init; } = [];

    public string Code { get; init; } = NumberCode.General;

    public int? LogBase { get; init; }

    public DateUnit BaseUnit { get; init; }

    public (int Count, DateUnit Unit) Each { get; init; } = (1, DateUnit.Days);

    /// <summary>How many lines names below take.</summary>
    public int Lines { get; init; } = 1;

    /// <summary>Every how many names one is shown.</summary>
    public int LabelEach { get; init; } = 1;

    public bool HasLabels { get; init; } = true;

    /// <summary>The width of names down the side.</summary>
    public double WidthOfNames { get; init; }

    /// <summary>How far the first words stand out to the left.</summary>
    public double OverhangsLeft { get; init; }

    /// <summary>How far the last words stand out to the right.</summary>
    public double OverhangsRight { get; init; }
}
