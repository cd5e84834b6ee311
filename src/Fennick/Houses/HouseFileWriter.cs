using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Layout;
using Fennick.Pictures;
using Fennick.Styles;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Writes a built-in house as a file to edit in a word processor: its styles, its page, and a slot for each thing that a report says of itself.</summary>
internal static class HouseFileWriter
{
    private static readonly Length LogoHeight = Length.Centimetres(2);

    /// <summary>The package of a house.</summary>
    /// <param name="house">The house.</param>
    /// <param name="logo">A picture for the slot <c>logo</c> above the title; none if null.</param>
    /// <param name="cover">A picture for the slot <c>cover</c>, a page of its own behind the title; none if null.</param>
    /// <param name="isForPeople">Whether the slots hold words that say what goes there.</param>
    public static PackageBuilder Write(DressedHouse house, Picture? logo = null, Picture? cover = null, bool isForPeople = true)
    {
        var title = ImmutableArray.CreateBuilder<GalleyBlock>();
        if (cover is not null) title.Add(new GalleyParagraph(StyleRole.Spacer, [new GalleyPicture(cover, house.Page.Width, house.Page.Height, "cover", "Cover") { IsBehind = true }]));
        if (logo is not null) title.Add(new GalleyParagraph(StyleRole.Figure, [new GalleyPicture(logo, LogoHeight * ((double)logo.PixelWidth / logo.PixelHeight), LogoHeight, "logo", "Logo")]));
        title.AddRange(Slot(StyleRole.Title, "title", "The title"), Slot(StyleRole.Subtitle, "subtitle", "The subtitle"), Slot(StyleRole.Author, "author", "Who wrote it"), Slot(StyleRole.Date, "date", "The date"));
        var body = new GalleyParagraph(StyleRole.Body, [new GalleyControl("body", [new GalleyText("The report stands here.")])]);
        GalleyStory footer = new(new StoryKind(IsFooter: true), [new GalleyParagraph(StyleRole.Footer, [new GalleyControl("title", [new GalleyText("The title")]), new GalleyTab(), new GalleyPage()])]);
        // The cover has no footer.
        GalleySection[] sections = cover is null ? [new GalleySection(house.Page, [.. title, body]) { Stories = [footer] }]
            : [new GalleySection(house.Page, [.. title, new GalleyParagraph(StyleRole.Spacer, [])]), new GalleySection(house.Page, [body]) { Stories = [footer] }];
        var flow = new Galley([.. sections], [], [], new DocumentProperties(house.Design.Name, "", [], null, house.Language.Tag, []));
        return PackageWriter.Write(Fitting.Fit(flow, house), new PageMap(new Dictionary<BlockId, PageLabel>(), new Dictionary<Inline, PageLabel>(), 1), house, []);

        GalleyParagraph Slot(StyleRole role, string name, string words) => new(role, [new GalleyControl(name, isForPeople ? [new GalleyText(words)] : [])]);
    }
}
