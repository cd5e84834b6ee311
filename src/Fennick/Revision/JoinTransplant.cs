using System.Globalization;
using System.Xml.Linq;
using static Fennick.Revision.WordNames;

namespace Fennick.Revision;

/// <summary>What the documents of a join share: the styles that the joined one has by now, and its pictures.</summary>
internal sealed class JoinedParts
{
    public JoinedParts(WordDocument document)
    {
        (Look, Numbers) = (new DocumentLook(document), new TransplantNumbers(document));
        foreach (var style in Look.Styles?.Elements(W + "style") ?? [])
        {
            var id = (string?)style.Attribute(W + "styleId") ?? "";
            Note(style, id, Look.Of(id));
        }
        foreach (var name in document.Package.Names.Where(n => n.Contains("/media/", StringComparison.Ordinal))) Pictures.TryAdd(KeyOf(document.Package.Bytes(name)), name);
    }

    public DocumentLook Look { get; }

    public TransplantNumbers Numbers { get; }

    /// <summary>The ids of its styles, by kind, name and look.</summary>
    public Dictionary<(string Type, string Name, string Look), string> Styles { get; } = [];

    public HashSet<(string Type, string Name)> Names { get; } = [];

    public HashSet<string> Ids { get; } = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>The names of the parts of pictures, by what they hold.</summary>
    public Dictionary<string, string> Pictures { get; } = new(StringComparer.Ordinal);

    public static string KeyOf(byte[] bytes) => Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes));

    public static string TypeOf(XElement style) => (string?)style.Attribute(W + "type") ?? "paragraph";

    public void Note(XElement style, string id, string look)
    {
        var (type, name) = (TypeOf(style), Transplant.NameOf(style).ToLowerInvariant());
        Styles.TryAdd((type, name, look), id);
        Names.Add((type, name));
        Ids.Add(id);
    }
}

/// <summary>Takes a whole document into another: styles that look the same are one, others get a name of their own; lists, notes, comments, headers and pictures come with it.</summary>
internal sealed class JoinTransplant : Transplant
{
    private readonly WordDocument from;
    private readonly WordDocument to;
    private readonly JoinedParts shared;
    private readonly DocumentLook look;
    private readonly bool isOtherTheme;
    private readonly XElement? language;
    private readonly string defaultStyle;
    private readonly Dictionary<string, string> stories = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, string> styles = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> shapes = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> comments = new(StringComparer.Ordinal);
    private readonly HashSet<string> copied = new(StringComparer.Ordinal);

    public JoinTransplant(WordDocument from, WordDocument to, JoinedParts shared)
        : base(from, to, shared.Numbers)
    {
        (this.from, this.to, this.shared, look) = (from, to, shared, new DocumentLook(from));
        isOtherTheme = look.Theme is not null && !XNode.DeepEquals(look.Theme, shared.Look.Theme);
        language = look.Language is { } own && !XNode.DeepEquals(own, shared.Look.Language) ? own : null;
        defaultStyle = look.DefaultParagraph is { Length: > 0 } id ? StyleOf(id) : "";
    }

    /// <summary>Whether a list of the joined document was brought by this one.</summary>
    public bool IsOwn(string list) => Lists.ContainsValue(list);

    /// <summary>The names of styles of headings that have got another name, by level.</summary>
    public Dictionary<int, string> RenamedHeadings { get; } = [];

    protected override bool BringsHeaders => true;

    public override string CopyPart(string part)
    {
        if (stories.TryGetValue(part, out var known)) return known;
        var bytes = from.Package.Bytes(part);
        if (part.Contains("/media/", StringComparison.Ordinal) && from.Package.RelationshipsOf(part).Count == 0)
        {
            var key = JoinedParts.KeyOf(bytes);
            return stories[part] = shared.Pictures.TryGetValue(key, out var picture) && Path.GetExtension(picture) == Path.GetExtension(part) ? picture : shared.Pictures[key] = base.CopyPart(part);
        }
        var name = base.CopyPart(part);
        stories[part] = name;
        var isStory = from.Package.TypeOf(part) is var type && (type.EndsWith(".header+xml", StringComparison.Ordinal) || type.EndsWith(".footer+xml", StringComparison.Ordinal));
        if (!isStory && !(isOtherTheme && type.EndsWith("drawingml.chart+xml", StringComparison.Ordinal))) return name;
        var root = new XElement(from.Open(part).Root!);
        if (isStory)
        {
            // What it leads to comes with what names it.
            to.Package.Replace(name, []);
            var copies = root.Elements().Select(e => Copy(e, part, name)).ToArray();
            root.ReplaceNodes(copies);
        }
        else look.Flatten(root);
        to.Package.Add(name, XmlText.Write(new XDocument(root)));
        return name;
    }

