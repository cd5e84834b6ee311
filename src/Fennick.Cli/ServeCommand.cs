using System.CommandLine;
using Fennick.Editors;

namespace Fennick.Cli;

/// <summary><c>fennick serve</c>: answers an editor over standard input and output.</summary>
internal static class ServeCommand
{
    public static Command Create()
    {
        var command = new Command("serve", "Answers an editor by the language server protocol, over standard input and output. Editors start it.");
        command.SetAction(async (_, _) =>
        {
            await EditorService.ServeAsync(Console.OpenStandardInput(), Console.OpenStandardOutput());
            return ExitCodes.Done;
        });
        return command;
    }
}
