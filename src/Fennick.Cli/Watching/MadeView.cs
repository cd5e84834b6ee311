using Fennick.Diagnostics;

namespace Fennick.Cli.Watching;

/// <summary>What came of a run.</summary>
internal sealed record MadeView
{
    /// <summary>The report; null if it could not be made.</summary>
    public LiveReport? Report { get; init; }

    public IReadOnlyList<LiveProblem> Problems { get; init; } = [];

    public IReadOnlyList<LiveStep> Steps { get; init; } = [];

    /// <summary>The files that it is made from.</summary>
    public IReadOnlyList<string> Files { get; init; } = [];

    public double Milliseconds { get; init; }

    /// <summary>Whether the maker holds so many programs that another one had better go on.</summary>
    public bool IsSpent { get; init; }

    /// <summary>What compiling took of it.</summary>
    public double? CompileMilliseconds { get; init; }
}

/// <summary>A report as the page shows it.</summary>
internal sealed record LiveReport(string Title, string Language, string Style, string Html, int Pages, IReadOnlyList<LiveOrigin> Origins);

/// <summary>Where a value comes from.</summary>
internal sealed record LiveOrigin(string Expression, string? Format, string Value, string File, int Line, int Column);

/// <summary>A step that has run.</summary>
internal sealed record LiveStep(string Name, string Role, string File, int Line, double Milliseconds, string Written, string Result, bool IsReused);

/// <summary>What is wrong, or deserves attention, with the lines where it is.</summary>
internal sealed record LiveProblem(string Severity, string Message, string? Suggestion, string? File, int Line, int Column, IReadOnlyList<LiveLine> Code)
{
    private const int LinesAround = 2;
    private const int LongestLine = 400;

    /// <summary>A diagnostic with the lines around its place.</summary>
    public static LiveProblem Of(Diagnostic diagnostic)
    {
        var place = diagnostic.Place;
        return new LiveProblem(diagnostic.Severity.ToString().ToLowerInvariant(), diagnostic.Message, diagnostic.Suggestion, place?.File, place?.Line ?? 0, place?.Column ?? 0, place is { Line: > 0 } ? LinesOf(place) : []);
    }

    private static LiveLine[] LinesOf(SourcePlace place)
    {
        try
        {
            var first = Math.Max(1, place.Line - LinesAround);
            return [.. System.IO.File.ReadLines(place.File).Skip(first - 1).Take(place.Line - first + 1 + LinesAround).Select((line, i) => new LiveLine(first + i, line.Length > LongestLine ? line[..LongestLine] : line))];
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }
}

/// <summary>A line of the manuscript.</summary>
internal sealed record LiveLine(int Number, string Text);
