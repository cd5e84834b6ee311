using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Manuscripts.Running;
using Fennick.Running;

namespace Fennick.Manuscripts;

/// <summary>Named formats that a manuscript brings itself.</summary>
public static class Formats
{
    /// <summary>
    /// Makes a named format known from here on, to braces, tables and charts. What stands for a chain of other formats is a setting instead, <c>format weight: number 1 | unit kg</c>, and a chart
    /// shows its numbers live. Missing values do not reach the function; of a sequence it is given each item.
    /// </summary>
    /// <param name="name">Its name: lower-case letters and hyphens, at least two.</param>
    /// <param name="format">Gives the text of a value, what stands behind the name of the format, and the language.</param>
    /// <exception cref="ReportException">The name cannot be one, or this is not a step of a manuscript.</exception>
    /// <example><code>Formats.Add("grade", (value, argument, language) => (double)value >= 30 ? "A" : "B");</code></example>
    public static void Add(string name, Func<object, string, Language, string> format)
    {
        var own = OwnFormat.Of(name, format);
        if (RunContext.Current is not StepContext context)
            throw new ReportException(Diagnostic.Error(null, "`Formats.Add` makes a format known to the manuscript whose step calls it, and no manuscript runs here", "write `report.Language = report.Language.With(OwnFormat.Of(…))`"));
        context.Formats.Add(own);
    }
}
