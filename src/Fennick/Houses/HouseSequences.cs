using System.Collections.Immutable;
using System.Text.RegularExpressions;
using System.Xml.Linq;

namespace Fennick.Houses;

/// <summary>The numbered captions that stand in a house itself: they and those of the report count apart, so that nobody's numbers change when fields are renewed.</summary>
internal static partial class HouseSequences
{
    private static readonly XNamespace W = StyleSheet.W;

    /// <summary>Lets the sequences behind the body start at what they show.</summary>
    /// <param name="before">What stands before the body.</param>
    /// <param name="behind">What stands behind it.</param>
    /// <returns>The sequences that have begun before the body.</returns>
    public static ImmutableHashSet<string> Settle(IEnumerable<XElement> before, IEnumerable<XElement> behind)
    {
        var begun = before.SelectMany(Of).Select(s => s.Name).ToImmutableHashSet();
        var seen = new HashSet<string>();
        foreach (var (name, code, end, result) in behind.SelectMany(Of).ToArray())
            if (seen.Add(name) && !Restart().IsMatch(code) && int.TryParse(result, out var number)) Append(end, $" \\r {number} ");
        return begun;
    }

    /// <summary>The sequence fields of a block in their order: the name, the instruction, what holds its end, and what it shows.</summary>
    private static IEnumerable<(string Name, string Code, XObject End, string Result)> Of(XElement block)
    {
        foreach (var paragraph in block.DescendantsAndSelf(W + "p"))
        {
            XElement? last = null;
            var (instruction, result, isResult) = ("", "", false);
            foreach (var element in paragraph.Descendants().Where(e => e.Ancestors(W + "p").First() == paragraph))
            {
                if (element.Name == W + "fldSimple" && element.Attribute(W + "instr") is { } simple && Sequence().Match(simple.Value) is { Success: true } own) yield return (own.Groups[1].Value, simple.Value, simple, element.Value);
                else if (element.Name == W + "instrText") (instruction, last) = (instruction + element.Value, element);
                else if (element.Name == W + "t" && isResult) result += element.Value;
                else if (element.Name == W + "fldChar")
                {
                    var mark = (string?)element.Attribute(W + "fldCharType");
                    if (mark == "end" && last is not null && Sequence().Match(instruction) is { Success: true } match) yield return (match.Groups[1].Value, instruction, last, result);
                    if (mark is "begin" or "end") (instruction, result, last) = ("", "", null);
                    isResult = mark == "separate";
                }
            }
        }
    }

    private static void Append(XObject instruction, string text)
    {
        if (instruction is XAttribute attribute) attribute.Value += text;
        else ((XElement)instruction).Value += text;
    }

    [GeneratedRegex(@"^\s*SEQ\s+""?([^\s""\\]+)", RegexOptions.IgnoreCase)]
    private static partial Regex Sequence();

    [GeneratedRegex(@"\\[rc]\b", RegexOptions.IgnoreCase)]
    private static partial Regex Restart();
}
