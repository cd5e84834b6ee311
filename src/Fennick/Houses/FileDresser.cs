using System.Collections.Immutable;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Schema;
using Fennick.Styles;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Dresses a house that is a file: completes its styles, takes its contents apart at slots, and keeps everything else as it is.</summary>
internal sealed partial class FileDresser
{
    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/";
    private const string DocumentName = "word/document.xml";
    private const string TurnedEnding = "Turned";
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly XNamespace R = StyleSheet.R;

    private readonly House house;
    private readonly HouseFile file;
    private readonly Language language;
    private readonly HousePackage package;
    private readonly Dictionary<string, XDocument> opened = new(StringComparer.OrdinalIgnoreCase);
    private readonly SlotMarker slots = new();
    private readonly Dictionary<string, string> turnedParts = new(StringComparer.OrdinalIgnoreCase);
    private readonly List<Diagnostic> diagnostics = [];
    private readonly FontWidths measures;

    private FileDresser(House house, HouseFile file, Language language)
    {
        this.house = house;
        this.file = file;
        this.language = language;
        package = file.Package.Copy();
        measures = HouseDresser.MeasuresBeside(file.Place);
        diagnostics.AddRange(file.Warnings);
    }

    public static DressedHouse Dress(House house, HouseFile file, Language language)
    {
        try
        {
            return new FileDresser(house, file, language).Dress();
        }
        catch (ReportException problem) when (problem.Diagnostics.Any(d => d.Place is null))
        {
            throw new ReportException(problem.Diagnostics.Select(d => d.Place is null ? d with { Place = file.Place } : d), problem);
        }
    }