    protected override void Adapt(XElement element, string part, string target)
    {
        if (element.Is("commentRangeStart") || element.Is("commentRangeEnd") || element.Is("commentReference"))
        {
            if (CommentOf((string?)element.Attribute(Id) ?? "") is { } comment) element.SetAttributeValue(Id, comment);
            else element.Remove();
            return;
        }
        base.Adapt(element, part, target);
        if (element.Name == P && defaultStyle.Length > 0 && defaultStyle != shared.Look.DefaultParagraph && element.Element(W + "pPr")?.Element(W + "pStyle") is null)
        {
            PropertiesOf(element).AddFirst(new XElement(W + "pStyle", new XAttribute(Val, defaultStyle)));
        }
        else if (element.Name == Run && language is not null) DocumentLook.Speak(element, language);
        // The data that a control shows are those of its own document.
        else if (element.Is("sdtPr"))
        {
            element.Elements().Where(e => e.Name.LocalName == "dataBinding").Remove();
            element.Elements(Id).Remove();
        }
        if (isOtherTheme && (element.Is("rFonts") || element.Name.Namespace == A || element.Attributes().Any(a => a.Name.LocalName.StartsWith("theme", StringComparison.Ordinal)))) look.FlattenOne(element);
    }

    protected override string StyleOf(string id)
    {
        if (id.Length == 0 || styles.TryGetValue(id, out _)) return styles.GetValueOrDefault(id, id);
        if (look.Find(id) is not { } style || shared.Look.Styles is not { } all) return styles[id] = id;
        var (type, name, own) = (JoinedParts.TypeOf(style), NameOf(style), look.Of(id));
        if (shared.Styles.TryGetValue((type, name.ToLowerInvariant(), own), out var same)) return styles[id] = same;
        var isTaken = shared.Names.Contains((type, name.ToLowerInvariant()));
        var copy = new XElement(style);
        var free = id;
        for (var n = 2; shared.Ids.Contains(free); n++) free = string.Create(CultureInfo.InvariantCulture, $"{id}{n}");
        styles[id] = free;
        copied.Add(free);
        copy.SetAttributeValue(W + "styleId", free);
        copy.Attribute(W + "default")?.Remove();
        if (isTaken)
        {
            var number = 2;
            while (shared.Names.Contains((type, DocumentLook.Numbered(name, number).ToLowerInvariant()))) number++;
            copy.Element(W + "name")!.SetAttributeValue(Val, DocumentLook.Numbered(name, number));
            copy.SetAttributeValue(W + "customStyle", "1");
            copy.Elements(W + "link").Remove();
            if (type == "paragraph" && Surroundings.LevelOf(style) is { } level) RenamedHeadings[level] = DocumentLook.Numbered(name, number);
        }
        shared.Note(copy, free, own);
        shared.Styles.TryAdd((type, name.ToLowerInvariant(), own), free);
        if (type == "paragraph" && style.Element(W + "basedOn") is null && !look.HasDefaultsOf(shared.Look)) look.Bake(copy, shared.Look);
        if (isOtherTheme) look.Flatten(copy);
        foreach (var reference in copy.Elements().Where(e => e.Is("basedOn") || e.Is("next") || e.Is("link"))) reference.SetAttributeValue(Val, StyleOf((string?)reference.Attribute(Val) ?? ""));
        foreach (var list in copy.Descendants(W + "numId")) list.SetAttributeValue(Val, ListOf((string?)list.Attribute(Val) ?? "0"));
        to.Change(to.Find("styles")!).Add(copy);
        return free;
    }

