using System.Xml;

namespace Fennick.Files;

/// <summary>How XML goes beyond what is read.</summary>
internal enum XmlExcess
{
    /// <summary>It does not.</summary>
    None,

    /// <summary>Its elements stand in one another too often.</summary>
    Depth,

    /// <summary>It has too many elements.</summary>
    Elements,
}

/// <summary>Measures XML that is not to be trusted, before all of it is in memory.</summary>
internal static class XmlMeasure
{
    /// <summary>Reads to the end, or to where it goes beyond a limit.</summary>
    public static XmlExcess Find(XmlReader reader, int deepest, int mostElements)
    {
        for (var elements = 0; reader.Read();)
        {
            if (reader.Depth > deepest) return XmlExcess.Depth;
            if (reader.NodeType == XmlNodeType.Element && ++elements > mostElements) return XmlExcess.Elements;
        }
        return XmlExcess.None;
    }

    /// <summary>The same from the bytes, several times as fast; what is not well formed may be measured wrongly, up to where a reader refuses it.</summary>
    /// <returns>Null if the bytes are in an encoding whose signs are not those of ASCII.</returns>
    public static XmlExcess? Find(ReadOnlySpan<byte> xml, int deepest, int mostElements)
    {
        if (xml.Length >= 2 && (xml[0] is 0 or 0xFE or 0xFF || xml[1] == 0)) return null;
        for (var (depth, elements) = (0, 0); ;)
        {
            var open = xml.IndexOf((byte)'<');
            if (open < 0 || open + 1 >= xml.Length) return XmlExcess.None;
            xml = xml[(open + 1)..];
            switch (xml[0])
            {
                case (byte)'/': depth--; break;
                case (byte)'?': xml = After(xml, "?>"u8); break;
                case (byte)'!': xml = xml.StartsWith("!--"u8) ? After(xml[3..], "-->"u8) : xml.StartsWith("![CDATA["u8) ? After(xml, "]]>"u8) : xml; break;
                default:
                    if (++elements > mostElements) return XmlExcess.Elements;
                    if (depth > deepest) return XmlExcess.Depth;
                    xml = TagEnd(xml);
                    if (xml.Length > 0 && xml[0] != (byte)'/') depth++;
                    break;
            }
        }
    }

    private static ReadOnlySpan<byte> After(ReadOnlySpan<byte> xml, ReadOnlySpan<byte> end) => xml.IndexOf(end) is >= 0 and var place ? xml[(place + end.Length)..] : [];

    /// <summary>What stands from the end of a tag on: its closing sign, or the slash before it. Values hold both signs too.</summary>
    private static ReadOnlySpan<byte> TagEnd(ReadOnlySpan<byte> xml)
    {
        while (true)
        {
            var place = xml.IndexOfAny("\"'>"u8);
            if (place < 0) return [];
            if (xml[place] == (byte)'>') return place > 0 && xml[place - 1] == (byte)'/' ? xml[(place - 1)..] : xml[place..];
            var quote = xml[place];
            xml = xml[(place + 1)..];
            var end = xml.IndexOf(quote);
            if (end < 0) return [];
            xml = xml[(end + 1)..];
        }
    }
}
