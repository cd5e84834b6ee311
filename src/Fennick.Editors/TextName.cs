namespace Fennick.Editors;

/// <summary>A text of the editor.</summary>
internal sealed record TextName(Uri Uri, string? Text = null);

/// <summary>A text that was opened.</summary>
internal sealed record OpenedText(TextName TextDocument);

/// <summary>What has changed in a text: all of it is sent.</summary>
internal sealed record ChangedText(TextName TextDocument, IReadOnlyList<WholeText> ContentChanges);

/// <summary>All of a text.</summary>
internal sealed record WholeText(string Text);

/// <summary>A question about a place.</summary>
internal sealed record PlaceQuestion(TextName TextDocument, Position Position);

/// <summary>A question about a part.</summary>
internal sealed record RangeQuestion(TextName TextDocument, TextRange Range);
