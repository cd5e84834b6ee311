using System.Collections.Immutable;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Pictures;
using Fennick.Styles;

namespace Fennick.Houses;

/// <summary>Brings an organisation's accent, font, logo and cover picture into the parts of a house's file.</summary>
internal sealed class Livery
{
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly XNamespace A = HouseTheme.A;
    private static readonly XNamespace R = StyleSheet.R;
    private static readonly XNamespace Wp = "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing";

    private readonly House house;
    private readonly HouseTheme theme;
    private readonly IReadOnlyList<XElement> roots;

    /// <param name="house">What is wanted.</param>
    /// <param name="theme">The house's theme.</param>
    /// <param name="roots">Its styles first, then its text, headers, footers and lists.</param>
    public Livery(House house, HouseTheme theme, IReadOnlyList<XElement> roots)
    {
        this.house = house;
        this.theme = theme;
        this.roots = roots;
    }

    /// <summary>The accent of the settings.</summary>
    /// <exception cref="ReportException">It is not a colour.</exception>
    public static Colour? AccentOf(House house) => house.Accent is not { } text ? null
        : Colour.Parse(text) is { } colour && text.StartsWith('#') ? colour : throw new ReportException(Diagnostic.Error(null, $"`{text}` is not a colour", "write it as `#B4690E`"));

    /// <summary>Changes the theme and all that wears its colours or its families.</summary>
    public void ChangeColoursAndFont()
    {
        var sheet = new StyleSheet(roots[0], theme, null);
        var heading = sheet.Find("paragraph", "heading 1") is { } style ? Colour.Parse(sheet.ColourOf(style)) : null;
        var isWorn = roots.Any(r => r.Descendants().Attributes().Any(a => a.Name.Namespace == W && a.Name.LocalName is "themeColor" or "themeFill" && HouseTheme.Find(a.Value) is not (null or ThemeColour.Text or ThemeColour.Background)));
        var old = isWorn || heading is not { Hsl.Saturation: > 0.15 } ? Colour.Parse(theme.Colours.GetValueOrDefault(ThemeColour.Accent1)) : heading;
        if (AccentOf(house) is { } accent)
        {
            theme.Change(isWorn ? Palette.With(theme.Colours, accent) : Palette.From(accent), null, null);
            if (old is { } from) Recolour(from, accent);
        }
        // The theme of a house that does not wear it would give its charts the colours of another.
        else if (!isWorn && heading is { Hsl.Saturation: > 0.15 } own) theme.Change(Palette.From(own), null, null);
        RenewThemed();
        if (house.Font is { } family) ChangeFont(sheet, family);
    }

    /// <summary>Puts the logo and the cover into the drawings that bear their names, at their size.</summary>
    /// <param name="package">The parts.</param>
    /// <param name="part">The part that is looked through.</param>
    /// <param name="root">Its root.</param>
    /// <returns>What was replaced.</returns>
    public IEnumerable<string> ReplacePictures(HousePackage package, string part, XElement root)
    {
        foreach (var drawing in root.Descendants(W + "drawing").ToArray())
        {
            if (NameOf(drawing) is not { } name || drawing.Descendants(A + "blip").FirstOrDefault() is not { } blip) continue;
            var isLogo = name == "logo";
            if ((isLogo ? house.Logo : house.Cover) is not { } picture) continue;
            var changed = isLogo ? LogoFor(picture, drawing) : CoverFor(picture, drawing, root);
            var media = AddMedia(package, part, name, changed.Extension, changed.Bytes.ToArray());
            blip.SetAttributeValue(R + "embed", media);
            blip.SetAttributeValue(R + "link", null);
            // What the old picture had beside it, such as its drawing in SVG.
            blip.Element(A + "extLst")?.Remove();
            if (changed.Svg is { } svg) AddSvg(blip, AddMedia(package, part, name, "svg", svg.ToArray()));
            blip.Parent!.Element(A + "srcRect")?.Remove();
            Fit(drawing, blip, changed, isLogo);
            yield return name;
        }
    }

    /// <summary>The name of the slot that a drawing is: its own, or that of the control around it.</summary>
    public static string? NameOf(XElement drawing)
    {
        var own = drawing.Descendants(Wp + "docPr").FirstOrDefault();
        var names = new[] { (string?)own?.Attribute("name"), (string?)own?.Attribute("title"), (string?)own?.Attribute("descr") }.OfType<string>()
            .Concat(drawing.Ancestors(W + "sdt").SelectMany(c => SlotMarker.NamesOf(c)));
        // Programs number the names of pictures that are in a document twice.
        return names.Select(n => n.ToLowerInvariant().TrimEnd([' ', .. "0123456789"]).Trim()).FirstOrDefault(n => n is "logo" or "cover");
    }

