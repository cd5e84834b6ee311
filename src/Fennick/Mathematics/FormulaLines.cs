using System.Collections.Immutable;

namespace Fennick.Mathematics;

/// <summary>Breaks a formula that is too wide for its line: at its relations, and where that is not enough, before the terms of its sums.</summary>
internal static class FormulaLines
{
    // A left side that takes more stands on a line of its own.
    private const double WidestLeftSide = 0.4;
    private static readonly FormulaNode Indent = new FormulaNode.Text("\u2003\u2003");

    /// <summary>The formula on as many lines as it needs, with its relations below each other; itself if it is short, or if it is laid out already or holds nothing at which it could be broken.</summary>
    /// <param name="formula">The formula.</param>
    /// <param name="room">How many letters a line holds.</param>
    public static Formula Break(Formula formula, double room)
    {
        if (formula.Letters <= room || formula.Root is not FormulaNode.Row { Nodes: var nodes }) return formula;
        var parts = Split(nodes, TexSymbols.IsRelation);
        var left = parts[0];
        var isAligned = parts.Length > 1 && Letters(left) <= room * WidestLeftSide;
        var width = room - (isAligned ? Letters(left) : Letters([Indent]));
        ImmutableArray<FormulaNode>[] lines = [.. (isAligned ? parts.Skip(1) : parts).SelectMany(p => Letters(p) > width ? Fill(Split(p, TexSymbols.IsSum), width) : [p])];
        if (lines.Length == 1) return formula;
        return formula.With(isAligned
            ? TexReader.Aligned([.. lines.Select((line, i) => ImmutableArray.Create<FormulaNode>(Row(i == 0 ? left : []), Row(line)))])
            : new FormulaNode.Grid([.. lines.Select((line, i) => ImmutableArray.Create<FormulaNode>(Row(i == 0 ? line : [Indent, .. line])))], "l", IsTight: true));
    }

    /// <summary>Lines of as many terms as they hold.</summary>
    private static List<ImmutableArray<FormulaNode>> Fill(IEnumerable<ImmutableArray<FormulaNode>> terms, double width)
    {
        var lines = new List<ImmutableArray<FormulaNode>>();
        foreach (var term in terms)
        {
            if (lines.Count > 0 && Letters(lines[^1]) + Letters(term) <= width) lines[^1] = [.. lines[^1], .. term];
            else lines.Add(term);
        }
        return lines;
    }

    /// <summary>The parts of a row, each but the first beginning with a sign of a kind; a sign at the very start or right behind another belongs to what follows it.</summary>
    private static ImmutableArray<FormulaNode>[] Split(ImmutableArray<FormulaNode> nodes, Func<string, bool> isSign)
    {
        var parts = new List<ImmutableArray<FormulaNode>>();
        var start = 0;
        for (var i = 1; i < nodes.Length; i++)
        {
            if (nodes[i] is not FormulaNode.Text { Value: var sign } || !isSign(sign) || IsAnySign(nodes[i - 1])) continue;
            parts.Add(nodes[start..i]);
            start = i;
        }
        parts.Add(nodes[start..]);
        return [.. parts];
    }

    private static bool IsAnySign(FormulaNode node) => node is FormulaNode.Text { Value: var value } && TexSymbols.IsSign(value);

    private static FormulaNode.Row Row(ImmutableArray<FormulaNode> nodes) => new(nodes);

    private static double Letters(ImmutableArray<FormulaNode> nodes) => Row(nodes).Letters();
}
