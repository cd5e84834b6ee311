using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Fennick.Flow;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>A slot of a house.</summary>
/// <param name="Names">Its tag and its title.</param>
/// <param name="Part">The part that it stands in.</param>
/// <param name="Width">The room that blocks have in it; null where only words can stand.</param>
internal sealed record HouseSlot(ImmutableArray<string> Names, string Part, Length? Width)
{
    /// <summary>Whether it stands in the text itself, and not in a header or footer.</summary>
    public bool IsInText => Part == "word/document.xml";
}

/// <summary>
/// Marks the slots of a house's parts: beside each stands how it looks when words fill it, and how it looks when blocks do. The marks are characters of the private use area, which the
/// written part is split at.
/// </summary>
internal sealed class SlotMarker
{
    // Nobody can have written this: it is another at every run.
    private static readonly string Opens = $"\uE0F0{Guid.NewGuid():N}";
    private const char Closes = '\uE0F1';
    private static readonly XNamespace W = StyleSheet.W;
    private static readonly XNamespace W15 = "http://schemas.microsoft.com/office/word/2012/wordml";

    // Fields that show what the document says about itself.
    private static readonly Dictionary<string, string> Fields = new(StringComparer.OrdinalIgnoreCase) { ["TITLE"] = DocumentProperties.TitleName, ["SUBJECT"] = DocumentProperties.SubjectName, ["AUTHOR"] = DocumentProperties.AuthorsName, ["NUMPAGES"] = "pages" };

    // What stands before the size among the properties of a run (ECMA-376 Part 1, §17.3.2.28).
    private static readonly string[] BeforeSize =
        ["rStyle", "rFonts", "b", "bCs", "i", "iCs", "caps", "smallCaps", "strike", "dstrike", "outline", "shadow", "emboss", "imprint", "noProof", "snapToGrid", "vanish", "webHidden", "color", "spacing", "w", "kern", "position"];

    private readonly List<(ImmutableArray<string> Names, bool IsSilent)> marked = [];
    private readonly Dictionary<int, (SlotFit Fit, int? HalfPoints)> fits = [];

    /// <summary>The slots found so far.</summary>
    public List<HouseSlot> Slots { get; } = [];

    /// <summary>What stands for the report's own content of a part.</summary>
    public static XText Content => new($"{Opens}M0{Closes}");

    /// <summary>What stands for the list of the headings of appendices.</summary>
    public static XText Appendices => new($"{Opens}A0{Closes}");

    /// <summary>What stands for the end of the section with the body.</summary>
    public static XText SectionEnd => new($"{Opens}P0{Closes}");

    /// <summary>What stands for the word across the page.</summary>
    public static XText Watermark => new($"{Opens}K0{Closes}");

    /// <summary>The names of a content control that may be a slot.</summary>
    public static ImmutableArray<string> NamesOf(XElement control)
    {
        var properties = control.Element(W + "sdtPr");
        if (properties?.Element(W + "docPartObj")?.Element(W + "docPartGallery") is { } gallery && (string?)gallery.Attribute(W + "val") == "Table of Contents") return ["contents"];
        string?[] names = [(string?)properties?.Element(W + "tag")?.Attribute(W + "val"), (string?)properties?.Element(W + "alias")?.Attribute(W + "val")];
        return [.. names.OfType<string>().Select(n => n.Trim()).Where(n => n.Length > 0).Distinct(StringComparer.OrdinalIgnoreCase)];
    }

    /// <summary>Marks the slots and the fields of a part.</summary>
    /// <param name="root">The part.</param>
    /// <param name="part">Its name.</param>
    /// <param name="widthOf">The room that blocks have at a place; null where only words can stand.</param>
    /// <param name="fitOf">The room that a title has in a slot; null where that is not known.</param>
    public void Mark(XElement root, string part, Func<XElement, Length?> widthOf, Func<ImmutableArray<string>, XElement, SlotFit?> fitOf)
    {
        foreach (var control in Outermost(root).Select(c => (Control: c, Fit: fitOf(NamesOf(c), c))).ToArray()) MarkControl(control.Control, part, widthOf, control.Fit);
        foreach (var paragraph in root.Descendants(W + "p").ToArray()) MarkFields(paragraph);
    }