    private static void AddSvg(XElement blip, string id)
    {
        XNamespace svg = "http://schemas.microsoft.com/office/drawing/2016/SVG/main";
        blip.Add(new XElement(A + "extLst", new XElement(A + "ext", new XAttribute("uri", "{96DAC541-7B7A-43D3-8B79-37D633B846F1}"), new XElement(svg + "svgBlip", new XAttribute(XNamespace.Xmlns + "asvg", svg.NamespaceName), new XAttribute(R + "embed", id)))));
    }

    private static string AddMedia(HousePackage package, string part, string name, string extension, byte[] bytes)
    {
        var media = $"word/media/fennick-{name}.{extension}";
        // The same picture may stand in several forms.
        for (var n = 2; package.Has(media) && !package.Bytes(media).AsSpan().SequenceEqual(bytes); n++) media = $"word/media/fennick-{name}-{n}.{extension}";
        package.Add(media, bytes);
        package.SetDefault(extension, extension == "svg" ? "image/svg+xml" : $"image/{extension}");
        if (package.RelationshipsOf(part).FirstOrDefault(r => r.Target == media) is { } known) return known.Id;
        var id = $"rIdHouse{char.ToUpperInvariant(name[0])}{name[1..]}{package.RelationshipsOf(part).Count}";
        package.Replace(part, package.RelationshipsOf(part).Append(new HouseRelationship(id, "http://schemas.openxmlformats.org/officeDocument/2006/relationships/image", media, false)).ToArray());
        return id;
    }

    /// <summary>A logo keeps its shape inside the room of the old one; a cover fills that room, and what is too much is cut off.</summary>
    private static void Fit(XElement drawing, XElement blip, Picture picture, bool isLogo)
    {
        var extents = drawing.Descendants().Where(e => e.Name == Wp + "extent" || (e.Name == A + "ext" && e.Attribute("cx") is not null)).ToArray();
        if (extents.Length == 0 || (long?)extents[0].Attribute("cx") is not ({ } width and > 0) || (long?)extents[0].Attribute("cy") is not ({ } height and > 0)) return;
        var (own, room) = ((double)picture.PixelWidth / picture.PixelHeight, (double)width / height);
        if (isLogo)
        {
            foreach (var extent in extents)
            {
                if (own < room) extent.SetAttributeValue("cx", (long)(height * own));
                else extent.SetAttributeValue("cy", (long)(width / own));
            }
            return;
        }
        var cut = own > room ? 1 - (room / own) : 1 - (own / room);
        var half = (int)Math.Round(cut * 50_000);
        blip.AddAfterSelf(own > room ? new XElement(A + "srcRect", new XAttribute("l", half), new XAttribute("r", half)) : new XElement(A + "srcRect", new XAttribute("t", half), new XAttribute("b", half)));
    }

    private Picture LogoFor(Picture logo, XElement drawing) =>
        house.LightLogo ?? StandsOnDark(drawing) ? CoverPictures.Lighten(logo, Tools("the logo is turned light")) : logo;

    private Picture CoverFor(Picture cover, XElement drawing, XElement root)
    {
        if (house.DarkCover == false) return cover;
        // Only what lies behind the text has words on it.
        var isBehind = drawing.Element(Wp + "anchor") is { } anchor && (string?)anchor.Attribute("behindDoc") is "1" or "true";
        if (!isBehind && house.DarkCover != true) return cover;
        var title = TitleColour(root);
        return house.DarkCover == true || title.Luminance > 0.18 ? CoverPictures.Darken(cover, title, Tools("the cover is darkened")) : cover;
    }

    private IPictureTools Tools(string purpose) => house.PictureTools ?? PictureToolsBeside.Find()
        ?? throw new ReportException(Diagnostic.Error(null, $"{purpose}, and nothing is there that can change pictures", "set `House.PictureTools` to `PictureTools.Instance` of the package Fennick.Plots"));

    /// <summary>The colour of the title's words: of its slot, or of its style.</summary>
    private Colour TitleColour(XElement root)
    {
        var slot = root.Descendants(W + "sdt").FirstOrDefault(c => SlotMarker.NamesOf(c).Contains("title", StringComparer.OrdinalIgnoreCase));
        var direct = slot?.Descendants(W + "rPr").Select(r => theme.Resolve(r.Element(W + "color"), "color", "val")).FirstOrDefault(c => c is not null);
        if (Colour.Parse(direct) is { } own) return own;
        var sheet = new StyleSheet(roots[0], theme, null);
        var styleId = (string?)(slot?.Descendants(W + "pStyle").FirstOrDefault() ?? slot?.Ancestors(W + "p").FirstOrDefault()?.Descendants(W + "pStyle").FirstOrDefault())?.Attribute(W + "val");
        var style = roots[0].Elements(W + "style").FirstOrDefault(s => StyleSheet.IdOf(s) == styleId) ?? sheet.Find("paragraph", "Title");
        return (style is null ? null : Colour.Parse(sheet.ColourOf(style))) ?? new Colour(0, 0, 0);
    }

