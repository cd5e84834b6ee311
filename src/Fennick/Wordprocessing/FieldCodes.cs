using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>The instructions of fields (ECMA-376 Part 1, §17.16.5).</summary>
internal static class FieldCodes
{
    /// <summary>How many pages the document has.</summary>
    public const string PageCount = @"NUMPAGES \* ARABIC";

    /// <summary>What makes the word processor renew a field.</summary>
    public static string Of(GalleyField field) => field switch
    {
        GalleyPage => "PAGE",
        GalleyReportTitle => "TITLE",
        GalleyChapterTitle => "STYLEREF 1",
        GalleyChapterNumber => @"STYLEREF 1 \s",
        GalleyLetter letter => $@"SEQ {letter.Name} \* alphabetic",
        GalleySequence { IsRepeated: true } sequence => $@"SEQ {sequence.Name} \* ARABIC \c",
        GalleySequence { IsOfChapter: true, Starts: false } sequence => $@"SEQ {sequence.Name} \* ARABIC \s 1",
        GalleySequence { Starts: true } sequence => $@"SEQ {sequence.Name} \* ARABIC \r {sequence.Result}",
        GalleySequence sequence => $@"SEQ {sequence.Name} \* ARABIC",
        GalleyReference { Form: ReferenceForm.NoteMark } reference => $@"NOTEREF {reference.Bookmark} \f \h",
        GalleyReference { Form: ReferenceForm.HeadingNumber } reference => $@"REF {reference.Bookmark} \w \h",
        GalleyReference reference => $@"REF {reference.Bookmark} \h",
        _ => throw new InvalidOperationException($"No field for {field.GetType().Name}."),
    };

    /// <summary>What lists the terms of the index; between a term and its pages, and between those, stand commas.</summary>
    public const string Index = @"INDEX \e "", """;

    /// <summary>A place that the index leads to; a colon parts the term and what stands under it.</summary>
    public static string Of(GalleyIndexMark mark) => $@"XE ""{Escaped(mark.Source.Term)}{(mark.Source.Detail is { } detail ? $":{Escaped(detail)}" : "")}""";

    private static string Escaped(string term) => term.Replace(@"\", @"\\", StringComparison.Ordinal).Replace(@"""", @"\""", StringComparison.Ordinal).Replace(":", @"\:", StringComparison.Ordinal);

    /// <summary>What readers are told besides that do not know chapters or repeated numbers.</summary>
    public static string ToldToOthers(GalleySequence sequence) => $@"\r {sequence.Result} ";

    /// <summary>What lists headings, or captions of a kind.</summary>
    public static string Of(GalleyContentsBegin contents) => contents.Sequence is { } sequence ? $@"TOC \h \z \c ""{sequence}""" : $@"TOC \o ""1-{contents.Levels}"" \h \z \u";

    /// <summary>The page that a bookmark stands on.</summary>
    public static string Of(GalleyPageNumber number) => $@"PAGEREF {number.Bookmark} \h";
}
