using System.Xml;
using System.Xml.Linq;

namespace Fennick.Schema;

/// <summary>Makes of what other programs wrote what the schema allows: sorts what is out of order, adds what is empty and missing, and leaves out the rest.</summary>
internal sealed class SchemaMender
{
    private static readonly XNamespace Mc = "http://schemas.openxmlformats.org/markup-compatibility/2006";
    private static readonly XNamespace W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
    private static readonly XNamespace Vml = "urn:schemas-microsoft-com:vml";
    private readonly List<string> leftOut = [];

    /// <summary>What is left out, each with where it stood.</summary>
    public IReadOnlyList<string> LeftOut => leftOut;

    /// <summary>Mends a part.</summary>
    /// <returns>Whether it says anything now; a root that the schema does not know is left as it is.</returns>
    public bool Mend(XElement root)
    {
        foreach (var element in root.DescendantsAndSelf()) Spell(element);
        return WordSchema.Instance.Root(root.Name) is not { } type || Mend(root, type, []);
    }

    /// <summary>Brings what stands in an element, and in all within it, into the order of the schema; of what may stand once, the last one counts.</summary>
    public static void Order(XElement root)
    {
        if (WordSchema.Instance.Root(root.Name)?.Content is { } content) Order(root, content);
    }

    private static void Order(XElement element, ContentModel content)
    {
        if (content.IsOrdered)
        {
            Sort(element, content);
            element.Elements().Where(e => content.TakesOne(e.Name) && e.ElementsAfterSelf(e.Name).Any()).Remove();
        }
        foreach (var child in element.Elements())
            if (content.Find(child.Name)?.Content is { } inner) Order(child, inner);
    }

    /// <summary>What many programs write otherwise than the schema spells it.</summary>
    private static void Spell(XElement element)
    {
        if (element.Name == W + "cantSplit" || element.Name == W + "tblHeader")
        {
            var isOff = (string?)element.Attribute(W + "val") is "0" or "false" or "off";
            element.SetAttributeValue(W + "val", isOff ? "0" : null);
        }
        else if (element.Name == W + "jc" && element.Parent?.Name == W + "tblPr" && element.Attribute(W + "val") is { Value: "start" or "end" } side) side.Value = side.Value == "start" ? "left" : "right";
        else if (element.Name.Namespace == Vml) element.SetAttributeValue("ID", null);
        else if (element.Name == W + "charset") element.SetAttributeValue(W + "characterSet", null);
    }

    private bool Mend(XElement element, ElementType type, HashSet<XNamespace> ignorable)
    {
        ignorable = Ignorable(element, ignorable);
        MendAttributes(element, type, ignorable);
        if (type.Required.FirstOrDefault(r => element.Attribute(r) is null) is { }) return false;
        if (!type.HoldsText)
        {
            foreach (var text in element.Nodes().OfType<XText>().Where(t => !string.IsNullOrWhiteSpace(t.Value)).ToArray())
            {
                Tell(element, "text");
                text.Remove();
            }
        }
        else if (type.Text?.Allows(element.Value) == false) return false;
        if (type.Content is not { } content)
        {
            foreach (var child in element.Elements().Where(c => !ignorable.Contains(c.Name.Namespace)).ToArray()) LeaveOut(child);
            return true;
        }
        foreach (var child in element.Elements().ToArray()) MendChild(child, content, ignorable);
        return MendOrder(element, content, ignorable);
    }

    private void MendChild(XElement child, ContentModel content, HashSet<XNamespace> ignorable)
    {
        if (child.Name == Mc + "AlternateContent")
        {
            MendAlternatives(child, content, ignorable);
            return;
        }
        var type = content.Find(child.Name) ?? (content.TakesAnything ? WordSchema.Instance.Root(child.Name) : null);
        if (type is null ? !content.TakesAnything && !IsSkipped(child, ignorable) : !Mend(child, type, ignorable)) LeaveOut(child);
    }

    /// <summary>Of what stands there in several forms, each form is mended as if it were the only one (Part 3, §7.5).</summary>
    private void MendAlternatives(XElement alternatives, ContentModel content, HashSet<XNamespace> ignorable)
    {
        foreach (var form in alternatives.Elements().ToArray())
        {
            var isSound = form.Name == Mc + "Fallback" ? form.ElementsBeforeSelf().All(e => e.Name == Mc + "Choice") && form.ElementsBeforeSelf().Any()
                : form.Name == Mc + "Choice" && Required(form) is { Length: > 0 } required && !required.Contains(null) && !form.ElementsBeforeSelf(Mc + "Fallback").Any();
            if (!isSound)
            {
                LeaveOut(form);
                continue;
            }
            foreach (var attribute in form.Attributes().Where(a => !a.IsNamespaceDeclaration && a.Name != "Requires" && a.Name.Namespace != Mc).ToArray()) attribute.Remove();
            foreach (var child in form.Elements().ToArray()) MendChild(child, content, ignorable);
        }
        foreach (var attribute in alternatives.Attributes().Where(a => !a.IsNamespaceDeclaration && a.Name.Namespace != Mc).ToArray()) attribute.Remove();
        if (!alternatives.Elements(Mc + "Choice").Any()) LeaveOut(alternatives);
    }

