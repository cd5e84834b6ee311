using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>Completion of calls in shells.</summary>
public sealed class CompletionTests : IDisposable
{
    private readonly TestFolder folder = new();

    public CompletionTests() => folder.Write("r.ms.md", "```manuscript\nparameter season: 2025\nparameter apiary: Mill Lane\n```\n\n```csharp prepare hives\nvar x = 1;\n```\n\n```csharp prepare honey\nvar y = 1;\n```\n");

    public void Dispose() => folder.Dispose();

    [Theory]
    [InlineData("fennick wr", "write")]
    [InlineData("fennick ho", "house")]
    [InlineData("fennick house ", "check list new")]
    [InlineData("fennick write r.ms.md --fo", "--force")]
    [InlineData("fennick write r.ms.md --set ", "apiary= season=")]
    [InlineData("fennick write r.ms.md --with tables.ru", "tables.ruling=")]
    [InlineData("fennick try r.ms.md h", "hives honey")]
    [InlineData("fennick new bees --kind an", "annex annual")]
    [InlineData("fennick help page.w", "page.watermark")]
    [InlineData("fennick try r.ms.md --figures b", "blocks")]
    // Here a file is meant.
    [InlineData("fennick write ", "")]
    [InlineData("fennick batch ", "")]
    [InlineData("fennick batch ga", "gather")]
    [InlineData("fennick write nothere.ms.md --set ", "")]
    public void The_command_says_what_may_stand_where_the_cursor_is(string line, string expected)
    {
        var result = FennickCommand.Run(folder.Path, $"[suggest:{line.Length}]", line);
        Assert.Equal((0, expected, ""), (result.ExitCode, string.Join(' ', result.Output.Split('\n', StringSplitOptions.RemoveEmptyEntries)), result.Errors));
    }

    [Theory]
    [InlineData("bash", "COMP_LINE='CALL' COMP_POINT=${#COMP_LINE} COMP_WORDS=(CALL) COMP_CWORD=$((${#COMP_WORDS[@]}-1)); _fennick 2>/dev/null; printf '%s\\n' \"${COMPREPLY[@]}\"")]
    [InlineData("zsh", "BUFFER='CALL' CURSOR=${#BUFFER}; _fennick")]
    [InlineData("fish", "complete -C 'CALL' | string split -f1 \\t")]
    public void Each_shell_completes_by_what_the_command_prints(string shell, string call)
    {
        if (!(Environment.GetEnvironmentVariable("PATH") ?? "").Split(':').Any(f => File.Exists(Path.Combine(f, shell)))) Assert.Skip($"{shell} is not installed");
        var stubs = shell == "zsh" ? "compdef() { :; }; compadd() { shift; print -l -- $*; }; _files() { :; }\n" : "";
        var script = folder.Write("script", $"{stubs}fennick completion {shell} > completion\n{(shell == "fish" ? "source completion" : ". ./completion")}\n{call.Replace("CALL", "fennick write r.ms.md --with tables.ru", StringComparison.Ordinal)}\n");
        var result = Command.Run(shell, [script], folder.Path, new Dictionary<string, string>(FennickCommand.ByName(folder)) { ["HOME"] = folder.Path });
        Assert.Equal("tables.ruling=", result.Output.Trim());
        Assert.Equal(2, FennickCommand.Run(folder.Path, "completion", "tcsh").ExitCode);
    }
}
