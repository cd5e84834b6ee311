using System.CommandLine;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Revision;

namespace Fennick.Cli;

/// <summary><c>fennick trace REPORT [WHAT] [--verify] [--manuscript FILE] [--unpack DIR] [--json]</c></summary>
internal static class TraceCommand
{
    public static Command Create()
    {
        var report = new Argument<string>("report") { Description = "A finished report." };
        ManuscriptArguments.NeedsName(report);
        var what = new Argument<string?>("what") { Description = "A number or words as they are printed, or a label (default: everything).", Arity = ArgumentArity.ZeroOrOne };
        var verify = new Option<bool>("--verify") { Description = "Runs the manuscript again and names what it no longer gives, and why." };
        var manuscript = new Option<string?>("--manuscript") { Description = "The manuscript to run again (default: the one that it was made from, in the same folder).", HelpName = "FILE" };
        var unpack = new Option<string?>("--unpack") { Description = "Writes the manuscript and scripts into a folder that the report holds (setting `source: embedded`).", HelpName = "DIR" };
        var json = new Option<bool>("--json") { Description = "Gives JSON, one line for each thing." };
        var command = new Command("trace", "Says of what is printed in a report where it comes from.") { report, what, verify, manuscript, unpack, json };
        command.SetAction(call =>
        {
            var (path, asJson) = (call.GetRequiredValue(report), call.GetValue(json));
            var finds = true;
            var code = Terminal.Telling(() =>
            {
                if (call.GetValue(unpack) is { } folder) foreach (var file in Living.Unpack(path, folder)) Terminal.Result(file);
                else if (call.GetValue(verify)) finds = Verify(path, call.GetValue(manuscript) ?? Living.ManuscriptOf(path), asJson);
                else finds = Trace(path, call.GetValue(what), call.GetValue(manuscript), asJson);
            });
            return code == ExitCodes.Done && !finds ? ExitCodes.Failed : code;
        });
        return command;
    }

    private static bool Trace(string path, string? what, string? manuscript, bool asJson)
    {
        var trace = Living.Trace(path, what, manuscript is null ? null : Path.GetDirectoryName(Path.GetFullPath(manuscript)));
        if (asJson)
        {
            foreach (var item in trace.Items) Terminal.Json(new { item.Text, item.Where, item.Expression, item.Format, item.Value, Place = item.Place?.ToString(), item.Written });
            foreach (var input in trace.Inputs) Terminal.Json(new { Input = input.Name, input.Hash, State = input.State.ToString().ToLowerInvariant() });
        }
        else
        {
            foreach (var item in trace.Items)
            {
                Terminal.Result($"{item.Text}  ({item.Where})");
                if (item.Written is { } written) Terminal.Result($"    written as {written}; people have changed it since");
                Terminal.Result($"    {item.Expression}{(item.Format is { } format ? $":{format}" : "")}{(item.Value is { } value && value != item.Text ? $" = {value}" : "")}");
                if (item.Place is { } place) Terminal.Result($"    {place}");
            }
            if (trace.Manuscript.Length > 0) Terminal.Result($"made from {trace.Manuscript} by Fennick {trace.Program}{(trace.Parameters.IsEmpty ? "" : $", with {string.Join(", ", trace.Parameters.Select(p => $"{p.Key}={p.Value}"))}")}");
            foreach (var input in trace.Inputs) Terminal.Result($"    {input.Name}  {input.State switch { InputState.Same => "as it was read", InputState.Changed => "has changed since", _ => "is not here" }}");
        }
        if (!trace.IsIntact) Terminal.Say(Diagnostic.Warning(new SourcePlace(path, 0, 0), "what the report remembers of how it was made has been changed by somebody"));
        if (what is null || trace.Items.Length > 0) return true;
        Terminal.Say(Diagnostic.Error(new SourcePlace(path, 0, 0), $"nothing in the report is `{what}`", "write a number as it is printed, or a label; without one everything is listed"));
        return false;
    }

    private static bool Verify(string path, string manuscript, bool asJson)
    {
        var result = Manuscript.Open(manuscript).Verify(path);
        if (asJson)
        {
            foreach (var deviation in result.Deviations) Terminal.Json(new { deviation.What, deviation.Where, deviation.Written, deviation.Now, Place = deviation.Place?.ToString() });
            foreach (var reason in result.Reasons) Terminal.Json(new { Reason = reason });
        }
        else
        {
            foreach (var deviation in result.Deviations)
                Terminal.Result($"{deviation.What} in {deviation.Where}: {(deviation.Written.Length > 0 ? $"{deviation.Written} → " : "")}{deviation.Now ?? "gone"}{(deviation.Place is { } place ? $" ({place.File}:{place.Line})" : "")}");
            foreach (var reason in result.Reasons) Terminal.Result($"changed since: {reason}");
        }
        Terminal.Say(result.Deviations.IsEmpty ? "everything in the report comes out as it was written" : $"{result.Deviations.Length} things do not come out as they were written");
        return result.Deviations.IsEmpty;
    }
}
