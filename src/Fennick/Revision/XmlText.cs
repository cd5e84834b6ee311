using System.Text;
using System.Xml.Linq;

namespace Fennick.Revision;

/// <summary>Writes XML as word processors do, so that what nobody changed comes out as it went in.</summary>
internal static class XmlText
{
    /// <summary>The bytes of a part.</summary>
    public static byte[] Write(XDocument document)
    {
        var text = new StringBuilder("<?xml version=\"1.0\" encoding=\"UTF-8\" standalone=\"yes\"?>\n");
        Write(text, document.Root!);
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    private static void Write(StringBuilder text, XElement element)
    {
        var name = NameOf(element, element.Name);
        text.Append('<').Append(name);
        foreach (var attribute in element.Attributes())
        {
            text.Append(' ').Append(attribute.IsNamespaceDeclaration ? attribute.Name.Namespace == XNamespace.Xmlns ? $"xmlns:{attribute.Name.LocalName}" : "xmlns" : NameOf(element, attribute.Name, isAttribute: true)).Append("=\"");
            Escape(text, attribute.Value, inAttribute: true);
            text.Append('"');
        }
        if (element.FirstNode is null)
        {
            text.Append(element.IsEmpty ? "/>" : $"></{name}>");
            return;
        }
        text.Append('>');
        foreach (var node in element.Nodes())
        {
            if (node is XElement inner) Write(text, inner);
            else if (node is XText words) Escape(text, words.Value, inAttribute: false);
            else text.Append(node.ToString(SaveOptions.DisableFormatting));
        }
        text.Append("</").Append(name).Append('>');
    }

    private static string NameOf(XElement at, XName name, bool isAttribute = false)
    {
        if (name.Namespace == XNamespace.None) return name.LocalName;
        if (name.Namespace == XNamespace.Xml) return "xml:" + name.LocalName;
        if (!isAttribute && at.GetDefaultNamespace() == name.Namespace) return name.LocalName;
        return $"{at.GetPrefixOfNamespace(name.Namespace) ?? throw new InvalidOperationException($"No prefix is bound to {name.Namespace}.")}:{name.LocalName}";
    }

    private static void Escape(StringBuilder to, string text, bool inAttribute)
    {
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
}
