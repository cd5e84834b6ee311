namespace Fennick.Editors;

/// <summary>What is wrong at a place.</summary>
internal sealed record Problem(TextRange Range, int Severity, string Message, string Source = "fennick");

/// <summary>What is wrong in a text.</summary>
internal sealed record Problems(string Uri, IReadOnlyList<Problem> Diagnostics);

/// <summary>A way to mend a problem.</summary>
internal sealed record Remedy(string Title, string Kind, IReadOnlyList<Problem> Diagnostics, TextChanges Edit);
