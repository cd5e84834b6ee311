namespace Fennick.Editors;

/// <summary>A place in a text, both from 0; characters are counted in UTF-16.</summary>
internal sealed record Position(int Line, int Character);

/// <summary>A part of a text.</summary>
internal sealed record TextRange(Position Start, Position End);

/// <summary>Something in a file.</summary>
internal sealed record FoundPlace(string Uri, TextRange Range);

/// <summary>A change of a text.</summary>
internal sealed record TextChange(TextRange Range, string NewText);

/// <summary>Changes of texts, by their addresses.</summary>
internal sealed record TextChanges(IReadOnlyDictionary<string, TextChange[]> Changes);
