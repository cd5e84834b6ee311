using System.CommandLine;
using Fennick.Cli;
using Fennick.Cli.Watching;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Running;

// The process that makes what is being watched is this program once more.
if (MakerProgram.Run()) return ExitCodes.Done;
// What cannot be said does not end the work; a result that cannot be given is an error.
Console.SetError(new GuardedWriter(Console.Error, _ => { }));
Console.SetOut(new GuardedWriter(Console.Out, problem => throw new ReportException(Diagnostic.Error(null, $"the result cannot be printed: {FileProblem.Reason(problem)}", "what was written to files is there"))));
var root = new RootCommand("Fennick makes editable word-processor reports from analysis scripts.")
{
    WriteCommand.Create(),
    RefreshCommand.Create(),
    CompareCommand.Create(),
    JoinCommand.Create(),
    TraceCommand.Create(),
    WatchCommand.Create(),
    TryCommand.Create(),
    BatchCommand.Create(),
    CheckCommand.Create(),
    HouseCommand.Create(),
    ServeCommand.Create(),
    NewCommand.Create(),
    DemoCommand.Create(),
};
root.Add(HelpCommand.Create(root));
root.Add(CompletionCommand.Create());
root.HelpName = "fennick";
HelpPages.AddTo(root);
var call = root.Parse(args);
if (CompletionCommand.Answers(args, call)) return ExitCodes.Done;
if (call.CommandResult.Command is { Subcommands.Count: > 0 } group && call.UnmatchedTokens.FirstOrDefault(t => !t.StartsWith('-')) is { } unknown)
{
    var name = group == root ? "fennick" : $"fennick {group.Name}";
    var meant = Nearest.Find(unknown, group.Subcommands.Select(c => c.Name));
    Terminal.Error($"there is no command `{unknown}`{(meant is null ? "" : $"; did you mean `{meant}`?")}");
    Terminal.Say($"See `{name} {(meant is null ? "" : $"{meant} ")}--help`.");
    return ExitCodes.WrongCall;
}
if (call.Errors.Count > 0)
{
    foreach (var error in call.Errors) Terminal.Error(error.Message);
    Terminal.Say(call.CommandResult.Command == root ? "See `fennick --help`." : $"See `fennick {HelpPages.NameOf(call.CommandResult.Command)} --help`.");
    return ExitCodes.WrongCall;
}
WorkingFolder.Follows = true;
// Steps are any code: what may end the process runs in one of its own.
_ = (Console.Error, Console.Out, Console.IsErrorRedirected, Console.IsOutputRedirected);
try
{
    if (!OwnProcess.Begin() && call.CommandResult.Command.Name is ("write" or "refresh" or "trace" or "try" or "demo") && call.Action is not null && !args.Any(a => a is "--help" or "-h" or "-?" or "--version")) return OwnProcess.Run(args, Terminal.Say, Terminal.Say, ExitCodes.Failed);
    return call.Invoke(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
}
catch (ReportException problem)
{
    foreach (var diagnostic in problem.Diagnostics) Terminal.Say(diagnostic);
    return ExitCodes.Failed;
}
catch (Exception problem)
{
    Terminal.Say(Fault.Describe(problem));
    return ExitCodes.Failed;
}
