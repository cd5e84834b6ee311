using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Fennick.Manuscripts.Steps;
using Fennick.Prose;

namespace Fennick.Manuscripts.Parsing;

/// <summary>A block or an inline, or a loop or condition around some.</summary>
internal abstract record Grouped<T>
{
    internal sealed record Node(T Value) : Grouped<T>;

    internal sealed record Control(ImmutableArray<(ControlHead Head, ImmutableArray<Grouped<T>> Nodes)> Branches) : Grouped<T>;
}

/// <summary>Finds what stands between the beginning and the end of loops and conditions: last opened, first closed.</summary>
/// <param name="sourceOf">What stands between the braces of a directive; null for anything else.</param>
/// <param name="offsetOf">Where a node starts.</param>
/// <param name="createHead">Makes the head of a loop or a branch.</param>
/// <param name="error">Takes a mistake: where it is, what it is, what to do.</param>
internal sealed class ControlGrouper<T>(Func<T, string?> sourceOf, Func<T, int> offsetOf, Func<ControlKind, string, string, string, int, ControlHead> createHead, Action<int, string, string> error)
{
    private readonly Queue<T> queue = new();

    public static bool IsControl(string? source) => source?.Trim() is { } word && (Closes(word) || BraceWords.Beginnings.Contains(word) || Openers.Any(o => word.StartsWith(o, StringComparison.Ordinal)) || Named.Any(o => word.StartsWith(o, StringComparison.Ordinal) && BraceWords.IsName(word[o.Length..])));

    private static readonly string[] Openers = ["for each ", "if ", "columns ", "pages ", "box:", "box note:"];
    private static readonly string[] Named = ["series ", "equations "];

    public ImmutableArray<Grouped<T>> Group(IEnumerable<T> nodes)
    {
        foreach (var node in nodes) queue.Enqueue(node);
        return Read(opener: null);
    }

    private static bool Closes(string word) => BraceWords.IsEnd(word) || word == "else" || word.StartsWith("else if ", StringComparison.Ordinal);

    /// <summary>Reads up to the directive that closes or goes on, which stays in the queue.</summary>
    private ImmutableArray<Grouped<T>> Read(ControlHead? opener)
    {
        var nodes = ImmutableArray.CreateBuilder<Grouped<T>>();
        while (queue.TryPeek(out var node))
        {
            var source = sourceOf(node);
            if (!IsControl(source))
            {
                nodes.Add(new Grouped<T>.Node(queue.Dequeue()));
                continue;
            }
            var word = source!.Trim();
            if (Closes(word) && opener is not null) break;
            queue.Dequeue();
            if (Closes(word)) error(offsetOf(node), $"`{{{word}}}` has no beginning", "write what it ends, such as `{for each …}`, `{if …}`, `{landscape}`, `{columns …}`, `{pages …}` or `{box}`, before it, in the same paragraph or list item if it stands in one, or leave it out");
            else if (ReadHead(node, source) is { } head) nodes.Add(ReadControl(head));
        }
        return nodes.ToImmutable();
    }

    /// <summary>Reads what a loop or a condition holds, up to its end.</summary>
    private Grouped<T>.Control ReadControl(ControlHead first)
    {
        var head = first;
        var branches = ImmutableArray.CreateBuilder<(ControlHead, ImmutableArray<Grouped<T>>)>();
        while (true)
        {
            branches.Add((head, Read(head)));
            if (!queue.TryDequeue(out var next))
            {
                error(first.Offset - 1, $"`{{{first.Text.Trim()}}}` has no end", "write `{end}` after what belongs to it: on a line of its own, or in the same paragraph or list item if it stands in one");
                break;
            }
            var word = sourceOf(next)!.Trim();
            if (word.StartsWith("end", StringComparison.Ordinal))
            {
                var wanted = first.Kind switch { ControlKind.ForEach => "end for", ControlKind.Landscape => "end landscape", ControlKind.Columns => "end columns", ControlKind.Pages => "end pages", ControlKind.Box => $"end {BoxWord(first)}", ControlKind.Series => "end series", ControlKind.Equations => "end equations", _ => "end if" };
                if (word != "end" && word != wanted) error(offsetOf(next), $"`{{{word}}}` does not end `{{{first.Text.Trim()}}}`", $"write `{{end}}` or `{{{wanted}}}`");
                break;
            }
            if (first.Kind is not (ControlKind.If or ControlKind.ElseIf) || head.Kind == ControlKind.Else)
                error(offsetOf(next), $"`{{{word}}}` cannot stand {(first.Kind == ControlKind.ForEach ? "in a loop" : head.Kind == ControlKind.Else ? "after `{else}`" : $"in `{{{first.Text.Trim()}}}`")}", "close what is open before it with `{end}`");
            if (ReadHead(next, sourceOf(next)!) is not { } branch) break;
            head = branch;
        }
        return new Grouped<T>.Control(branches.ToImmutable());
    }

    private static string BoxWord(ControlHead head) => head.Text.Trim() is var word && word.StartsWith("box", StringComparison.Ordinal) ? "box" : word;

    private ControlHead? ReadHead(T node, string source)
    {
        var word = source.Trim();
        ControlHead Head(ControlKind kind, string variable, string expression) => createHead(kind, variable, expression, source, offsetOf(node) + 1);
        if (word == "else") return Head(ControlKind.Else, "", "");
        if (word.StartsWith("else if ", StringComparison.Ordinal)) return Head(ControlKind.ElseIf, "", word["else if ".Length..].Trim());
        if (word == "landscape") return Head(ControlKind.Landscape, "", "");
        if (BraceWords.Beginnings.Contains(word) || word.StartsWith("box", StringComparison.Ordinal)) return Head(ControlKind.Box, "", "");
        if (word.StartsWith("columns ", StringComparison.Ordinal)) return Head(ControlKind.Columns, "", "");
        if (word.StartsWith("pages ", StringComparison.Ordinal)) return Head(ControlKind.Pages, "", "");
        if (word.StartsWith("series ", StringComparison.Ordinal)) return Head(ControlKind.Series, "", "");
        if (word.StartsWith("equations ", StringComparison.Ordinal)) return Head(ControlKind.Equations, "", "");
        if (word.StartsWith("if ", StringComparison.Ordinal)) return Head(ControlKind.If, "", word["if ".Length..].Trim());
        var rest = word["for each ".Length..];
        var separator = rest.IndexOf(" in ", StringComparison.Ordinal);
        var variable = separator < 0 ? "" : rest[..separator].Trim();
        if (variable.Length > 0 && Regex.IsMatch(variable, @"^(@?[\p{L}_]\w*|\(\s*[\p{L}_]\w*(\s*,\s*[\p{L}_]\w*)+\s*\))$")) return Head(ControlKind.ForEach, variable, rest[(separator + 4)..].Trim());
        error(offsetOf(node), $"`{{{word}}}` is not a loop", "write `{for each valley in valleys}` or `{for each (name, rows) in groups}`");
        return null;
    }
}
