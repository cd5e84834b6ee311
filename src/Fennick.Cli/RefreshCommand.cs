using System.CommandLine;
using System.Diagnostics;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Revision;

namespace Fennick.Cli;

/// <summary><c>fennick refresh EDITED.docx [--manuscript FILE] [--set NAME=VALUE]… [--propose FORM] [--tracked] [--dry] [--json]</c></summary>
internal static class RefreshCommand
{
    public static Command Create()
    {
        var arguments = new ManuscriptArguments();
        var edited = new Argument<string>("document") { Description = "The document that people have edited." };
        ManuscriptArguments.NeedsName(edited);
        var manuscript = new Option<string?>("--manuscript") { Description = "Its manuscript (default: the one that it was made from, in the same folder).", HelpName = "FILE" };
        var propose = new Option<string>("--propose") { Description = "How to propose what the manuscript gives where people have changed the same: comment (the default) or tracked.", HelpName = "FORM", DefaultValueFactory = _ => "comment" };
        propose.AcceptOnlyFromAmong("comment", "tracked");
        var tracked = new Option<bool>("--tracked") { Description = "Makes everything that is refreshed a tracked change." };
        var dry = new Option<bool>("--dry") { Description = "Only lists what would be done." };
        var json = new Option<bool>("--json") { Description = "Lists it as JSON, one line for each change." };
        var command = new Command("refresh", "Brings a document that people have edited up to date; what they did stays.") { edited, manuscript, arguments.Set, arguments.With, propose, tracked, dry, json };
        command.SetAction(call => Terminal.Telling(() =>
        {
            var watch = Stopwatch.StartNew();
            var path = call.GetRequiredValue(edited);
            var options = new RefreshOptions { Proposals = call.GetValue(propose) == "tracked" ? ProposalForm.Tracked : ProposalForm.Comment, IsTracked = call.GetValue(tracked) };
            var opened = Manuscript.Open(call.GetValue(manuscript) ?? Living.ManuscriptOf(path), arguments.Settings(call));
            RefreshedReport refreshed;
            using (new StepProgress(opened.StepCount)) refreshed = opened.Refresh(path, arguments.Parameters(call), options, call.GetValue(dry));
            foreach (var step in refreshed.Outputs) Terminal.Say(step);
            foreach (var diagnostic in refreshed.Diagnostics) Terminal.Say(diagnostic);
            Tell(refreshed, call.GetValue(json));
            Terminal.Say($"{(refreshed.Kept is null ? "looked at" : "refreshed")} in {Terminal.Describe(watch.Elapsed)}{Terminal.DescribeCompiling(refreshed.CompileTime)}");
        }));
        return command;
    }

    private static void Tell(RefreshedReport refreshed, bool asJson)
    {
        var result = refreshed.Result;
        if (asJson)
        {
            foreach (var change in result.Changes)
                Terminal.Json(new { Kind = NameOf(change.Kind), change.What, change.Where, change.Before, change.After, Place = change.Place?.ToString(), change.NeedsYou });
        }
        else
        {
            foreach (var group in result.Changes.GroupBy(c => c.Kind).OrderBy(g => g.Key))
            {
                Terminal.Result(Title(group.Key));
                foreach (var change in group) Terminal.Result($"  {change}{(change.Place is { } place ? $" ({place.File}:{place.Line})" : "")}");
            }
        }
        foreach (var remark in result.Remarks) Terminal.Say(Diagnostic.Warning(new SourcePlace(refreshed.Path, 0, 0), remark));
        Terminal.Say(result.Summary);
        if (refreshed.Kept is not { } kept) return;
        if (!asJson) Terminal.Result(refreshed.Path);
        Terminal.Say($"the old document is kept as {kept}");
    }

    private static string NameOf(ChangeKind kind) => kind switch { ChangeKind.StaysDeleted => "stays deleted", _ => kind.ToString().ToLowerInvariant() };

    private static string Title(ChangeKind kind) => kind switch
    {
        ChangeKind.Refreshed => "Brought up to date:",
        ChangeKind.Added => "Added:",
        ChangeKind.Removed => "Taken out:",
        ChangeKind.Proposed => "Changed by people and by the data; theirs stays, the other is proposed beside it:",
        ChangeKind.StaysDeleted => "Deleted by people; it stays deleted:",
        ChangeKind.Suspect => "Perhaps out of date, in what people wrote:",
        _ => "Left to you:",
    };
}