    /// <summary>Marks the properties of the document's own that a report may fill.</summary>
    public void MarkProperties(XElement root)
    {
        foreach (var property in root.Elements())
        {
            if ((string?)property.Attribute("name") is not { Length: > 0 } name || property.Elements().FirstOrDefault() is not { HasElements: false } value || value.Name.LocalName is "blob" or "stream" or "storage" or "clsid" or "cf") continue;
            var id = Register([name], isSilent: true);
            // What a report gives is words, whatever kind of value stood here.
            value.ReplaceWith(Token('S', id), new XElement(value), Token('W', id), new XElement(value.Name.Namespace + "lpwstr", Token('C', id)), Token('B', id), Token('E', id));
        }
    }

    /// <summary>Splits a written part at its marks.</summary>
    public TemplatePart Split(string name, byte[] bytes)
    {
        var text = Encoding.UTF8.GetString(bytes);
        var at = 0;
        return new TemplatePart(name, Read(text, ref at));
    }

    /// <summary>Whether a part that was written has marks.</summary>
    public static bool HasMarks(byte[] bytes) => bytes.AsSpan().IndexOf(Encoding.UTF8.GetBytes(Opens)) >= 0;

    private static string Mark(char kind, int id) => string.Create(CultureInfo.InvariantCulture, $"{Opens}{kind}{id}{Closes}");

    private static XText Token(char kind, int id) => new(Mark(kind, id));

    private static IEnumerable<XElement> Outermost(XElement? root)
    {
        foreach (var child in root?.Elements() ?? [])
        {
            if (child.Name == W + "sdt" && NamesOf(child).Length > 0) yield return child;
            else foreach (var inner in Outermost(child)) yield return inner;
        }
    }

    private int Register(ImmutableArray<string> names, bool isSilent)
    {
        marked.Add((names, isSilent));
        return marked.Count - 1;
    }

    private static bool IsInLine(XElement control) => control.Ancestors().First(a => a.Name == W + "p" || a.Name == W + "txbxContent" || a.Name == W + "tc" || a.Parent is null).Name == W + "p";

    private void MarkControl(XElement control, string part, Func<XElement, Length?> widthOf, SlotFit? fit)
    {
        // A slot without content is an empty one.
        if (control.Element(W + "sdtContent") is null) control.Add(new XElement(W + "sdtContent"));
        if (!control.Element(W + "sdtContent")!.HasElements && !IsInLine(control) && control.Parent!.Name != W + "tbl" && control.Parent.Name != W + "tr") control.Element(W + "sdtContent")!.Add(new XElement(W + "p"));
        foreach (var inner in Outermost(control.Element(W + "sdtContent")).ToArray()) MarkControl(inner, part, widthOf, null);
        // A row is filled through what stands in its cells; pictures are replaced when the house is dressed.
        if (control.Parent!.Name == W + "tbl" || IsPicture(control)) return;
        var names = NamesOf(control);
        var isContents = control.Element(W + "sdtPr")!.Element(W + "docPartObj") is not null;
        // Blocks take the place of a paragraph that holds nothing but the slot.
        var whole = control.Parent.Name == W + "p" && IsAlone(control) ? control.Parent : control;
        var isInLine = whole == control && IsInLine(control);
        var width = isInLine ? null : widthOf(whole);
        // An empty slot that stays empty hurts nobody.
        var id = Register(names, isSilent: isContents || string.IsNullOrWhiteSpace(control.Value));
        Slots.Add(new HouseSlot(names, part, width));
        if (fit is not null) fits[id] = (fit, null);
        var words = isContents ? null : Filled(whole, control, names, id, FillWords);
        var blocks = width is null ? null : isContents || whole != control ? (XNode)Token('X', id) : Filled(whole, control, names, id, FillBlocks);
        whole.ReplaceWith(Token('S', id), new XElement(whole), Token('W', id), words, Token('B', id), blocks, Token('E', id));
    }

