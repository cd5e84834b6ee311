using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>The instructions of fields (ECMA-376 Part 1, §17.16.5).</summary>
internal static class FieldCodes
{
    /// <summary>How many pages the document has.</summary>
    public const string PageCount = @"NUMPAGES \* ARABIC";

    /// <summary>What makes the word processor renew a field.</summary>
    public static string Of(FlowField field) => field switch
    {
        FlowPage => "PAGE",
        FlowReportTitle => "TITLE",
        FlowChapterTitle => "STYLEREF 1",
        FlowSequence { Starts: true } sequence => $@"SEQ {sequence.Name} \* ARABIC \r {sequence.Result}",
        FlowSequence sequence => $@"SEQ {sequence.Name} \* ARABIC",
        FlowReference { Form: ReferenceForm.NoteMark } reference => $@"NOTEREF {reference.Bookmark} \f \h",
        FlowReference { Form: ReferenceForm.HeadingNumber } reference => $@"REF {reference.Bookmark} \w \h",
        FlowReference reference => $@"REF {reference.Bookmark} \h",
        _ => throw new InvalidOperationException($"No field for {field.GetType().Name}."),
    };

    /// <summary>What lists headings, or captions of a kind.</summary>
    public static string Of(FlowContentsBegin contents) => contents.Sequence is { } sequence ? $@"TOC \h \z \c ""{sequence}""" : $@"TOC \o ""1-{contents.Levels}"" \h \z \u";

    /// <summary>The page that a bookmark stands on.</summary>
    public static string Of(FlowPageNumber number) => $@"PAGEREF {number.Bookmark} \h";
}