    private DressedHouse Dress()
    {
        MoveMain();
        var main = Open(DocumentName).Root!;
        var theme = new HouseTheme(package.Find(DocumentName, "theme") is { } themePart ? Open(themePart).Root : AddTheme());
        if (package.Find(DocumentName, "fontTable") is { } fonts) Open(fonts);
        var styles = OpenOrAdd("styles", "word/styles.xml", "styles+xml", xml => StylesPart.Write(xml, BuiltInHouses.Flint, language));
        SetLanguage(styles);
        var settings = OpenOrAdd("settings", "word/settings.xml", "settings+xml", xml => SettingsPart.Write(xml, language, hasNotes: false));
        var numbering = package.Find(DocumentName, "numbering") is { } numberingPart ? Open(numberingPart).Root : null;
        var stories = package.RelationshipsOf(DocumentName).Where(r => r.Is("header") || r.Is("footer")).Select(r => r.Target).Distinct().ToArray();
        var livery = new Livery(house, theme, [styles, main, .. stories.Select(s => Open(s).Root!), .. numbering is null ? [] : new[] { numbering }]);
        livery.ChangeColoursAndFont();

        var sheet = new StyleSheet(styles, theme, numbering);
        foreach (var twice in sheet.TwiceNamed("paragraph")) diagnostics.Add(Diagnostic.Warning(file.Place, $"the house has more than one paragraph style called `{twice}`", "the first of them is taken; give the other another name"));
        var body = new BodyPlace(main, house.KeepsContents, file.Place);
        if (!body.Keeps) DropNotes(main);
        var finder = new RoleFinder(sheet, theme, house.Styles);
        var design = finder.Find(house.Name, body.Page, (string?)settings.Element(W + "defaultTableStyle")?.Attribute(W + "val"));
        AddStyles(sheet, finder, design);
        var lists = new HouseLists(sheet, numbering ?? AddNumbering(), design);
        design = design with { HeadingLevels = lists.NumberHeadings(house.NumbersHeadings) };
        lists.Add();

        if (SettingsDresser.ModeOf(settings) < 15) KeepTablesInPlace([main, .. stories.Select(s => Open(s).Root!)]);
        RenameOwnIds(main);
        RenameBookmarks(main);
        var replaced = stories.Prepend(DocumentName).SelectMany(part => livery.ReplacePictures(package, part, Open(part).Root!)).ToHashSet();
        foreach (var (name, picture) in new[] { ("logo", house.Logo), ("cover", house.Cover) })
            if (picture is not null && !replaced.Contains(name)) diagnostics.Add(Diagnostic.Warning(file.Place, $"the house has no slot `{name}`, so the picture stands nowhere", $"put a picture into the house and give it the name `{name}`"));
        var margins = new TurnedMargins(sheet, body.Page);
        foreach (var story in stories)
        {
            if (margins.Turn(Open(story)) is not { } turned) continue;
            var name = $"{story[..^".xml".Length]}-turned.xml";
            opened[name] = turned;
            turnedParts[story] = name;
        }
        stories = [.. stories, .. turnedParts.Values];
        var counts = Count([main, .. stories.Select(s => Open(s).Root!)], lists);
        var lead = Lead(body, sheet, design);
        var counted = HouseSequences.Settle(body.Before, body.Behind);
        var section = body.Mark();
        section = section with { Turned = [.. section.References.Select(r => (r.Kind, Turned(r.Element)))] };
        var room = new SlotRoom(sheet, measures, body.Page, p => HeightOf(p, sheet, design));
        slots.Mark(main, DocumentName, place => body.WidthAt(place), (names, control) => room.Of(names, control, isStory: false));
        foreach (var story in stories)
            if (Open(story).Root is { } header && header.Name == W + "hdr") header.Elements(W + "p").FirstOrDefault()?.Add(SlotMarker.Watermark);
        foreach (var story in stories) slots.Mark(Open(story).Root!, story, _ => null, (names, control) => room.Of(names, control, isStory: true));
        var own = package.Find("", "custom-properties");
        if (own is not null) slots.MarkProperties(Open(own).Root!);
        var template = Template(main, settings, section, body, counts, stories);
        diagnostics.AddRange(HouseDresser.UnknownFonts(design, measures, file.Place));
        return new DressedHouse(design, language, template, measures)
        {
            Place = file.Place,
            Lead = lead,
            HasStories = true,
            NamesBodyStyle = sheet.Default("paragraph") is { } defaultStyle && StyleSheet.IdOf(defaultStyle) != design.Style(StyleRole.Body).Id,
            AppendsBody = body.IsAppended,
            HasBodySlot = body.HasSlot,
            CountedBefore = counted,
            HasOwnNumbers = lists.HasOwnNumbers,
            Contents = body.Describe(),
            Diagnostics = [.. diagnostics],
            Found = [.. finder.Found],
            Slots = [.. slots.Slots],
            PictureSlots = [.. stories.Prepend(DocumentName).SelectMany(part => Open(part).Root!.Descendants(W + "drawing")).Select(Livery.NameOf).OfType<string>().Distinct()],
            BlockSlots = slots.Slots.Where(s => s.Width is not null).SelectMany(s => s.Names, (s, name) => (Name: name, Width: s.Width!.Value)).DistinctBy(s => s.Name, StringComparer.OrdinalIgnoreCase).ToImmutableDictionary(s => s.Name, s => s.Width, StringComparer.OrdinalIgnoreCase),
        };
    }

