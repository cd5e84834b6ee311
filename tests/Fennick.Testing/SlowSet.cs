using Xunit;

namespace Fennick.Testing;

/// <summary>Tests that take long, as they restore packages or build the product anew; <c>.ci/run</c> runs them too.</summary>
public static class SlowSet
{
    private const string Variable = "FENNICK_SLOW";

    /// <summary>Skips the test, and says so, unless the slow set is wanted.</summary>
    public static void Enter() => Assert.SkipUnless(Environment.GetEnvironmentVariable(Variable) == "1", $"SKIPPED: this test takes long; set {Variable}=1 to run it, as .ci/run does");
}