    /// <summary>The namespaces that a form asks for; null for a prefix that nothing binds.</summary>
    private static XNamespace?[] Required(XElement form) => [.. ((string?)form.Attribute("Requires") ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Select(form.GetNamespaceOfPrefix)];

    private void MendAttributes(XElement element, ElementType type, HashSet<XNamespace> ignorable)
    {
        foreach (var attribute in element.Attributes().Where(a => !a.IsNamespaceDeclaration && a.Name.Namespace != Mc).ToArray())
        {
            if (attribute.Name == XNamespace.Xml + "space" ? attribute.Value is "preserve" or "default" : type.Attributes.TryGetValue(attribute.Name, out var rule) ? rule?.Allows(attribute.Value) != false : attribute.Name.Namespace == XNamespace.Xml || IsSkipped(attribute.Name.Namespace, ignorable)) continue;
            Tell(element, $"{Name(attribute.Name, element)}=\"{(attribute.Value.Length > 30 ? attribute.Value[..30] + "…" : attribute.Value)}\"");
            attribute.Remove();
        }
    }

    private bool MendOrder(XElement element, ContentModel content, HashSet<XNamespace> ignorable)
    {
        if (content.IsOrdered) Sort(element, content);
        while (true)
        {
            var children = Counted(element, ignorable).ToList();
            if (content.Fits([.. children.Select(c => c.Name)], out var wrong, out var missing)) return true;
            if (missing is not null)
            {
                // What has to hold a paragraph is not lost for the lack of one.
                var added = missing.MayBeEmpty ? missing.Name : content.Find(W + "p") is not null && !children.Exists(c => c.Name == W + "p") ? W + "p" : null;
                if (added is null) return false;
                if (wrong < children.Count) Within(children[wrong], element).AddBeforeSelf(new XElement(added));
                else element.Add(new XElement(added));
                if (wrong < children.Count && children.Count(c => c.Name == added) > 1) return false;
                continue;
            }
            LeaveOut(wrong > 0 && children[wrong - 1].Name == children[wrong].Name ? children[wrong - 1] : children[wrong]);
        }
    }

    /// <summary>The ancestor of an element that stands in another one itself.</summary>
    private static XElement Within(XElement element, XElement parent) => element.AncestorsAndSelf().First(a => a.Parent == parent);

    /// <summary>The elements that count as standing in one: of several forms those of the first that is understood.</summary>
    private static IEnumerable<XElement> Counted(XElement element, HashSet<XNamespace> ignorable) => element.Elements().SelectMany(child =>
        child.Name != Mc + "AlternateContent" ? IsSkipped(child, ignorable) ? [] : [child]
        : (child.Elements(Mc + "Choice").FirstOrDefault(c => Array.TrueForAll(Required(c), WordSchema.Instance.Known.Contains!)) ?? child.Element(Mc + "Fallback")) is { } form ? Counted(form, ignorable) : []);

    private static bool IsSkipped(XElement element, HashSet<XNamespace> ignorable) => IsSkipped(element.Name.Namespace, ignorable);

    private static bool IsSkipped(XNamespace name, HashSet<XNamespace> ignorable) => ignorable.Contains(name) && !WordSchema.Instance.Known.Contains(name);

    /// <summary>What programs that do not know it may ignore here (Part 3, §7.2); prefixes that nothing binds are struck off.</summary>
    private static HashSet<XNamespace> Ignorable(XElement element, HashSet<XNamespace> outer)
    {
        if (element.Attribute(Mc + "Ignorable") is not { } attribute) return outer;
        var bound = attribute.Value.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Where(p => IsName(p) && element.GetNamespaceOfPrefix(p) is not null).ToArray();
        attribute.Value = string.Join(' ', bound);
        return [.. outer, .. bound.Select(p => element.GetNamespaceOfPrefix(p)!)];
    }

    private static bool IsName(string prefix) => prefix.All(XmlConvert.IsNCNameChar) && XmlConvert.IsStartNCNameChar(prefix[0]);

    private static void Sort(XElement element, ContentModel content)
    {
        var (last, isSorted) = (-1, true);
        foreach (var child in element.Elements())
        {
            var place = content.PlaceOf(child.Name);
            isSorted &= place >= last;
            last = place;
        }
        if (isSorted) return;
        element.ReplaceNodes(element.Elements().OrderBy(e => content.PlaceOf(e.Name)).ToArray());
    }

    private void LeaveOut(XElement element)
    {
        Tell(element.Parent!, Name(element.Name, element));
        element.Remove();
    }

    private void Tell(XElement place, string what) => leftOut.Add($"{what} in {Name(place.Name, place)}");

    private static string Name(XName name, XElement scope) => scope.GetPrefixOfNamespace(name.Namespace) is { Length: > 0 } prefix ? $"{prefix}:{name.LocalName}" : name.LocalName;
}