    /// <summary>The package as every document has it: what was opened is written anew, all else stays as it was.</summary>
    private PackageTemplate Template(XElement main, XElement settings, SectionTemplate section, BodyPlace body, HouseCounts counts, string[] stories)
    {
        var notes = package.Find(DocumentName, "footnotes");
        var numbering = package.Find(DocumentName, "numbering")!;
        var own = package.Find("", "custom-properties");
        var settingsName = package.Find(DocumentName, "settings")!;
        var core = Others("core-properties", ["category", "keywords", "description", "contentStatus"]);
        var extended = Others("extended-properties", ["Company", "Manager"]);
        foreach (var kind in new[] { "core-properties", "extended-properties", "thumbnail" })
            if (package.Find("", kind) is { } replaced) package.Remove(replaced);

        WithNamespaces(main);
        var document = Split(DocumentName);
        var notesPart = notes is null ? FootnotesPart.Create() : Around(notes);
        var numberingPart = Around(numbering);
        var ownPart = own is null ? PropertiesParts.CreateOwn() : Around(own);
        var withSlots = stories.Where(s => !turnedParts.ContainsValue(s) && SlotMarker.HasMarks(HouseFile.BytesOf(Open(s)))).ToArray();
        HashSet<string> written = new([DocumentName, numbering, settingsName, .. withSlots, .. notes is null ? [] : new[] { notes }, .. own is null ? [] : new[] { own }], StringComparer.OrdinalIgnoreCase);
        var endnotes = package.Find(DocumentName, "endnotes") is { } endnotesPart ? Open(endnotesPart).Root : null;
        Slab SettingsFor(bool hasNotes, bool hasEvenPages)
        {
            var copy = new XDocument(settings.Document!);
            SettingsDresser.Change(copy.Root!, language, notes is null ? null : Open(notes).Root, endnotes, hasNotes, hasEvenPages);
            return Slab.Compress(HouseFile.BytesOf(copy));
        }
        return new PackageTemplate
        {
            TurnedStories = [.. turnedParts.Select(t => TurnedStory(t.Key, t.Value))],
            Parts = [.. PartsBeside(written), .. RelationshipParts(notes)],
            Document = document,
            Slotted = [.. withSlots.Select(Split)],
            Notes = notesPart,
            Numbering = numberingPart,
            OwnProperties = ownPart,
            Settings = new SettingsTemplate(settingsName, SettingsFor),
            HasNotes = notes is not null,
            HasNumbering = true,
            HasOwnProperties = own is not null,
            Section = section,
            BodyIsFollowed = body.IsFollowed,
            Types = TemplatePart.Bytes(WriteTypes),
            TypedEndings = [.. package.Defaults.Keys.Select(k => k.ToLowerInvariant()), "rels", "xml"],
            Relationships = TemplatePart.Bytes(xml =>
            {
                RelationshipsPart.WriteHouseRoot(xml);
                WriteRelationships(xml, "", package.RelationshipsOf("").Where(r => !r.Is("officeDocument")));
            }),
            DocumentRelationships = TemplatePart.Bytes(xml => WriteRelationships(xml, DocumentName, package.RelationshipsOf(DocumentName))),
            NotesRelationships = notes is null ? default : TemplatePart.Bytes(xml => WriteRelationships(xml, notes, package.RelationshipsOf(notes))),
            CoreProperties = core,
            ExtendedProperties = extended,
            Counts = counts,
        };
    }

    private IEnumerable<(string, Slab)> PartsBeside(HashSet<string> written) =>
        from name in package.Names where !written.Contains(name) select (name, Slab.Of(name, opened.TryGetValue(name, out var xml) ? HouseFile.BytesOf(xml) : package.Bytes(name)));

    /// <summary>The reference to a header or footer, led to its form for turned pages.</summary>
    private ReadOnlyMemory<byte> Turned(ReadOnlyMemory<byte> reference)
    {
        var element = XElement.Parse(Encoding.UTF8.GetString(reference.Span));
        var id = (string?)element.Attribute(R + "id");
        var target = package.RelationshipsOf(DocumentName).FirstOrDefault(r => r.Id == id)?.Target;
        if (target is null || !turnedParts.ContainsKey(target)) return reference;
        element.SetAttributeValue(R + "id", id + TurnedEnding);
        return Encoding.UTF8.GetBytes(element.ToString(SaveOptions.DisableFormatting));
    }

    private TurnedStory TurnedStory(string from, string name)
    {
        var relationship = package.RelationshipsOf(DocumentName).First(r => string.Equals(r.Target, from, StringComparison.OrdinalIgnoreCase));
        var own = package.RelationshipsOf(from);
        return new TurnedStory(
            Split(name),
            own.Count == 0 ? null : ($"word/_rels/{Path.GetFileName(name)}.rels", HouseParts.Compress(xml => RelationshipsPart.WriteAll(xml, () => WriteRelationships(xml, name, own)))),
            TemplatePart.Bytes(xml => WriteRelationships(xml, DocumentName, [relationship with { Id = relationship.Id + TurnedEnding, Target = name }])),
            TemplatePart.Bytes(xml => ContentTypesPart.WriteOverride(xml, "/" + name, package.TypeOf(from))));
    }

    /// <summary>The relationships of all parts whose own are not written with each document.</summary>
    private IEnumerable<(string, Slab)> RelationshipParts(string? notes)
    {
        foreach (var name in package.Names)
        {
            if (name == DocumentName || name == notes || package.RelationshipsOf(name).Count == 0) continue;
            var slash = name.LastIndexOf('/') + 1;
            yield return ($"{name[..slash]}_rels/{name[slash..]}.rels", HouseParts.Compress(xml => RelationshipsPart.WriteAll(xml, () => WriteRelationships(xml, name, package.RelationshipsOf(name)))));
        }
    }

