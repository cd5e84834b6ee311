using Xunit;

namespace Fennick.Testing;

/// <summary>Texts that stay as they are until somebody changes them on purpose: <c>FENNICK_GOLDEN=write</c> writes them anew.</summary>
public static class Golden
{
    /// <summary>Compares a text, line by line, with the one of this name in <c>tests/golden</c>.</summary>
    public static void Check(string name, IEnumerable<string> lines)
    {
        var path = Repository.PathOf("tests", "golden", name);
        var now = lines.ToArray();
        if (Environment.GetEnvironmentVariable("FENNICK_GOLDEN") == "write")
        {
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            File.WriteAllLines(path, now);
        }
        var before = File.ReadAllLines(path);
        string[] differences = [.. before.Except(now).Select(l => $"- {l}"), .. now.Except(before).Select(l => $"+ {l}")];
        Assert.True(before.SequenceEqual(now), $"{name} is another (FENNICK_GOLDEN=write takes it on):\n{string.Join('\n', differences.Take(40))}");
    }
}
