using System.Buffers;
using System.Text;
using System.Xml.Linq;

namespace Fennick.Revision;

/// <summary>Writes XML as word processors do, so that what nobody changed comes out as it went in.</summary>
internal static class XmlText
{
    private static readonly SearchValues<char> Special = SearchValues.Create("&<>\"\r\n\t");

    /// <summary>The bytes of a part.</summary>
    public static byte[] Write(XDocument document)
    {
        var text = new StringBuilder("<?xml version=\"1.0\" encoding=\"UTF-8\" standalone=\"yes\"?>\n");
        Write(text, document.Root!, new Prefixes([], ""));
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    private static void Write(StringBuilder text, XElement element, Prefixes prefixes)
    {
        prefixes = prefixes.With(element);
        text.Append('<');
        prefixes.Name(text, element.Name, isAttribute: false);
        foreach (var attribute in element.Attributes())
        {
            text.Append(' ');
            if (!attribute.IsNamespaceDeclaration) prefixes.Name(text, attribute.Name, isAttribute: true);
            else text.Append(attribute.Name.Namespace == XNamespace.Xmlns ? $"xmlns:{attribute.Name.LocalName}" : "xmlns");
            text.Append("=\"");
            Escape(text, attribute.Value, inAttribute: true);
            text.Append('"');
        }
        if (element.FirstNode is null && element.IsEmpty)
        {
            text.Append("/>");
            return;
        }
        text.Append('>');
        for (var node = element.FirstNode; node is not null; node = node.NextNode)
        {
            if (node is XElement inner) Write(text, inner, prefixes);
            else if (node is XText words) Escape(text, words.Value, inAttribute: false);
            else text.Append(node.ToString(SaveOptions.DisableFormatting));
        }
        text.Append("</");
        prefixes.Name(text, element.Name, isAttribute: false);
        text.Append('>');
    }

    private static void Escape(StringBuilder to, string text, bool inAttribute)
    {
        if (!text.AsSpan().ContainsAny(Special))
        {
            to.Append(text);
            return;
        }
        foreach (var c in text)
        {
            switch (c)
            {
                case '&': to.Append("&amp;"); break;
                case '<': to.Append("&lt;"); break;
                case '>': to.Append("&gt;"); break;
                case '"' when inAttribute: to.Append("&quot;"); break;
                case '\r': to.Append("&#13;"); break;
                case '\n' when inAttribute: to.Append("&#10;"); break;
                case '\t' when inAttribute: to.Append("&#9;"); break;
                default: to.Append(c); break;
            }
        }
    }

    /// <summary>The prefixes that are bound at an element.</summary>
    private sealed class Prefixes(Dictionary<XNamespace, string> known, XNamespace unnamed)
    {
        /// <summary>The same with those that an element binds.</summary>
        public Prefixes With(XElement element)
        {
            if (!element.HasAttributes || !element.Attributes().Any(a => a.IsNamespaceDeclaration)) return this;
            var (all, without) = (new Dictionary<XNamespace, string>(known), unnamed);
            foreach (var attribute in element.Attributes().Where(a => a.IsNamespaceDeclaration))
            {
                if (attribute.Name.Namespace != XNamespace.Xmlns) without = attribute.Value;
                else
                {
                    // What a prefix meant outside it means no longer.
                    foreach (var hidden in all.Where(p => p.Value == attribute.Name.LocalName).Select(p => p.Key).ToArray()) all.Remove(hidden);
                    all[attribute.Value] = attribute.Name.LocalName;
                }
            }
            return new Prefixes(all, without);
        }

        public void Name(StringBuilder text, XName name, bool isAttribute)
        {
            var space = name.Namespace;
            if (space == XNamespace.Xml) text.Append("xml:");
            else if (space != XNamespace.None && (isAttribute || space != unnamed)) text.Append(known.TryGetValue(space, out var prefix) ? prefix : throw new InvalidOperationException($"No prefix is bound to {space}.")).Append(':');
            text.Append(name.LocalName);
        }
    }
}
