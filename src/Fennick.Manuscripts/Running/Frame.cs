using Fennick.Documents;

namespace Fennick.Manuscripts.Running;

/// <summary>What the program gave in one pass of a loop, in the branch of a condition that was chosen, or outside all of them.</summary>
internal sealed class Frame(Frame? outer)
{
    private readonly Dictionary<int, RichText> values = [];
    private readonly Dictionary<int, object> results = [];
    private Dictionary<int, List<(int Branch, Frame Frame)>>? passes;

    /// <summary>The text of a value, given here or around here.</summary>
    public RichText? Value(int ordinal) => values.TryGetValue(ordinal, out var value) ? value : outer?.Value(ordinal);

    public void Give(int ordinal, RichText value) => values[ordinal] = value;

    /// <summary>The result of a step.</summary>
    public object? Result(int ordinal) => results.GetValueOrDefault(ordinal);

    public void GiveResult(int ordinal, object result) => results[ordinal] = result;

    /// <summary>Whether the program came to its end.</summary>
    public bool IsComplete { get; set; }

    /// <summary>The step in which it was left early; null if it was not.</summary>
    public int? LeftIn { get; set; }

    /// <summary>Begins a pass in here.</summary>
    public Frame Begin(int control, int branch)
    {
        var frame = new Frame(this);
        passes ??= [];
        if (!passes.TryGetValue(control, out var known)) passes[control] = known = [];
        known.Add((branch, frame));
        return frame;
    }

    /// <summary>The passes of a loop or condition in order, each with its branch; they are forgotten, for they are placed once.</summary>
    public IReadOnlyList<(int Branch, Frame Frame)> TakePasses(int control) => passes is not null && passes.Remove(control, out var known) ? known : [];
}
