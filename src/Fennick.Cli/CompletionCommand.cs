using System.CommandLine;
using System.CommandLine.Completions;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Vocabulary;

namespace Fennick.Cli;

/// <summary><c>fennick completion SHELL</c>: what a shell needs to complete calls of the command; and what stands to choose from at each place.</summary>
internal static class CompletionCommand
{
    // Each asks the command itself what fits where the cursor is, and offers files where nothing does.
    private static readonly Dictionary<string, string> Scripts = new()
    {
        ["bash"] = """
            _fennick() {
                local IFS=$'\n' word=${COMP_LINE:0:COMP_POINT}
                word=${word##* }
                COMPREPLY=($(fennick "[suggest:$COMP_POINT]" "$COMP_LINE" 2>/dev/null))
                # The shell parts words at `=` and `:`, and completes the last part alone.
                local before=${word%"${COMP_WORDS[COMP_CWORD]#[=:]}"}
                [ "$before" = "$word" ] || COMPREPLY=("${COMPREPLY[@]#"$before"}")
                [[ ${#COMPREPLY[@]} -eq 1 && ${COMPREPLY[0]} == *= ]] && compopt -o nospace
            }
            complete -o default -F _fennick fennick
            """,
        ["zsh"] = """
            #compdef fennick
            _fennick() {
                local -a found
                found=("${(@f)$(fennick "[suggest:$CURSOR]" "$BUFFER" 2>/dev/null)}")
                found=(${found:#})
                if (( $#found )); then compadd -- $found; else _files; fi
            }
            compdef _fennick fennick
            """,
        ["fish"] = """
            function __fennick
                set -l line (commandline -cp)
                fennick "[suggest:"(string length -- "$line")"]" "$line" 2>/dev/null
            end
            complete -c fennick -a '(__fennick)'
            """,
    };

    public static Command Create()
    {
        var shell = new Argument<string>("shell") { Description = "The shell: bash, zsh or fish." };
        shell.AcceptOnlyFromAmong([.. Scripts.Keys]);
        var command = new Command("completion", "Prints what a shell needs to complete calls of fennick.") { shell };
        command.SetAction(call =>
        {
            Terminal.Result(Scripts[call.GetRequiredValue(shell)]);
            return ExitCodes.Done;
        });
        return command;
    }

    /// <summary>Answers a shell that asks what may stand where the cursor is; false if this call is another.</summary>
    public static bool Answers(string[] arguments, ParseResult call)
    {
        if (arguments is not [var directive, var line] || !directive.StartsWith("[suggest:", StringComparison.Ordinal) || !int.TryParse(directive["[suggest:".Length..].TrimEnd(']'), out var position)) return false;
        var found = new StringWriter();
        call.Invoke(new InvocationConfiguration { Output = found });
        var before = line[..Math.Min(position, line.Length)];
        var word = before.Split(' ')[^1];
        // Where a file is meant, the few who want the command within a command begin to write it.
        if (word.Length == 0 && call.RootCommandResult.Command.Parse(before[(before.IndexOf(' ', StringComparison.Ordinal) + 1)..]).CommandResult.Command is { Arguments.Count: > 0, Subcommands.Count: > 0 }) return true;
        // Options are offered to whoever asks for one; for all else files may be meant.
        foreach (var item in found.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Where(i => i[0] is not ('-' or '/') || (word.StartsWith('-') && i.StartsWith("--", StringComparison.Ordinal)))) Terminal.Result(item);
        return true;
    }

    /// <summary>Completes settings after an option that takes them.</summary>
    public static void CompleteSettings(Option<string[]> option) => option.CompletionSources.Add(context => Begin(context, [.. ManuscriptSettings.Keys.Select(k => k + "=")]));

    /// <summary>Completes the parameters of the manuscript that the call names.</summary>
    public static void CompleteParameters(Option<string[]> option, Argument<string> manuscript) => option.CompletionSources.Add(context => Begin(context, [.. Open(context, manuscript)?.ParameterNames.Select(n => n + "=") ?? []]));

    /// <summary>Completes the labels of steps of the manuscript that the call names.</summary>
    public static void CompleteLabels(Argument<string?> label, Argument<string> manuscript) => label.CompletionSources.Add(context => Begin(context, [.. Open(context, manuscript)?.StepLabels ?? []]));

    /// <summary>Completes what has an entry in the book of words.</summary>
    public static void CompleteWords(Argument<string[]> words) => words.CompletionSources.Add(context => Begin(context, [.. ReferenceBook.Chapters.SelectMany(c => c.Entries).SelectMany(e => e.Forms).Where(f => f.All(l => char.IsLetterOrDigit(l) || l is '.' or '-' or '_')).Distinct()]));

    private static IEnumerable<CompletionItem> Begin(CompletionContext context, IEnumerable<string> all) => all.Where(w => w.StartsWith(context.WordToComplete, StringComparison.OrdinalIgnoreCase)).Select(w => new CompletionItem(w));

    private static Manuscript? Open(CompletionContext context, Argument<string> manuscript)
    {
        try
        {
            return context.ParseResult.GetValue(manuscript) is { } path && File.Exists(path) ? Manuscript.Open(path) : null;
        }
        catch (ReportException)
        {
            // What is wrong with it is told when it is written.
            return null;
        }
    }
}
