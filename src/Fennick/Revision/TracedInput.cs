namespace Fennick.Revision;

/// <summary>A file that a report was made from.</summary>
/// <param name="Name">Its path from the manuscript's folder.</param>
/// <param name="Hash">What it held: the first half of the SHA-256, as 32 hexadecimal digits.</param>
/// <param name="State">Whether it holds that still.</param>
public sealed record TracedInput(string Name, string Hash, InputState State);
