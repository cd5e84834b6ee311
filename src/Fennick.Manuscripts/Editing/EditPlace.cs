using Fennick.Manuscripts.Parsing;
using Fennick.Manuscripts.Steps;

namespace Fennick.Manuscripts.Editing;

/// <summary>What is written at a place.</summary>
internal enum EditKind
{
    Prose,

    /// <summary>The first line of a fence.</summary>
    Fence,

    Settings,

    /// <summary>The head of a step.</summary>
    Head,

    /// <summary>The code of a step.</summary>
    Code,

    /// <summary>Inside of braces.</summary>
    Brace,
}

/// <summary>What a writer is at, found by the text alone: while somebody types, it is seldom whole.</summary>
/// <param name="Kind">What is written here.</param>
/// <param name="Start">Where it starts: the line, the first letter behind the marks of the fence, or the brace.</param>
/// <param name="Before">What stands from there to the place.</param>
internal sealed record EditPlace(EditKind Kind, int Start, string Before)
{
    private const int LongestBrace = 4000;

    /// <summary>Whether the step runs a program, so that its code is of another language.</summary>
    public bool IsScript { get; private init; }

    /// <summary>The role of the step whose head or code it is.</summary>
    public StepRole Role { get; private init; }

    /// <summary>What is written at an offset of a file's text.</summary>
    public static EditPlace Find(string text, int offset)
    {
        offset = Math.Clamp(offset, 0, text.Length);
        var (mark, info, first) = ("", "", 0);
        for (var at = 0; at <= text.Length;)
        {
            var found = text.IndexOf('\n', at);
            var end = found < 0 ? text.Length : found;
            var line = text[at..end].TrimEnd('\r');
            var holdsPlace = offset <= end;
            var marks = MarkOf(line);
            if (mark.Length == 0)
            {
                if (holdsPlace)
                {
                    if (marks.Length == 0) return InProse(text, offset);
                    var start = Math.Min(offset, at + line.IndexOf(marks, StringComparison.Ordinal) + marks.Length);
                    return new EditPlace(EditKind.Fence, start, text[start..offset]);
                }
                if (marks.Length > 0) (mark, info, first) = (marks, line.Trim()[marks.Length..].Trim(), end + 1);
            }
            else if (marks.StartsWith(mark, StringComparison.Ordinal) && line.Trim().Length == marks.Length)
            {
                if (holdsPlace) return new EditPlace(EditKind.Prose, at, text[at..offset]);
                mark = "";
            }
            else if (holdsPlace) return InFence(text, offset, at, first, info, mark);
            at = end + 1;
        }
        return InProse(text, offset);
    }

    /// <summary>The backticks or tildes that a line begins with.</summary>
    private static string MarkOf(string line)
    {
        var rest = line.TrimStart(' ');
        if (rest.Length == 0 || line.Length - rest.Length > 3 || rest[0] is not ('`' or '~')) return "";
        var count = rest.TakeWhile(c => c == rest[0]).Count();
        return count >= 3 ? rest[..count] : "";
    }

    private static EditPlace InFence(string text, int offset, int line, int first, string info, string mark)
    {
        var words = info.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words is [ManuscriptParser.SettingsWord]) return new EditPlace(EditKind.Settings, line, text[line..offset]);
        if (words is not [FenceWords.Language or FenceWords.Script, var name, ..] || StepRoles.Find(name) is not { } role) return new EditPlace(EditKind.Prose, line, text[line..offset]) { };
        var close = text.IndexOf("\n" + mark, first - 1, StringComparison.Ordinal);
        var arrow = text.IndexOf("\n=>", first - 1, StringComparison.Ordinal);
        var hasHead = arrow >= 0 && (close < 0 || arrow < close);
        var isScript = words[0] == FenceWords.Script;
        var kind = hasHead ? arrow >= line ? EditKind.Head : EditKind.Code : isScript ? EditKind.Head : EditKind.Code;
        return new EditPlace(isScript && kind == EditKind.Code ? EditKind.Prose : kind, line, text[line..offset]) { Role = role, IsScript = isScript };
    }

    private static EditPlace InProse(string text, int offset)
    {
        var depth = 0;
        for (var i = offset - 1; i >= Math.Max(0, offset - LongestBrace); i--)
        {
            if (text[i] == '}') depth++;
            else if (text[i] == '{' && (i == 0 || text[i - 1] != '\\') && depth-- == 0) return new EditPlace(EditKind.Brace, i, text[(i + 1)..offset]);
            else if (text[i] == '\n' && i > 0 && text[i - 1] == '\n') break;
        }
        return new EditPlace(EditKind.Prose, offset, "");
    }
}