    private static void WriteRelationships(Utf8XmlWriter xml, string from, IEnumerable<HouseRelationship> relationships)
    {
        var folder = from[..(from.LastIndexOf('/') + 1)];
        foreach (var relationship in relationships)
        {
            var target = relationship.IsExternal ? relationship.Target : Path.GetRelativePath("/" + folder, "/" + relationship.Target);
            RelationshipsPart.WriteOne(xml, relationship.Id, relationship.Type, RelationshipsPart.EscapeTarget(target), relationship.IsExternal);
        }
    }

    private void WriteTypes(Utf8XmlWriter xml)
    {
        ContentTypesPart.WriteDefault(xml, "rels", "application/vnd.openxmlformats-package.relationships+xml");
        ContentTypesPart.WriteDefault(xml, "xml", "application/xml");
        foreach (var (ending, type) in package.Defaults)
            if (ending.ToUpperInvariant() is not ("RELS" or "XML")) ContentTypesPart.WriteDefault(xml, ending, type);
        foreach (var name in package.Names)
        {
            var type = name == DocumentName ? ContentTypesPart.MainType : package.OverrideOf(name);
            if (type is null && package.TypeOf(name).Length == 0) type = name.EndsWith(".xml", StringComparison.OrdinalIgnoreCase) ? "application/xml" : "application/octet-stream";
            if (type is not null) ContentTypesPart.WriteOverride(xml, "/" + name, type);
        }
        ContentTypesPart.WriteOverride(xml, "/docProps/core.xml", "application/vnd.openxmlformats-package.core-properties+xml");
        ContentTypesPart.WriteOverride(xml, "/docProps/app.xml", "application/vnd.openxmlformats-officedocument.extended-properties+xml");
    }

    /// <summary>Some elements of a part as they are written.</summary>
    private byte[] Others(string kind, string[] names)
    {
        if (package.Find("", kind) is not { } part) return [];
        return Encoding.UTF8.GetBytes(string.Concat(Open(part).Root!.Elements().Where(e => names.Contains(e.Name.LocalName)).Select(e => e.ToString(SaveOptions.DisableFormatting))));
    }

    /// <summary>
    /// Binds the prefixes that a report's own mark-up uses; where the house binds one of them to something else, that gets another prefix, also where it is named in a value.
    /// </summary>
    private static void WithNamespaces(XElement root)
    {
        XNamespace mc = "http://schemas.openxmlformats.org/markup-compatibility/2006";
        var wanted = XElement.Parse(Encoding.UTF8.GetString(TemplatePart.Bytes(xml =>
        {
            using (xml.Element("w:document"u8)) DocumentPart.WriteNamespaces(xml);
        }))).Attributes().Where(a => a.IsNamespaceDeclaration).ToDictionary(a => a.Name.LocalName, a => a.Value);
        var renamed = new Dictionary<string, string>();
        foreach (var attribute in root.DescendantsAndSelf().Attributes().Where(a => a.IsNamespaceDeclaration && a.Name.Namespace == XNamespace.Xmlns && wanted.TryGetValue(a.Name.LocalName, out var uri) && uri != a.Value).ToArray())
        {
            var prefix = renamed[attribute.Name.LocalName] = attribute.Name.LocalName + "House";
            attribute.Parent!.SetAttributeValue(XNamespace.Xmlns + prefix, attribute.Value);
            attribute.Remove();
        }
        foreach (var (prefix, uri) in wanted) root.SetAttributeValue(XNamespace.Xmlns + prefix, uri);
        foreach (var attribute in renamed.Count == 0 ? [] : root.DescendantsAndSelf().Attributes().Where(a => (a.Name.Namespace == mc && a.Name.LocalName is "Ignorable" or "MustUnderstand" or "ProcessContent") || (a.Name == "Requires" && a.Parent!.Name.Namespace == mc)))
            attribute.Value = string.Join(' ', attribute.Value.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(p => renamed.GetValueOrDefault(p, p)));
        // What newer word processors know, older ones pass over.
        string[] ignorable = [.. ((string?)root.Attribute(mc + "Ignorable") ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries)];
        root.SetAttributeValue(mc + "Ignorable", string.Join(' ', ignorable.Union(["w14"])));
    }