    /// <summary>Whether a control holds the logo or the cover.</summary>
    private static bool IsPicture(XElement control) => NamesOf(control).Any(n => n.ToUpperInvariant() is "LOGO" or "COVER");

    private static bool IsAlone(XElement control) =>
        control.Parent!.Elements().All(e => e == control || e.Name == W + "pPr" || e.Name == W + "bookmarkStart" || e.Name == W + "bookmarkEnd" || e.Name == W + "proofErr" || (e.Name == W + "r" && !e.Descendants().Any(d => d.Name != W + "rPr" && d.Parent!.Name != W + "rPr")))
        && control.Parent.Element(W + "pPr")?.Element(W + "sectPr") is null;

    /// <summary>A copy of the slot that something fills: it is not a placeholder, and no outside data are bound to it.</summary>
    private XElement Filled(XElement whole, XElement control, ImmutableArray<string> names, int id, Action<XElement, XElement?, int> fill)
    {
        var copy = new XElement(whole);
        var own = whole == control ? copy : copy.Element(W + "sdt")!;
        var properties = own.Element(W + "sdtPr")!;
        var wasPlaceholder = StyleSheet.IsOn(properties.Element(W + "showingPlcHdr"));
        properties.Elements().Where(e => e.Name.LocalName is "showingPlcHdr" or "placeholder" or "dataBinding" or "temporary").Remove();
        // Some readers set what stands in a slot for plain text in the style alone.
        if (fits.ContainsKey(id)) properties.Elements(W + "text").Remove();
        if (properties.Element(W + "date") is { } date) date.SetAttributeValue(W + "fullDate", names.Contains("date", StringComparer.OrdinalIgnoreCase) ? Mark('D', id) : null);
        if (properties.Element(W15 + "appearance") is { } appearance) appearance.SetAttributeValue(W15 + "val", "hidden");
        var content = own.Element(W + "sdtContent")!;
        var look = properties.Element(W + "rPr") ?? (wasPlaceholder ? null : content.Descendants(W + "rPr").FirstOrDefault(r => r.Parent!.Name == W + "r"));
        fill(content, look is null ? null : new XElement(W + "rPr", look.Elements()), id);
        // Some readers lose the end of a section whose last paragraph is a control; words alone are safe there.
        if (control.Ancestors(W + "p").FirstOrDefault()?.Element(W + "pPr")?.Element(W + "sectPr") is not null && own == copy) return content.Elements().First();
        return copy;
    }

    private void FillWords(XElement content, XElement? look, int id)
    {
        if (fits.TryGetValue(id, out var known))
        {
            look ??= new XElement(W + "rPr");
            fits[id] = known with { HalfPoints = (int?)StyleSheet.Number(look.Element(W + "sz"), "val") };
            look.Elements().Where(e => e.Name == W + "sz" || e.Name == W + "szCs").Remove();
            if (look.Elements().LastOrDefault(e => BeforeSize.Contains(e.Name.LocalName)) is { } last) last.AddAfterSelf(Token('Z', id));
            else look.AddFirst(Token('Z', id));
        }
        var run = new XElement(W + "r", look, Token('R', id));
        if (content.Element(W + "tc") is { } cell) cell.ReplaceNodes(cell.Element(W + "tcPr"), ParagraphLike(cell, run));
        else if (content.Element(W + "p") is not null || content.Element(W + "tbl") is not null) content.ReplaceNodes(ParagraphLike(content, run));
        else content.ReplaceNodes(run);
    }

    private static XElement ParagraphLike(XElement container, XElement run) => new(W + "p", container.Descendants(W + "p").FirstOrDefault()?.Element(W + "pPr"), run);

    private static void FillBlocks(XElement content, XElement? look, int id)
    {
        if (content.Element(W + "tc") is { } cell) cell.ReplaceNodes(cell.Element(W + "tcPr"), Token('X', id));
        else content.ReplaceNodes(Token('X', id));
    }

