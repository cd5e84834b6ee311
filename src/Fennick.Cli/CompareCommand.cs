using System.CommandLine;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Revision;

namespace Fennick.Cli;

/// <summary><c>fennick compare OLD NEW [--over PERCENT] [--out FILE] [--json]</c></summary>
internal static class CompareCommand
{
    // More lines of one kind and place tell nothing that JSON does not tell better.
    private const int MostLines = 40;

    public static Command Create()
    {
        var old = new Argument<string>("old") { Description = "The older document." };
        var now = new Argument<string>("new") { Description = "The newer document." };
        ManuscriptArguments.NeedsName(old);
        ManuscriptArguments.NeedsName(now);
        var over = new Option<string?>("--over") { Description = "Lists only numbers that differ by more than this percentage of the older one, such as 5 or 5%.", HelpName = "PERCENT" };
        over.Validators.Add(result =>
        {
            if (Share(result.GetValueOrDefault<string?>()) is null) result.AddError($"`--over {result.GetValueOrDefault<string?>()}`: write a percentage such as 5 or 2.5%");
        });
        var output = new Option<string?>("--out") { Description = "Writes the newer document to a file, with every difference as a tracked change.", HelpName = "FILE" };
        var json = new Option<bool>("--json") { Description = "Gives JSON, one line for each difference." };
        var command = new Command("compare", "Says how two documents differ, whoever wrote them: numbers, words, tables, charts, pictures.") { old, now, over, output, json };
        command.SetAction(call => Terminal.Telling(() =>
        {
            var path = call.GetValue(output);
            var result = Living.Compare(call.GetRequiredValue(old), call.GetRequiredValue(now), Share(call.GetValue(over)), path);
            if (call.GetValue(json)) Json(result);
            else List(result);
            foreach (var remark in result.Remarks) Terminal.Say(Diagnostic.Warning(new SourcePlace(call.GetRequiredValue(now), 0, 0), remark));
            Terminal.Say(result.Summary);
            if (path is not null && !call.GetValue(json)) Terminal.Result(Path.GetFullPath(path));
        }));
        return command;
    }

    /// <summary>A percentage as a share; null if it is none.</summary>
    private static double? Share(string? percent) => double.TryParse(percent?.TrimEnd('%', ' '), NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingWhite, CultureInfo.InvariantCulture, out var value) ? value / 100 : null;

    private static void Json(CompareResult result)
    {
        foreach (var difference in result.Differences)
            Terminal.Json(new { Kind = difference.Kind.ToString().ToLowerInvariant(), difference.What, difference.Where, difference.Before, difference.After, difference.Change, difference.Relative, Place = difference.Place?.ToString() });
    }

    private static void List(CompareResult result)
    {
        foreach (var group in result.Differences.GroupBy(d => d.Kind).OrderBy(g => g.Key))
        {
            Terminal.Result(Title(group.Key));
            foreach (var place in group.GroupBy(d => d.Where))
            {
                foreach (var difference in place.Take(MostLines)) Terminal.Result($"  {difference}{(difference.Place is { } source ? $" ({source.File}:{source.Line})" : "")}");
                if (place.Count() > MostLines) Terminal.Result($"  … and {place.Count() - MostLines} more in {place.Key}; `--json` lists all of them");
            }
        }
    }

    private static string Title(DifferenceKind kind) => kind switch
    {
        DifferenceKind.Number => "Numbers:",
        DifferenceKind.Text => "Words:",
        DifferenceKind.Shape => "Pictures, drawings and formulas:",
        DifferenceKind.Added => "Added:",
        DifferenceKind.Removed => "Removed:",
        _ => "Moved:",
    };
}
