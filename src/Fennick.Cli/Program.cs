using System.CommandLine;
using Fennick.Cli;
using Fennick.Diagnostics;

var root = new RootCommand("Fennick makes editable word-processor reports from analysis scripts.")
{
    WriteCommand.Create(),
    TryCommand.Create(),
    BatchCommand.Create(),
    CheckCommand.Create(),
    HouseCommand.Create(),
    NewCommand.Create(),
    DemoCommand.Create(),
};
root.HelpName = "fennick";
var call = root.Parse(args);
if (call.Errors.Count > 0)
{
    foreach (var error in call.Errors) Terminal.Error(error.Message);
    Terminal.Say("`fennick --help` lists the commands, `fennick write --help` what one of them takes.");
    return ExitCodes.WrongCall;
}
try
{
    return call.Invoke(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
}
catch (Exception problem)
{
    Terminal.Say(Fault.Describe(problem));
    return ExitCodes.Failed;
}