    /// <summary>The height of a paragraph with the space around it, in points.</summary>
    private double HeightOf(XElement paragraph, StyleSheet sheet, HouseDesign design)
    {
        if (sheet.StyleOf(paragraph) is not { } found) return 0;
        var style = sheet.Resolve(found, BuiltInHouses.Tansy.Style(StyleRole.Body));
        var face = measures.Face(new FontFace(style.Family!, style.Bold, style.Italic));
        var lines = 1 + (int)(face.Width(paragraph.Value, style.Points) / Math.Max(1, design.Page.TextWidth.Points));
        return (lines * face.LineHeight(style.Points) * style.Lines) + style.Before.Points + style.After.Points;
    }

    private HouseLead Lead(BodyPlace body, StyleSheet sheet, HouseDesign design) =>
        body.Lead(p => HeightOf(p, sheet, design), block => block.DescendantsAndSelf(W + "p").Any(p => StyleSheet.IsOn(p.Element(W + "pPr")?.Element(W + "pageBreakBefore")) || (sheet.StyleOf(p) is { } style && StyleSheet.IsOn(sheet.Property(style, "pPr", "pageBreakBefore")))));

    private XDocument Open(string part)
    {
        if (!opened.TryGetValue(part, out var xml)) opened[part] = xml = package.Xml(part);
        return xml;
    }

    private XElement OpenOrAdd(string kind, string name, string type, Action<Utf8XmlWriter> write)
    {
        if (package.Find(DocumentName, kind) is { } part) return Open(part).Root!;
        Add(kind, name, type, TemplatePart.Bytes(write));
        return Open(name).Root!;
    }

    private void Add(string kind, string name, string type, byte[] bytes)
    {
        package.Add(name, bytes);
        package.SetType(name, type.Contains('/') ? type : "application/vnd.openxmlformats-officedocument.wordprocessingml." + type);
        package.Replace(DocumentName, package.RelationshipsOf(DocumentName).Append(new HouseRelationship($"rIdOwn{kind}", Office + kind, name, false)));
    }

    /// <summary>The words are the report's, so spelling is checked in its language and not in the house's.</summary>
    private void SetLanguage(XElement styles)
    {
        if (styles.Element(W + "docDefaults") is not { } defaults) styles.AddFirst(defaults = new XElement(W + "docDefaults"));
        if (defaults.Element(W + "rPrDefault") is not { } run) defaults.AddFirst(run = new XElement(W + "rPrDefault"));
        if (run.Element(W + "rPr") is not { } properties) run.Add(properties = new XElement(W + "rPr"));
        if (properties.Element(W + "lang") is not { } lang) properties.Add(lang = new XElement(W + "lang"));
        lang.SetAttributeValue(W + "val", language.Tag);
        if (language.IsRightToLeft)
        {
            lang.SetAttributeValue(W + "bidi", language.Tag);
            if (defaults.Element(W + "pPrDefault") is not { } paragraph) defaults.Add(paragraph = new XElement(W + "pPrDefault"));
            if (paragraph.Element(W + "pPr") is not { } directed) paragraph.Add(directed = new XElement(W + "pPr"));
            if (directed.Element(W + "bidi") is null) directed.Add(new XElement(W + "bidi"));
        }
        SchemaMender.Order(defaults);
    }

    private XElement AddTheme()
    {
        Add("theme", "word/theme/theme1.xml", "application/vnd.openxmlformats-officedocument.theme+xml", TemplatePart.Bytes(xml => ThemePart.Write(xml, BuiltInHouses.Flint, language)));
        return Open("word/theme/theme1.xml").Root!;
    }

    private XElement AddNumbering()
    {
        Add("numbering", "word/numbering.xml", "numbering+xml", Encoding.UTF8.GetBytes($"<w:numbering xmlns:w=\"{W}\"/>"));
        return Open("word/numbering.xml").Root!;
    }

    /// <summary>The text stands in a part of the usual name, whatever the house calls it.</summary>
    private void MoveMain()
    {
        if (string.Equals(package.Main, DocumentName, StringComparison.OrdinalIgnoreCase)) return;
        var relationships = package.RelationshipsOf(package.Main).ToArray();
        package.Add(DocumentName, package.Bytes(package.Main));
        package.Remove(package.Main);
        package.Replace(DocumentName, relationships);
    }

