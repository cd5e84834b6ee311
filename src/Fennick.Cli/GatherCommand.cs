using System.CommandLine;
using Fennick.Batches;

namespace Fennick.Cli;

/// <summary><c>fennick batch gather DIR…</c>: puts the parts together that many machines have made.</summary>
internal static class GatherCommand
{
    public static Command Create()
    {
        var folders = new Argument<string[]>("folders") { Description = "The folders of the parts. The first receives all documents and the ledger of the whole.", Arity = ArgumentArity.OneOrMore };
        var command = new Command("gather", "Puts together the parts of a batch that several machines have made.") { folders };
        command.SetAction(call =>
        {
            var isWhole = true;
            var code = Terminal.Telling(() =>
            {
                var gathered = Gathering.Gather(call.GetRequiredValue(folders));
                foreach (var unit in gathered.Twice) Terminal.Say($"made twice: {unit}; the later document counts");
                foreach (var (unit, error) in gathered.Missing) Terminal.Say($"missing: {unit}{(error is null ? "" : $"; {error}")}");
                Terminal.Result(gathered.Folder);
                Terminal.Say($"{gathered.Made} units, {gathered.Missing.Length} missing, {gathered.Twice.Length} made twice");
                isWhole = gathered.Missing.IsEmpty;
            });
            return code == ExitCodes.Done && !isWhole ? ExitCodes.SomeFailed : code;
        });
        return command;
    }
}
