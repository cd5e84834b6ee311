using System.CommandLine;
using System.Globalization;
using System.Runtime.InteropServices;
using Fennick.Batches;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Settings;

namespace Fennick.Cli;

/// <summary><c>fennick batch MANUSCRIPT --roster FILE --into DIR …</c> and <c>fennick batch gather DIR…</c></summary>
internal sealed class BatchCommand
{
    private readonly ManuscriptArguments manuscript = new();
    private readonly Option<string?> roster = new("--roster") { Description = "The units: a CSV or JSON file or a spreadsheet whose columns give the parameters. Required.", HelpName = "FILE" };
    private readonly Option<string?> into = new("--into") { Description = "The folder for the documents. Required, unless --bind is given.", HelpName = "DIR" };
    private readonly Option<string?> name = new("--name") { Description = "The pattern of the documents' names, such as {valley}/{apiary}.docx (default: the first column that is a parameter).", HelpName = "PATTERN" };
    private readonly Option<string?> jobs = new("--jobs") { Description = "How many units are made at once (default: the number of processors).", HelpName = "N" };
    private readonly Option<string?> only = new("--only") { Description = "Which units are made: those that are new or changed, those that failed, or all (default: changed).", HelpName = "changed|failed|all" };
    private readonly Option<string?> first = new("--first") { Description = "The largest number of units to make (default: no limit).", HelpName = "N" };
    private readonly Option<string[]> where = ManuscriptArguments.Pairs("--where", "COLUMN=VALUE", "Makes only the units with this value in a column. May be repeated.");
    private readonly Option<string?> part = new("--part") { Description = "Makes one machine's share of the roster, such as 3/40; auto reads it from an array job's variables (default: the whole roster).", HelpName = "I/N" };
    private readonly Option<string?> timeLimit = new("--time-limit") { Description = "How long a unit may take, such as 30s or 5m (default: no limit).", HelpName = "TIME" };
    private readonly Option<string?> bind = new("--bind") { Description = "Puts all units into this one document, each as a chapter. Takes the place of --into.", HelpName = "FILE" };
    private readonly Option<string?> group = new("--group") { Description = "With --bind: a column whose values become headings above the chapters.", HelpName = "COLUMN" };
    private readonly Option<string?> memoryLimit = new("--memory-limit") { Description = "How much memory a unit may take, such as 500MB or 2GB (default: no limit).", HelpName = "SIZE" };
    private readonly Option<bool> inProcess = new("--in-process") { Description = "Makes all units in this process: quicker to start, but a step that crashes ends the whole batch." };
    private readonly Option<bool> living = new("--living") { Description = "Refreshes documents that people have edited around what they did, in place of keeping them beside and making new ones." };
    private readonly Option<bool> force = ManuscriptArguments.Force();
    private readonly Option<bool> quiet = new("--quiet") { Description = "Prints errors only." };
    private readonly Option<bool> json = new("--json") { Description = "Prints one line of JSON for each unit and one for the batch." };

    public static Command Create() => new BatchCommand().Build();

    private Command Build()
    {
        manuscript.File.Arity = ArgumentArity.ZeroOrOne;
        only.AcceptOnlyFromAmong("all", "changed", "failed");
        var command = new Command("batch", "Writes a manuscript's report for every unit of a roster.") { manuscript.File, roster, into, name, jobs, only, first, where, part, timeLimit, memoryLimit, inProcess, bind, group, living, manuscript.Set, manuscript.With, manuscript.Also, force, quiet, json };
        command.Validators.Add(call =>
        {
            if (call.Tokens.Count == 0 && call.Children.OfType<System.CommandLine.Parsing.CommandResult>().Any()) return;
            // The parser says itself which option has no value.
            if (call.Children.OfType<System.CommandLine.Parsing.OptionResult>().Any(o => o is { Implicit: false, Tokens.Count: 0 } && o.Option.Arity.MinimumNumberOfValues > 0)) return;
            if (call.GetValue(manuscript.File) is null) call.AddError("name the manuscript");
            if (call.GetValue(roster) is null) call.AddError("name the units: `--roster FILE`");
            if (call.GetValue(into) is null == call.GetValue(bind) is null) call.AddError("say where the documents go: `--into DIR`, or `--bind FILE` for one document of all");
            if (call.GetValue(group) is not null && call.GetValue(bind) is null) call.AddError("`--group` goes with `--bind`");
            if (call.GetValue(jobs) is { } number && ReadCount(number) is null) call.AddError($"`{number}` is not a number of jobs; write a whole number from 1 on");
            if (call.GetValue(first) is { } count && ReadCount(count) is null) call.AddError($"`{count}` is not a number of units; write a whole number from 1 on");
            if (call.GetValue(timeLimit) is { } limit && Duration.TryParse(limit) is null) call.AddError($"`{limit}` is not a time; write `30s`, `5m` or `1h`");
            if (call.GetValue(memoryLimit) is { } most && ReadSize(most) is null) call.AddError($"`{most}` is not a size; write `500MB` or `2GB`, and at least 50MB");
            if (call.GetValue(memoryLimit) is not null && (call.GetResult(inProcess) is { Implicit: false } || call.GetValue(bind) is not null)) call.AddError("`--memory-limit` needs processes of their own for the units, which `--in-process` and `--bind` do without");
        });
        command.SetAction(Run);
        command.Add(GatherCommand.Create());
        return command;
    }

