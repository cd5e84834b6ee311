using System.CommandLine;
using System.Runtime.InteropServices;
using Fennick.Cli.Watching;
using Fennick.Manuscripts;

namespace Fennick.Cli;

/// <summary><c>fennick watch MANUSCRIPT [--set NAME=VALUE]… [--with KEY=VALUE]… [--roster FILE --unit NAME] [--out FILE | --no-document] [--port N] [--editor CALL] [--open]</c></summary>
internal static class WatchCommand
{
    public static Command Create()
    {
        var manuscript = new ManuscriptArguments();
        var output = new Option<string?>("--out") { Description = "The file for the report (default: beside the manuscript).", HelpName = "FILE" };
        var none = new Option<bool>("--no-document") { Description = "Shows the page alone, and writes no document." };
        var roster = new Option<string?>("--roster") { Description = "The table of a batch, whose units have the values of the parameters.", HelpName = "FILE" };
        var unit = new Option<string?>("--unit") { Description = "The unit of the roster to show: what stands in its first column.", HelpName = "NAME" };
        var port = new Option<ushort?>("--port") { Description = "The port of the page (default: any that is free).", HelpName = "N" };
        var editor = new Option<string?>("--editor") { Description = $"How your editor opens a place, such as \"code --goto {{file}}:{{line}}\" (default: the variable {EditorCall.Variable}).", HelpName = "CALL" };
        var open = new Option<bool>("--open") { Description = "Opens the page in the browser." };
        var command = new Command("watch", "Shows the report of a manuscript, or of a C# program, in the browser, and makes it again whenever a file changes that it is made from.") { manuscript.File, manuscript.Set, manuscript.With, roster, unit, output, none, port, editor, open };
        command.Validators.Add(call =>
        {
            if (call.GetValue(roster) is null != call.GetValue(unit) is null) call.AddError("`--roster` and `--unit` go together: the table, and what stands in the first column of the unit");
            if (call.GetValue(manuscript.File) is { } program && WatchedScript.Is(program) && new Option[] { manuscript.Set, manuscript.With, roster, output, none }.FirstOrDefault(o => call.GetResult(o) is { Implicit: false }) is { } option)
                call.AddError($"`{option.Name}` is for manuscripts; a program sets its values and saves its report itself");
            if (call.GetValue(none) && call.GetValue(output) is not null) call.AddError("`--out` names a document, and `--no-document` writes none");
        });
        command.SetAction(call => Run(
            call.GetRequiredValue(manuscript.File), manuscript.Parameters(call), manuscript.Settings(call), call.GetValue(roster), call.GetValue(unit),
            call.GetValue(none) ? null : call.GetValue(output) ?? "", call.GetValue(port), EditorCall.Read(call.GetValue(editor) ?? Environment.GetEnvironmentVariable(EditorCall.Variable)), call.GetValue(open)));
        return command;
    }

    private static int Run(string path, Dictionary<string, string> parameters, Dictionary<string, string> settings, string? roster, string? unit, string? output, ushort? port, EditorCall? editor, bool opens) => Terminal.Telling(() =>
    {
        CheckName(path);
        var document = output is null || WatchedScript.Is(path) ? null : Path.GetFullPath(output.Length > 0 ? output : path[..^Manuscript.Extension.Length] + ".docx");
        if (document is not null) Files.ReportFile.CheckName(document);
        using var stop = new CancellationTokenSource();
        using var interrupt = PosixSignalRegistration.Create(PosixSignal.SIGINT, End);
        using var terminate = PosixSignalRegistration.Create(PosixSignal.SIGTERM, End);
        using var session = new WatchSession(new MakerOpening(path, settings, parameters, document) { Unit = roster is null ? null : new RosterUnit(Path.GetFullPath(roster), unit!) }, port, editor);
        Terminal.Result(session.Address);
        if (document is not null) Terminal.Result(document);
        Terminal.Say("watching; Ctrl-C ends it");
        if (opens) WriteCommand.Open(session.Address);
        session.Run(stop.Token);

        void End(PosixSignalContext context)
        {
            context.Cancel = true;
            stop.Cancel();
        }
    });

    /// <summary>Refuses what cannot become a manuscript; one that is not there yet is waited for.</summary>
    private static void CheckName(string path)
    {
        if (WatchedScript.Is(path))
        {
            if (!File.Exists(path)) throw new Diagnostics.ReportException(Diagnostics.Diagnostic.Error(new Diagnostics.SourcePlace(path, 0, 0), "there is no such program"));
            return;
        }
        if (!path.EndsWith(Manuscript.Extension, StringComparison.Ordinal) || !Directory.Exists(Path.GetDirectoryName(Path.GetFullPath(path)))) Manuscript.Open(path);
    }
}