    /// <summary>Ids that the relationships of a report could have are given up by the house.</summary>
    private void RenameOwnIds(XElement main)
    {
        var taken = package.RelationshipsOf(DocumentName).Where(r => RelationshipsPart.IsOwnId(r.Id)).ToDictionary(r => r.Id, r => "rIdHouse" + r.Id[3..]);
        if (taken.Count == 0) return;
        package.Replace(DocumentName, package.RelationshipsOf(DocumentName).Select(r => taken.TryGetValue(r.Id, out var id) ? r with { Id = id } : r).ToArray());
        foreach (var attribute in main.Descendants().Attributes().Where(a => a.Name.Namespace == R && taken.ContainsKey(a.Value))) attribute.Value = taken[attribute.Value];
    }

    /// <summary>Footnotes go with the text that refers to them.</summary>
    private void DropNotes(XElement main)
    {
        if (package.Find(DocumentName, "footnotes") is not { } part) return;
        var used = main.Descendants(W + "footnoteReference").Select(r => (string?)r.Attribute(W + "id")).ToHashSet();
        Open(part).Root!.Elements(W + "footnote").Where(n => StyleSheet.Number(n, "id") > 0 && !used.Contains((string?)n.Attribute(W + "id"))).Remove();
    }

    /// <summary>Bookmarks of names that a report could use are given others, with what refers to them.</summary>
    private static void RenameBookmarks(XElement main)
    {
        const int Longest = 40;
        var names = main.Descendants(W + "bookmarkStart").Select(b => (string?)b.Attribute(W + "name") ?? "").Where(n => OwnBookmark().IsMatch(n)).ToHashSet();
        string Renamed(string name) => $"house_{name}"[..Math.Min(Longest, name.Length + 6)];
        foreach (var attribute in main.Descendants().Where(e => e.Name == W + "bookmarkStart" || e.Name == W + "hyperlink").Select(e => e.Attribute(W + (e.Name == W + "hyperlink" ? "anchor" : "name"))).OfType<XAttribute>())
            if (names.Contains(attribute.Value)) attribute.Value = Renamed(attribute.Value);
        foreach (var instruction in main.Descendants(W + "instrText"))
        {
            var words = instruction.Value.Split(' ');
            instruction.Value = string.Join(' ', words.Select(w => names.Contains(w) ? Renamed(w) : w));
        }
    }

    [GeneratedRegex(@"^(_Toc0\d{8}|(section|table|figure|equation|number|title|note|source)_.*)$", RegexOptions.IgnoreCase)]
    private static partial Regex OwnBookmark();

    private static void AddStyles(StyleSheet sheet, RoleFinder finder, HouseDesign design)
    {
        var hasDefault = sheet.Default("paragraph") is not null;
        var made = Fragment(xml =>
        {
            foreach (var role in finder.MadeStyles) StylesPart.WriteStyle(xml, design, design.Style(role), isDefault: role == StyleRole.Body && !hasDefault, saysAll: true);
            if (sheet.Find("paragraph", StylesPart.OtherNameOfLists) is null && !sheet.HasId("FigureIndex1")) StylesPart.WriteOtherNames(xml, design);
            foreach (var style in finder.MadeCharacterStyles) StylesPart.WriteCharacterStyle(xml, design, style);
            foreach (var ruling in finder.MadeRulings) StylesPart.WriteRuling(xml, design, ruling);
            foreach (var box in finder.MadeBoxes) StylesPart.WriteRuling(xml, design, box, isBox: true);
            if (finder.MakesCover) StylesPart.WriteCover(xml, design);
        }).Elements().ToArray();
        // Heads have one style in all rulings, so what they stand on is the same too.
        if (design.Rulings[0].Head is not null && sheet.ById(design.Rulings[0].StyleId) is { } open)
            foreach (var head in made.Where(s => (string?)s.Attribute(W + "type") == "table").SelectMany(s => s.Elements(W + "tblStylePr").Where(IsFirstRow)).ToArray()) head.ReplaceWith(open.Elements(W + "tblStylePr").First(IsFirstRow));
        foreach (var style in made)
        {
            style.Remove();
            sheet.Root.Add(style);
        }
        // What new styles are based on.
        if (sheet.Default("character") is null || sheet.Default("table") is null) EnsureDefaults(sheet);
    }

