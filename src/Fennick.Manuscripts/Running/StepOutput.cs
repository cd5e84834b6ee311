namespace Fennick.Manuscripts.Running;

/// <summary>What a step wrote to the console. It never reaches the report.</summary>
/// <param name="Step">The step's label, or its line.</param>
/// <param name="Text">What it wrote.</param>
public sealed record StepOutput(string Step, string Text);
