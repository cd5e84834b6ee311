using System.Text.RegularExpressions;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>Does what a page of the documentation tells its reader to do, in its order: writes the files, runs the commands, and compares what they print.</summary>
internal sealed partial class RunPage
{
    private readonly TestFolder folder;
    private readonly Dictionary<string, string> environment;
    private string said = "";

    private RunPage(TestFolder folder)
    {
        this.folder = folder;
        environment = new(FennickCommand.ByName(folder)) { ["LC_ALL"] = "C.UTF-8" };
    }

    /// <summary>Does it.</summary>
    /// <param name="page">The text of the page.</param>
    /// <param name="folder">Where it is done.</param>
    /// <returns>How many calls it had.</returns>
    public static int Do(string page, TestFolder folder)
    {
        var run = new RunPage(folder);
        var calls = 0;
        foreach (Match block in Fence().Matches(page))
        {
            var (info, text) = (block.Groups[2].Value, block.Groups[3].Value);
            var words = info.Split(' ', 2);
            switch (words[0])
            {
                case "file": folder.Write(words[1], text); break;
                case "append": File.AppendAllText(folder.File(words[1]), text); break;
                case "sh":
                    run.Call(text, words.Length > 1);
                    calls++;
                    break;
                case "text": run.Compare(text); break;
                case "console": break;
                default: Assert.Fail($"the page has a block `{info}`, which nobody runs"); break;
            }
        }
        return calls;
    }

    private void Call(string commands, bool fails)
    {
        folder.Write("commands", $"set -e\nexec 2>&1\n{commands}");
        var result = Command.Run("sh", [folder.File("commands")], folder.Path, environment);
        Assert.True(result.ExitCode == 0 != fails, $"{commands}\n{result.Output}");
        said = result.Output;
    }

    /// <summary>Each line that the page shows is a line of what was said, in this order; `…` stands for any text, and T for any time.</summary>
    private void Compare(string expected)
    {
        var lines = said.Split('\n').Select(l => Progress().Replace(Time().Replace(l.Replace('\u00A0', ' '), "T"), "")).ToArray();
        var at = 0;
        foreach (var line in expected.TrimEnd().Split('\n'))
        {
            var pattern = $"^{Regex.Escape(line.TrimEnd()).Replace("…", ".*", StringComparison.Ordinal)}(, of which T to compile its code)?$";
            var found = Array.FindIndex(lines, at, l => Regex.IsMatch(l.TrimEnd(), pattern));
            Assert.True(found >= 0, $"the page shows\n  {line}\nbut this was said:\n{said}");
            at = found + 1;
        }
    }

    [GeneratedRegex(@"(?m)^(`{3,})([a-z][^\n`]*)\n((?:(?!\1).*\n)*?)\1$")]
    private static partial Regex Fence();

    [GeneratedRegex(@"[0-9]+(\.[0-9]+)? (ms|s)\b")]
    private static partial Regex Time();

    [GeneratedRegex(@"^.*\r")]
    private static partial Regex Progress();
}
