using System.CommandLine;
using System.Diagnostics;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Revision;

namespace Fennick.Cli;

/// <summary><c>fennick join A B … --out FILE [--headers each|N] [--restart pages,notes,captions]</c></summary>
internal static class JoinCommand
{
    public static Command Create()
    {
        var documents = new Argument<string[]>("documents") { Description = "The documents in their order.", Arity = new ArgumentArity(2, 10_000) };
        var output = new Option<string>("--out") { Description = "The file to write.", HelpName = "FILE", Required = true };
        var headers = new Option<string>("--headers") { Description = "Whose headers and footers: each (the default) its own, or the number of the document whose all get.", HelpName = "each|N", DefaultValueFactory = _ => "each" };
        headers.Validators.Add(result =>
        {
            if (result.GetValueOrDefault<string>() is var text && text != "each" && NumberOf(text) is null) result.AddError($"`--headers {text}`: write `each`, or the number of a document from 1");
        });
        var restart = new Option<string?>("--restart") { Description = "What begins anew with each document: any of pages, notes and captions (with them numbered headings), with commas between them.", HelpName = "WHAT" };
        restart.Validators.Add(result =>
        {
            if (result.GetValueOrDefault<string?>() is { } text && RestartOf(text) is null) result.AddError($"`--restart {text}`: write any of `pages`, `notes` and `captions`, with commas between them");
        });
        var command = new Command("join", "Makes one document of several finished ones, whoever wrote them.") { documents, output, headers, restart };
        command.SetAction(call => Terminal.Telling(() =>
        {
            var watch = Stopwatch.StartNew();
            var (paths, path) = (call.GetRequiredValue(documents), call.GetRequiredValue(output));
            var all = call.GetRequiredValue(headers) is "each" ? null : NumberOf(call.GetRequiredValue(headers));
            if (all > paths.Length) throw new ReportException(Diagnostic.Error(null, $"there is no document {all} whose headers all could get; there are {paths.Length}", "number them from 1 in their order"));
            foreach (var remark in Living.Join(paths, path, new JoinOptions { HeadersOf = all, Restart = RestartOf(call.GetValue(restart) ?? "") ?? JoinRestart.None })) Terminal.Say(Diagnostic.Warning(new SourcePlace(path, 0, 0), remark));
            Terminal.Result(Path.GetFullPath(path));
            Terminal.Say($"{paths.Length} documents joined in {Terminal.Describe(watch.Elapsed)}");
        }));
        return command;
    }

    private static int? NumberOf(string? text) => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number > 0 ? number : null;

    private static JoinRestart? RestartOf(string text)
    {
        var restart = JoinRestart.None;
        foreach (var word in text.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            if (word is not ("pages" or "notes" or "captions")) return null;
            restart |= Enum.Parse<JoinRestart>(word, ignoreCase: true);
        }
        return restart;
    }
}