    private static bool IsFirstRow(XElement part) => (string?)part.Attribute(W + "type") == "firstRow";

    private static void EnsureDefaults(StyleSheet sheet)
    {
        foreach (var style in Fragment(StylesPart.WriteDefaultStyles).Elements())
            if (sheet.Root.Elements(W + "style").All(s => (string?)s.Attribute(W + "styleId") != (string?)style.Attribute(W + "styleId"))) sheet.Root.Add(new XElement(style));
    }

    private static XElement Fragment(Action<Utf8XmlWriter> write) => XElement.Parse($"<x xmlns:w=\"{W}\">{Encoding.UTF8.GetString(TemplatePart.Bytes(write))}</x>");

    /// <summary>An older house sets a table's edge left of the margin by a cell's own; in the mode of today it has to say so.</summary>
    private static void KeepTablesInPlace(IEnumerable<XElement> roots)
    {
        foreach (var properties in roots.SelectMany(r => r.Descendants(W + "tbl")).Where(t => t.Parent!.Name != W + "tc").Select(t => t.Element(W + "tblPr")).OfType<XElement>())
        {
            if ((string?)properties.Element(W + "jc")?.Attribute(W + "val") is "center" or "right" or "end") continue;
            var margin = StyleSheet.Number(properties.Element(W + "tblCellMar")?.Element(W + "left"), "w") ?? 108;
            if (properties.Element(W + "tblInd") is { } indent) indent.SetAttributeValue(W + "w", (StyleSheet.Number(indent, "w") ?? 0) - margin);
            else properties.Add(new XElement(W + "tblInd", new XAttribute(W + "w", -margin), new XAttribute(W + "type", "dxa")));
            SchemaMender.Order(properties.Parent!);
        }
    }

    private HouseCounts Count(IReadOnlyList<XElement> roots, HouseLists lists)
    {
        XNamespace wp = "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing";
        var drawings = roots.SelectMany(r => r.Descendants(wp + "docPr")).ToArray();
        // Not every program counts over all stories.
        var (seen, next) = (new HashSet<string?>(), Highest(drawings.Select(d => (string?)d.Attribute("id"))));
        foreach (var drawing in drawings.Where(d => !seen.Add((string?)d.Attribute("id")))) drawing.SetAttributeValue("id", ++next);
        var notes = package.Find(DocumentName, "footnotes") is { } part ? Open(part).Root : null;
        var own = package.Find("", "custom-properties") is { } properties ? Open(properties).Root : null;
        static int Highest(IEnumerable<string?> ids) => ids.Select(id => int.TryParse(id, out var number) && number < int.MaxValue / 2 ? number : 0).DefaultIfEmpty(0).Max();
        return new HouseCounts(
            Bookmark: Highest(roots.SelectMany(r => r.Descendants(W + "bookmarkStart")).Select(e => (string?)e.Attribute(W + "id"))),
            Drawing: next,
            Note: Math.Max(0, Highest(notes?.Elements().Select(e => (string?)e.Attribute(W + "id")) ?? [])),
            Number: lists.HighestNumber,
            Abstract: lists.HighestAbstract,
            Part: Highest(package.Names.Select(n => Regex.Match(n, @"^word/(?:charts/(?:chart|style|colors)|embeddings/workbook|media/picture|header|footer)(\d{1,8})\.").Groups[1].Value)),
            Property: Highest(own?.Elements().Select(e => (string?)e.Attribute("pid")) ?? []));
    }

    private TemplatePart Split(string name) => slots.Split(name, HouseFile.BytesOf(Open(name)));

    /// <summary>A part of the house with room for what a report adds at its end.</summary>
    private TemplatePart Around(string part)
    {
        var root = Open(part).Root!;
        if (root.Name == W + "footnotes") WithNamespaces(root);
        root.Elements(W + "abstractNum").LastOrDefault()?.AddAfterSelf(SlotMarker.Appendices);
        // §17.9.20: the clean-up mark is the last element of the numbering.
        if (root.Element(W + "numIdMacAtCleanup") is { } last) last.AddBeforeSelf(SlotMarker.Content);
        else root.Add(SlotMarker.Content);
        return Split(part);
    }
}
