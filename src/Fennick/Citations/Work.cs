using System.Collections.Immutable;

namespace Fennick.Citations;

/// <summary>What kind of work a source is; it decides how the list of sources describes it.</summary>
public enum WorkKind
{
    /// <summary>An article in a journal or newspaper.</summary>
    Article,

    /// <summary>A book as a whole.</summary>
    Book,

    /// <summary>A chapter of a book, or a paper in proceedings.</summary>
    Chapter,

    /// <summary>A report, a thesis, a working paper: of an institution.</summary>
    Report,

    /// <summary>A web page or data set.</summary>
    Web,

    /// <summary>Anything else.</summary>
    Other,
}

/// <summary>A person, or an organisation.</summary>
/// <param name="Family">The family name, or the whole name of an organisation.</param>
/// <param name="Given">Given names; empty for an organisation.</param>
public sealed record Person(string Family, string Given = "")
{
    /// <summary>The first letters of the given names: "J. R.".</summary>
    internal string Initials => string.Join(' ', Given.Split((char[])[' ', '.'], StringSplitOptions.RemoveEmptyEntries).Select(name =>
        string.Join('-', name.Split('-', StringSplitOptions.RemoveEmptyEntries).Select(part => $"{char.ToUpperInvariant(part[0])}."))));
}

/// <summary>A source that the text can cite.</summary>
/// <param name="Key">The name under which it is cited.</param>
public sealed record Work(string Key)
{
    /// <summary>What it is.</summary>
    public WorkKind Kind { get; init; } = WorkKind.Other;

    /// <summary>Who wrote it.</summary>
    public ImmutableArray<Person> Authors { get; init; } = [];

    /// <summary>Who edited it, or the book that it is in.</summary>
    public ImmutableArray<Person> Editors { get; init; } = [];

    /// <summary>The year; empty if it is not known.</summary>
    public string Year { get; init; } = "";

    /// <summary>Its title.</summary>
    public string Title { get; init; } = "";

    /// <summary>The journal or book that it is in.</summary>
    public string Container { get; init; } = "";

    /// <summary>The publisher or institution.</summary>
    public string Publisher { get; init; } = "";

    /// <summary>Where it was published.</summary>
    public string Location { get; init; } = "";

    /// <summary>The volume.</summary>
    public string Volume { get; init; } = "";

    /// <summary>The issue, or the number of a report.</summary>
    public string Issue { get; init; } = "";

    /// <summary>The pages, with an en dash.</summary>
    public string Pages { get; init; } = "";

    /// <summary>The edition, as it is to be read: "2nd ed.".</summary>
    public string Edition { get; init; } = "";

    /// <summary>Its DOI, without the address of a resolver.</summary>
    public string Doi { get; init; } = "";

    /// <summary>Its address.</summary>
    public string Url { get; init; } = "";
}
