using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>What is said of calls that name no command, or almost one.</summary>
public sealed class WrongCallTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Theory]
    [InlineData("wriet p.ms.md", "error: there is no command `wriet`; did you mean `write`?\n`fennick write --help` says what it takes.\n")]
    [InlineData("x --help", "error: there is no command `x`\n`fennick --help` lists the commands.\n")]
    [InlineData("batc --help", "error: there is no command `batc`; did you mean `batch`?\n`fennick batch --help` says what it takes.\n")]
    [InlineData("house chek tansy", "error: there is no command `chek`; did you mean `check`?\n`fennick house check --help` says what it takes.\n")]
    public void An_unknown_command_names_the_near_one_and_its_help(string call, string errors)
    {
        var result = FennickCommand.Run(folder.Path, call.Split(' '));
        Assert.Equal((2, errors, ""), (result.ExitCode, result.Errors, result.Output));
    }

    [Theory]
    [InlineData("write", "`fennick write --help` says what it takes.")]
    [InlineData("batch a.ms.md", "`fennick batch --help` says what it takes.")]
    public void A_call_without_what_it_needs_names_its_own_help(string call, string hint)
    {
        var result = FennickCommand.Run(folder.Path, call.Split(' '));
        Assert.Equal(2, result.ExitCode);
        Assert.EndsWith($"{hint}\n", result.Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("--help", "Usage:")]
    [InlineData("write --help", "Usage:")]
    [InlineData("house check --help", "Usage:")]
    public void Help_is_a_result(string call, string part)
    {
        var result = FennickCommand.Run(folder.Path, call.Split(' '));
        Assert.Equal(0, result.ExitCode);
        Assert.Contains(part, result.Output, StringComparison.Ordinal);
    }
}
