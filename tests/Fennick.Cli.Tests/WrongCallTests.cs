using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>What is said of calls that name no command, or almost one.</summary>
public sealed class WrongCallTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Theory]
    [InlineData("wriet p.ms.md", "error: there is no command `wriet`; did you mean `write`?\nSee `fennick write --help`.\n")]
    [InlineData("x --help", "error: there is no command `x`\nSee `fennick --help`.\n")]
    [InlineData("batc --help", "error: there is no command `batc`; did you mean `batch`?\nSee `fennick batch --help`.\n")]
    [InlineData("house chek tansy", "error: there is no command `chek`; did you mean `check`?\nSee `fennick house check --help`.\n")]
    public void An_unknown_command_names_the_near_one_and_its_help(string call, string errors)
    {
        var result = FennickCommand.Run(folder.Path, call.Split(' '));
        Assert.Equal((2, errors, ""), (result.ExitCode, result.Errors, result.Output));
    }

    [Theory]
    [InlineData("write", "See `fennick write --help`.")]
    [InlineData("batch a.ms.md", "See `fennick batch --help`.")]
    public void A_call_without_what_it_needs_names_its_own_help(string call, string hint)
    {
        var result = FennickCommand.Run(folder.Path, call.Split(' '));
        Assert.Equal(2, result.ExitCode);
        Assert.EndsWith($"{hint}\n", result.Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", "fennick [command] [options]")]
    [InlineData("write", "fennick write <manuscript> [options]")]
    [InlineData("try", "fennick try <manuscript> [<label>] [options]")]
    [InlineData("batch", "fennick batch [<manuscript>] [command] [options]")]
    [InlineData("batch gather", "fennick batch gather <folders>... [options]")]
    [InlineData("check", "fennick check [<file>] [options]")]
    [InlineData("house", "fennick house [command] [options]")]
    [InlineData("house list", "fennick house list [options]")]
    [InlineData("house new", "fennick house new <name> <file> [options]")]
    [InlineData("house check", "fennick house check <file> [options]")]
    [InlineData("new", "fennick new <folder> [options]")]
    [InlineData("demo", "fennick demo [options]")]
    public void Help_says_how_to_call_with_examples_and_exit_codes(string command, string usage)
    {
        var result = FennickCommand.Run(folder.Path, [.. command.Split(' ', StringSplitOptions.RemoveEmptyEntries), "--help"]);
        Assert.Equal((0, ""), (result.ExitCode, result.Errors));
        Assert.Contains($"Usage:\n  {usage}\n", result.Output, StringComparison.Ordinal);
        var examples = result.Output[(result.Output.IndexOf("Examples:\n", StringComparison.Ordinal) + "Examples:\n".Length)..].Split("\n\n")[0].Split('\n');
        Assert.All(examples, e => Assert.StartsWith($"  fennick {command}".TrimEnd() + " ", e + " ", StringComparison.Ordinal));
        Assert.Contains("Exit codes:\n  0 ", result.Output, StringComparison.Ordinal);
        // What is said to be there to read is there.
        var page = result.Output.TrimEnd().Split('\n')[^1]["More: ".Length..];
        Assert.True(File.Exists(Repository.PathOf(page)), page);
        // Defaults are told in one form.
        Assert.DoesNotContain("[default", result.Output, StringComparison.Ordinal);
    }
}
