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
}
