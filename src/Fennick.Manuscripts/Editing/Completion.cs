namespace Fennick.Manuscripts.Editing;

/// <summary>What a completion stands for.</summary>
internal enum CompletionKind
{
    Variable,
    Member,
    Method,
    Type,
    Label,
    Setting,
    Value,
    Format,
    Word,
}

/// <summary>Something that may be written at a place.</summary>
/// <param name="Text">What is written.</param>
/// <param name="Kind">What it stands for.</param>
/// <param name="Detail">More about it, in a few words.</param>
/// <param name="Start">Where what it replaces starts in the text.</param>
internal sealed record Completion(string Text, CompletionKind Kind, string? Detail, int Start);
