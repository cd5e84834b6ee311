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
        GalleySequence { Starts: true } sequence => $@"SEQ {sequence.Name} \* ARABIC \r {sequence.Result}",
        GalleySequence sequence => $@"SEQ {sequence.Name} \* ARABIC",
        GalleyReference { Form: ReferenceForm.NoteMark } reference => $@"NOTEREF {reference.Bookmark} \f \h",
        GalleyReference { Form: ReferenceForm.HeadingNumber } reference => $@"REF {reference.Bookmark} \w \h",
        GalleyReference reference => $@"REF {reference.Bookmark} \h",
        _ => throw new InvalidOperationException($"No field for {field.GetType().Name}."),
    };

    /// <summary>What lists headings, or captions of a kind.</summary>
    public static string Of(GalleyContentsBegin contents) => contents.Sequence is { } sequence ? $@"TOC \h \z \c ""{sequence}""" : $@"TOC \o ""1-{contents.Levels}"" \h \z \u";

    /// <summary>The page that a bookmark stands on.</summary>
    public static string Of(GalleyPageNumber number) => $@"PAGEREF {number.Bookmark} \h";
}
