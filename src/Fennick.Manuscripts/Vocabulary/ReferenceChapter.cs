using System.Collections.Immutable;

namespace Fennick.Manuscripts.Vocabulary;

/// <summary>Words of one kind.</summary>
/// <param name="Kind">What one of them is.</param>
/// <param name="Title">What they are called together.</param>
/// <param name="Page">The page of the documentation that shows them at work.</param>
/// <param name="Entries">The words.</param>
internal sealed record ReferenceChapter(string Kind, string Title, string Page, ImmutableArray<ReferenceEntry> Entries);