    /// <summary>Marks the results of fields in a paragraph; a field is a slot only if the report has something for it.</summary>
    private void MarkFields(XElement paragraph)
    {
        foreach (var simple in paragraph.Elements(W + "fldSimple").ToArray())
            if (SlotOf((string?)simple.Attribute(W + "instr") ?? "") is { } name) MarkResult([.. simple.Elements(W + "r")], name);
        var instruction = new StringBuilder();
        List<XElement>? result = null;
        foreach (var run in paragraph.Elements(W + "r").ToArray())
        {
            var mark = (string?)run.Element(W + "fldChar")?.Attribute(W + "fldCharType");
            if (mark == "begin")
            {
                instruction.Clear();
                result = null;
            }
            else if (mark == "separate") result = [];
            else if (mark == "end")
            {
                if (result is { Count: > 0 } && SlotOf(instruction.ToString()) is { } name) MarkResult(result, name);
                result = null;
            }
            else if (result is not null) result.Add(run);
            else instruction.Append(string.Concat(run.Elements(W + "instrText").Select(t => t.Value)));
        }
    }

    private static string? SlotOf(string instruction)
    {
        var words = instruction.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0) return null;
        if (Fields.TryGetValue(words[0], out var slot)) return slot;
        if (!words[0].Equals("DOCPROPERTY", StringComparison.OrdinalIgnoreCase)) return null;
        var name = instruction.Contains('"') ? instruction.Split('"')[1] : words.ElementAtOrDefault(1);
        return name is null ? null : Fields.GetValueOrDefault(name, name);
    }

    private void MarkResult(List<XElement> runs, string name)
    {
        if (runs.Count == 0) return;
        var id = Register([name], isSilent: true);
        var filled = new XElement(W + "r", runs[0].Element(W + "rPr"), Token('R', id));
        runs[0].AddBeforeSelf(Token('S', id));
        runs[^1].AddAfterSelf(Token('W', id), filled, Token('B', id), Token('E', id));
    }

    /// <summary>Reads segments up to a mark that ends them, which stays unread.</summary>
    private ImmutableArray<TemplateSegment> Read(string text, ref int at)
    {
        var segments = ImmutableArray.CreateBuilder<TemplateSegment>();
        while (at < text.Length)
        {
            var next = text.IndexOf(Opens, at, StringComparison.Ordinal);
            if (next != at) segments.Add(new FixedSegment(Encoding.UTF8.GetBytes(next < 0 ? text[at..] : text[at..next])));
            if (next < 0)
            {
                at = text.Length;
                break;
            }
            var kind = text[next + Opens.Length];
            at = next;
            if (kind is 'W' or 'B' or 'E') break;
            var id = TakeMark(text, ref at);
            segments.Add(kind switch
            {
                'M' => new ContentSegment(),
                'P' => new SectionEndSegment(),
                'A' => new AppendixSegment(),
                'K' => new WatermarkSegment(),
                'S' => ReadSlot(text, ref at, id),
                'Z' => new SizeSegment(marked[id].Names, fits[id].HalfPoints, fits[id].Fit),
                _ => new FillingSegment(marked[id].Names, kind switch { 'R' => FillingForm.Run, 'C' => FillingForm.Characters, 'D' => FillingForm.Date, _ => FillingForm.Blocks }) { Fit = kind == 'R' && fits.TryGetValue(id, out var room) ? room.Fit : null },
            });
        }
        return segments.ToImmutable();
    }

    private SlotSegment ReadSlot(string text, ref int at, int id)
    {
        var unfilled = Read(text, ref at);
        TakeMark(text, ref at);
        var words = Read(text, ref at);
        TakeMark(text, ref at);
        var blocks = Read(text, ref at);
        TakeMark(text, ref at);
        return new SlotSegment(marked[id].Names, words, blocks, unfilled, marked[id].IsSilent);
    }

    private static int TakeMark(string text, ref int at)
    {
        var end = text.IndexOf(Closes, at);
        var id = int.Parse(text.AsSpan(at + Opens.Length + 1, end - at - Opens.Length - 1), CultureInfo.InvariantCulture);
        at = end + 1;
        return id;
    }
}
