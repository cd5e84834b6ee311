namespace Fennick.Revision;

/// <summary>Whether a file is still what a report was made from.</summary>
public enum InputState
{
    /// <summary>It holds the same.</summary>
    Same,

    /// <summary>It holds something else.</summary>
    Changed,

    /// <summary>It is not here.</summary>
    Missing,
}