    /// <summary>Whether the nearest thing with a colour of its own behind a drawing is dark: a cell, a paragraph, a shape, or a cover picture.</summary>
    private bool StandsOnDark(XElement drawing)
    {
        foreach (var around in drawing.Ancestors())
        {
            var shading = around.Name == W + "tc" ? around.Element(W + "tcPr")?.Element(W + "shd") : around.Name == W + "p" ? around.Element(W + "pPr")?.Element(W + "shd") : null;
            if (Colour.Parse(theme.Resolve(shading, "fill", "fill")) is { } fill) return fill.Luminance < 0.18;
            if (around.Name.LocalName == "wsp" && around.Elements().FirstOrDefault(e => e.Name.LocalName == "spPr")?.Element(A + "solidFill")?.Elements().FirstOrDefault() is { } solid)
                return (Colour.Parse((string?)solid.Attribute("val")) ?? (HouseTheme.Find((string?)solid.Attribute("val") ?? "") is { } named ? Colour.Parse(theme.Colours.GetValueOrDefault(named)) : null)) is { Luminance: < 0.18 };
        }
        // On a cover the logo stands over the picture.
        return drawing.Ancestors().Last().Descendants(W + "drawing").Any(d => d != drawing && NameOf(d) == "cover" && d.Element(Wp + "anchor") is not null);
    }

    /// <summary>Gives literal colours that derive from the old accent, as its hue shows, the hue of the new one.</summary>
    private void Recolour(Colour from, Colour to)
    {
        var (old, now) = (from.Hsl, to.Hsl);
        foreach (var attribute in roots.SelectMany(r => r.DescendantsAndSelf()).Attributes())
        {
            var isLiteral = (attribute.Name.Namespace == W && attribute.Name.LocalName is "val" or "fill" or "color") || (attribute.Name.NamespaceName.Length == 0 && attribute.Name.LocalName is "fillcolor" or "strokecolor")
                || (attribute.Name == "val" && attribute.Parent!.Name == A + "srgbClr");
            if (!isLiteral || Colour.Parse(attribute.Value) is not { } colour) continue;
            if (attribute.Name.Namespace == W && attribute.Name.LocalName == "val" && attribute.Parent!.Name != W + "color") continue;
            var own = colour.Hsl;
            if (!Palette.Derives(colour, from) || own.Saturation < 0.08) continue;
            // The same colour becomes the new one; lighter and darker ones keep their distance.
            var lightness = own.Lightness <= old.Lightness ? now.Lightness * own.Lightness / Math.Max(0.01, old.Lightness) : 1 - ((1 - now.Lightness) * (1 - own.Lightness) / Math.Max(0.01, 1 - old.Lightness));
            var changed = Colour.FromHsl(now.Hue, now.Saturation * Math.Min(1, own.Saturation / Math.Max(0.01, old.Saturation)), lightness);
            attribute.Value = attribute.Value.StartsWith('#') ? $"#{changed}" : changed.ToString();
        }
    }

    /// <summary>Writes beside each name of a theme colour what it stands for now; text in a colour too pale to be read is deepened.</summary>
    private void RenewThemed()
    {
        foreach (var element in roots.SelectMany(r => r.Descendants()))
        {
            if (element.Attribute(W + "themeColor") is not null)
            {
                var literal = element.Name == W + "color" ? "val" : "color";
                if (theme.Resolve(element, "color", literal) is { } hex)
                {
                    element.SetAttributeValue(W + literal, hex);
                    if (element.Name == W + "color" && house.Accent is not null) Deepen(element, Colour.Parse(hex)!.Value);
                }
            }
            if (element.Attribute(W + "themeFill") is not null && theme.Resolve(element, "fill", "fill") is { } fill) element.SetAttributeValue(W + "fill", fill);
        }
    }

    private static void Deepen(XElement element, Colour colour)
    {
        // Light text stands on something dark.
        if (HouseTheme.Find((string)element.Attribute(W + "themeColor")!) is ThemeColour.Background or ThemeColour.Tint || Colour.Contrast(colour, Colour.White) >= 4.5) return;
        var deep = colour.ReadableOn(Colour.White);
        element.SetAttributeValue(W + "val", deep.ToString());
        element.SetAttributeValue(W + "themeTint", null);
        element.SetAttributeValue(W + "themeShade", deep.ShadeOf(colour));
    }

    private void ChangeFont(StyleSheet sheet, string family)
    {
        var body = sheet.Default("paragraph") is { } text ? sheet.FamilyOf(text) : null;
        var heading = sheet.Find("paragraph", "heading 1") is { } first ? sheet.FamilyOf(first) : null;
        theme.Change(ImmutableDictionary<ThemeColour, string>.Empty, family, family);
        foreach (var fonts in roots.SelectMany(r => r.Descendants(W + "rFonts")))
            foreach (var attribute in fonts.Attributes().Where(a => a.Name.LocalName is "ascii" or "hAnsi" && (a.Value == body || a.Value == heading)).ToArray()) attribute.Value = family;
    }
}