    /// <summary>Each list of a document stays one of its own, so that it counts from where it counted.</summary>
    protected override string ListOf(string number)
    {
        if (number == "0" || Lists.ContainsKey(number)) return Lists.GetValueOrDefault(number, number);
        if (from.Find("numbering") is not { } ownPart || from.Open(ownPart).Root! is not { } own || own.Elements(W + "num").FirstOrDefault(n => (string?)n.Attribute(W + "numId") == number) is not { } list) return Lists[number] = "0";
        if (to.Find("numbering") is not { } part)
        {
            part = to.FreeName("word/numbering.xml");
            to.Add(part, XmlText.Write(new XDocument(new XElement(own.Name, own.Attributes()))), "application/vnd.openxmlformats-officedocument.wordprocessingml.numbering+xml", "numbering");
        }
        var root = to.Change(part);
        var free = FreeNumber(root, W + "num", W + "numId").ToString(CultureInfo.InvariantCulture);
        Lists[number] = free;
        var copy = new XElement(list);
        copy.SetAttributeValue(W + "numId", free);
        if ((string?)list.Element(W + "abstractNumId")?.Attribute(Val) is { } shape) copy.Element(W + "abstractNumId")!.SetAttributeValue(Val, ShapeOf(shape, own, root));
        if (root.Elements(W + "num").LastOrDefault() is { } last) last.AddAfterSelf(copy);
        else if (root.Elements(W + "abstractNum").LastOrDefault() is { } form) form.AddAfterSelf(copy);
        else root.AddFirst(copy);
        return free;
    }

    private string ShapeOf(string shape, XElement own, XElement root)
    {
        if (shapes.TryGetValue(shape, out var known)) return known;
        var free = FreeNumber(root, W + "abstractNum", W + "abstractNumId", first: 0);
        shapes[shape] = free.ToString(CultureInfo.InvariantCulture);
        if (own.Elements(W + "abstractNum").FirstOrDefault(a => (string?)a.Attribute(W + "abstractNumId") == shape) is not { } form) return shapes[shape];
        var copy = new XElement(form);
        copy.SetAttributeValue(W + "abstractNumId", free);
        copy.Element(W + "nsid")?.SetAttributeValue(Val, $"{0x2F000000 + free:X8}");
        // Pictures as signs of lists belong to their own document.
        copy.Descendants(W + "lvlPicBulletId").Remove();
        if (root.Elements(W + "abstractNum").LastOrDefault() is { } last) last.AddAfterSelf(copy);
        else root.AddFirst(copy);
        if (isOtherTheme) look.Flatten(copy);
        foreach (var style in copy.Descendants().Where(e => e.Is("pStyle") || e.Is("styleLink") || e.Is("numStyleLink")).ToArray())
        {
            var here = StyleOf((string?)style.Attribute(Val) ?? "");
            // A style that was there before has its own list.
            if (copied.Contains(here)) style.SetAttributeValue(Val, here);
            else style.Remove();
        }
        return shapes[shape];
    }

    /// <summary>The id here of a comment, copied with its answers; null if there is none.</summary>
    private string? CommentOf(string id)
    {
        if (comments.TryGetValue(id, out var known)) return known;
        if (from.Find("comments") is not { } ownPart || from.Open(ownPart).Root!.Elements(W + "comment").FirstOrDefault(c => (string?)c.Attribute(Id) == id) is not { } comment) return null;
        if (to.Find("comments") is not { } part)
        {
            part = to.FreeName("word/comments.xml");
            to.Add(part, XmlText.Write(new XDocument(new XElement(from.Open(ownPart).Root!.Name, from.Open(ownPart).Root!.Attributes()))), "application/vnd.openxmlformats-officedocument.wordprocessingml.comments+xml", "comments");
        }
        var root = to.Change(part);
        var free = FreeNumber(root, W + "comment", Id, first: 0).ToString(CultureInfo.InvariantCulture);
        comments[id] = free;
        var copy = Copy(comment, ownPart, part);
        copy.SetAttributeValue(Id, free);
        root.Add(copy);
        Answer(copy);
        return free;
    }

    /// <summary>Which comment answers which, and which are done, stands in a part of its own, by the ids of their paragraphs.</summary>
    private void Answer(XElement comment)
    {
        var ids = comment.Elements(P).Select(p => (string?)p.Attribute(W14 + "paraId")).OfType<string>().ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (ids.Count == 0 || from.Find("commentsExtended") is not { } ownPart) return;
        var own = from.Open(ownPart).Root!;
        if (to.Find("commentsExtended") is not { } part)
        {
            part = to.FreeName("word/commentsExtended.xml");
            to.Add(part, XmlText.Write(new XDocument(new XElement(own.Name, own.Attributes()))), from.Package.TypeOf(ownPart), from.Package.RelationshipsOf(from.Package.Main).First(r => r.Is("commentsExtended")).Type);
        }
        foreach (var entry in own.Elements().Where(e => e.Attributes().Any(a => a.Name.LocalName == "paraId" && ids.Contains(a.Value)))) to.Change(part).Add(new XElement(entry));
    }
}
