using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Formatting;

namespace Fennick.Mathematics;

/// <summary>A formula: written in the usual TeX notation, native in the document.</summary>
public sealed class Formula
{
    private Formula(string source, FormulaNode root)
    {
        Source = source;
        Root = root;
    }

    /// <summary>How it was written.</summary>
    public string Source { get; }

    /// <summary>The mean width of a letter of a formula, as a share of its size.</summary>
    internal const double Letter = 0.56;

    internal FormulaNode Root { get; }

    /// <summary>About how many letters wide it is.</summary>
    internal double Letters => Root.Letters();

    /// <summary>The values that it waits for, in order.</summary>
    internal IEnumerable<FormulaNode.Live> Lives => Root.Descendants().OfType<FormulaNode.Live>();

    /// <summary>Reads a formula.</summary>
    /// <param name="tex">For example <c>\bar{x} = \frac{1}{n} \sum_{i=1}^{n} x_i = \live{0:0.0}</c>.</param>
    /// <param name="values">What <c>\live{0}</c>, <c>\live{1:0.00}</c>… stand for.</param>
    /// <exception cref="ReportException">The notation is not understood, or a format does not fit its value; the column counts from the start of the text.</exception>
    public static Formula Of(string tex, params object?[] values)
    {
        ArgumentNullException.ThrowIfNull(tex);
        ArgumentNullException.ThrowIfNull(values);
        var formula = Read(tex, offset => new SourcePlace(tex, 1, offset + 1));
        return formula.Fill(live =>
        {
            var colon = live.Source.IndexOf(':', StringComparison.Ordinal);
            if (!int.TryParse(colon < 0 ? live.Source : live.Source[..colon], NumberStyles.None, CultureInfo.InvariantCulture, out var index) || index >= values.Length)
                throw new ReportException(Diagnostic.Error(null, $"`\\live{{{live.Source}}}` is none of the {values.Length} values", "count them from 0: `\\live{0:0.0}`"));
            try
            {
                return ValueFormatter.Format(values[index], colon < 0 ? null : live.Source[(colon + 1)..], Language.Current);
            }
            catch (ValueFormatException problem)
            {
                throw new ReportException([Diagnostic.Error(null, problem.Message, problem.Suggestion)], problem);
            }
        });
    }

    /// <summary>How it was written.</summary>
    public override string ToString() => Source;

    /// <summary>Reads a formula; values are left open.</summary>
    /// <param name="tex">Its text.</param>
    /// <param name="placeOf">The place of an offset in the text.</param>
    internal static Formula Read(string tex, Func<int, SourcePlace?> placeOf) => new(tex.Trim(), TexReader.Read(tex, placeOf));

    /// <summary>The same formula, put together in another way.</summary>
    internal Formula With(FormulaNode root) => new(Source, root);

    internal Formula Fill(Func<FormulaNode.Live, string> text) => new(Source, Root.Fill(text));
}
