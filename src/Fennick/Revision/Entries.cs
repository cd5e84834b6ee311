using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>The entries of lists of contents and indexes: paragraphs that are made from others.</summary>
internal static class Entries
{
    /// <summary>Those among the blocks of a part: a list goes on until its field ends.</summary>
    public static IEnumerable<ReadParagraph> Of(IEnumerable<ReadBlock> blocks)
    {
        var (depth, isList, instruction) = (0, false, "");
        foreach (var paragraph in blocks.OfType<ReadParagraph>())
        {
            var wasInside = isList;
            foreach (var element in paragraph.Element.Descendants())
            {
                if (element.Is("instrText")) instruction += element.Value;
                else if (element.Is("fldChar") && (string?)element.Attribute(W + "fldCharType") is { } type)
                {
                    if (type == "begin")
                    {
                        if (!isList) instruction = "";
                        depth++;
                    }
                    else if (type == "separate" && depth == 1 && Lists(instruction)) isList = true;
                    else if (type == "end" && depth > 0 && --depth == 0) isList = false;
                }
            }
            // The paragraph in which the list ends holds nothing else.
            if ((wasInside || isList) && paragraph.Mark == 0 && (isList || paragraph.Text.Length > 0)) yield return paragraph;
        }
    }

    private static bool Lists(string instruction) => instruction.TrimStart() is var text && (text.StartsWith("TOC", StringComparison.OrdinalIgnoreCase) || text.StartsWith("INDEX", StringComparison.OrdinalIgnoreCase));
}