    private int Run(ParseResult call)
    {
        using var stop = new CancellationTokenSource();
        using var signals = new StopSignals(stop);
        var report = new BatchReport(call.GetValue(quiet), call.GetValue(json));
        report.Begin();
        try
        {
            var opened = Manuscript.Open(call.GetValue(manuscript.File)!, manuscript.Settings(call));
            var batch = Batch.Of(opened, Roster.Read(call.GetValue(roster)!, opened.DataEncoding)) with
            {
                Name = call.GetValue(name),
                Jobs = call.GetValue(jobs) is { } number ? ReadCount(number)!.Value : Environment.ProcessorCount,
                Only = call.GetValue(only) switch { "all" => BatchSelection.All, "failed" => BatchSelection.Failed, _ => BatchSelection.Changed },
                First = call.GetValue(first) is { } count ? ReadCount(count) : null,
                Where = ManuscriptArguments.Read(call.GetValue(where)),
                Part = call.GetValue(part) is { } share ? RosterPart.Parse(share) : default,
                TimeLimit = call.GetValue(timeLimit) is { } limit ? Duration.TryParse(limit) : null,
                MemoryLimit = call.GetValue(memoryLimit) is { } most ? ReadSize(most) : null,
                InProcess = call.GetValue(inProcess),
                Force = call.GetValue(force),
                Living = call.GetValue(living),
                Parameters = manuscript.Parameters(call),
            };
            var result = call.GetValue(bind) is { } file ? batch.Bind(file, call.GetValue(group), report.Show, stop.Token) : batch.Run(call.GetValue(into)!, report.Show, stop.Token);
            report.Finish(result);
            return result.Left > 0 ? ExitCodes.Failed : result.Count(UnitState.Failed) > 0 ? ExitCodes.SomeFailed : ExitCodes.Done;
        }
        catch (ReportException problem)
        {
            report.Clear();
            foreach (var diagnostic in problem.Diagnostics) Terminal.Say(diagnostic);
            return ExitCodes.Failed;
        }
    }

    private static int? ReadCount(string text) => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var count) && count > 0 ? count : null;

    private static long? ReadSize(string text)
    {
        double? factor = text.Length > 2 ? text[^2..].ToUpperInvariant() switch { "MB" => 1e6, "GB" => 1e9, _ => null } : null;
        return factor is { } bytes && double.TryParse(text[..^2], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var count) && count * bytes is >= 50e6 and < 1e15 ? (long)(count * bytes) : null;
    }

    /// <summary>The first Ctrl-C, or a terminal that is closed, stops the batch after the units that are running; the second Ctrl-C ends the process.</summary>
    private sealed class StopSignals : IDisposable
    {
        private readonly PosixSignalRegistration[] registrations;

        public StopSignals(CancellationTokenSource stop) => registrations = [.. new[] { PosixSignal.SIGINT, PosixSignal.SIGTERM, PosixSignal.SIGHUP }.Select(signal => PosixSignalRegistration.Create(signal, context =>
        {
            if (stop.IsCancellationRequested) return;
            context.Cancel = true;
            stop.Cancel();
        }))];

        public void Dispose()
        {
            foreach (var registration in registrations) registration.Dispose();
        }
    }
}
