using Fennick.Running;

namespace Fennick.Manuscripts.Running;

/// <summary>What the steps of a run go by.</summary>
/// <param name="Shared">What the run shares with others.</param>
internal sealed record StepContext(Sharing.Store Shared) : RunContext
{
    /// <summary>Takes what the steps write to the console; it reaches the console if null.</summary>
    public StepConsole.Capture? Console { get; init; }
}
