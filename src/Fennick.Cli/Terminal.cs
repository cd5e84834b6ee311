using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Running;
using Spectre.Console;

namespace Fennick.Cli;

/// <summary>What the command says: results to standard output, everything else to standard error; colours only on a terminal.</summary>
internal static class Terminal
{
    private static readonly JsonSerializerOptions Options = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
    private static readonly Lazy<IAnsiConsole> Errors = new(() => AnsiConsole.Create(new AnsiConsoleSettings { Out = new AnsiConsoleOutput(Console.Error) }));

    /// <summary>How many characters a line of the terminal has.</summary>
    public static int Width => Errors.Value.Profile.Width;

    /// <summary>A line of result.</summary>
    public static void Result(string text) => Console.Out.WriteLine(Console.IsOutputRedirected ? text : Clean(text));

    /// <summary>A line of JSON, for scripts and editors.</summary>
    public static void Json<T>(T line) => Console.Out.WriteLine(JsonSerializer.Serialize(line, Options));

    /// <summary>A line beside the result.</summary>
    public static void Say(string text) => Console.Error.WriteLine(Clean(text));

    /// <summary>A text without what a terminal would obey: its control characters become signs.</summary>
    public static string Clean(string text) => text.AsSpan().IndexOfAnyInRange('\0', '\u001F') < 0 && text.AsSpan().IndexOfAnyInRange('\u007F', '\u009F') < 0 ? text
        : string.Concat(text.Select(c => c switch { '\n' or '\t' => c, < ' ' => (char)('\u2400' + c), '\u007F' => '\u2421', >= '\u0080' and <= '\u009F' => '\uFFFD', _ => c }));

    /// <summary>An error of the call.</summary>
    public static void Error(string message) => WriteColoured("error: ", "red", message);

    /// <summary>A diagnostic on a line of its own, with the severity in colour.</summary>
    public static void Say(Diagnostic diagnostic)
    {
        if (Console.IsErrorRedirected)
        {
            Console.Error.WriteLine(Clean(diagnostic.ToString()));
            return;
        }
        var text = Clean(diagnostic.ToString());
        var word = diagnostic.Severity switch { Severity.Error => "error: ", Severity.Warning => "warning: ", _ => "advice: " };
        var at = text.IndexOf(word, StringComparison.Ordinal);
        Console.Error.Write(text[..at]);
        WriteColoured(word, diagnostic.Severity == Severity.Error ? "red" : "yellow", text[(at + word.Length)..]);
    }

    /// <summary>What a step wrote to the console, under its name.</summary>
    public static void Say(StepOutput output)
    {
        Console.Error.WriteLine(Clean($"step {output.Step} wrote:"));
        foreach (var line in output.Text.TrimEnd().Split('\n')) Console.Error.WriteLine(Clean($"  {line.TrimEnd('\r')}"));
    }

    /// <summary>Does the work of a command; what the caller got wrong is told, and the exit code says so.</summary>
    public static int Telling(Action work)
    {
        try
        {
            work();
            return ExitCodes.Done;
        }
        catch (ReportException problem)
        {
            foreach (var diagnostic in problem.Diagnostics) Say(diagnostic);
            return ExitCodes.Failed;
        }
    }

    /// <summary>A table of results: lines of words under their heads, as wide as they are where nobody looks at a terminal.</summary>
    public static void Table(IReadOnlyList<string> heads, IEnumerable<string[]> rows)
    {
        var lines = rows.ToArray();
        var hasHeads = heads.Any(h => h.Length > 0);
        var widths = heads.Select((h, i) => lines.Select(l => l[i].Length).Append(h.Length).Max()).ToArray();
        if (hasHeads) Write([.. heads]);
        if (hasHeads) Write([.. widths.Select(w => new string('─', w))]);
        foreach (var line in lines) Write(line);

        void Write(string[] cells) => Console.Out.WriteLine(string.Join("  ", cells.Select((c, i) => i == cells.Length - 1 ? c : c.PadRight(widths[i]))).TrimEnd());
    }

    /// <summary>A duration in the unit that suits it.</summary>
    public static string Describe(TimeSpan duration)
    {
        var (form, number, unit) = duration.TotalSeconds switch
        {
            < 1 => ("0", duration.TotalMilliseconds, "ms"),
            < 100 => ("0.0", duration.TotalSeconds, "s"),
            < 6000 => ("0", duration.TotalMinutes, "min"),
            _ => ("0.0", duration.TotalHours, "h"),
        };
        return $"{number.ToString(form, CultureInfo.InvariantCulture)} {unit}";
    }

    /// <summary>What compiling took of a duration; nothing if the code was compiled before.</summary>
    public static string DescribeCompiling(TimeSpan? duration) => duration is { } time ? $", of which {Describe(time)} to compile its code" : "";

    private static void WriteColoured(string word, string colour, string rest)
    {
        if (Console.IsErrorRedirected) Console.Error.Write(word);
        else Errors.Value.Markup($"[{colour}]{word}[/]");
        Console.Error.WriteLine(Clean(rest));
    }
}
