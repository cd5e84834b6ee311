using System.Globalization;

namespace Fennick.Testing;

/// <summary>Tests that try something at random do so a few times in every run, and as often as a variable of the environment says in a long one.</summary>
public static class LongRun
{
    /// <summary>How often to try.</summary>
    /// <param name="variable">The variable.</param>
    /// <param name="few">How often if it is not set.</param>
    public static int Times(string variable, int few) => int.TryParse(Environment.GetEnvironmentVariable(variable), NumberStyles.None, CultureInfo.InvariantCulture, out var many) ? many : few;
}
