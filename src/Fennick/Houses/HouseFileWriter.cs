using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Layout;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Writes a built-in house as a file to edit in a word processor: its styles, its page, and a slot for each thing that a report says of itself.</summary>
internal static class HouseFileWriter
{
    public static PackageBuilder Write(DressedHouse house)
    {
        FlowSection section = new(house.Page,
        [
            Slot(StyleRole.Title, "title", "The title"),
            Slot(StyleRole.Subtitle, "subtitle", "The subtitle"),
            Slot(StyleRole.Author, "author", "Who wrote it"),
            Slot(StyleRole.Date, "date", "The date"),
            Slot(StyleRole.Body, "body", "The report stands here."),
        ])
        {
            Stories = [new FlowStory(new StoryKind(IsFooter: true), [new FlowParagraph(StyleRole.Footer, [new FlowControl("title", [new FlowText("The title")]), new FlowTab(), new FlowField("PAGE", "1")])])],
        };
        var properties = new DocumentProperties(house.Design.Name, "", [], null, house.Language.Tag, []);
        var flow = new FlowDocument([section], [], [], properties);
        return PackageWriter.Write(Fitting.Fit(flow, house), new PageMap(new Dictionary<BlockId, PageLabel>(), 1), house, new List<Diagnostic>());
    }

    private static FlowParagraph Slot(StyleRole role, string name, string words) => new(role, ImmutableArray.Create<FlowInline>(new FlowControl(name, [new FlowText(words)])));
}
