using System.Collections.Frozen;

namespace Fennick.Houses;

/// <summary>A kind of relationship that leads to a part which only holds text, looks or data.</summary>
/// <param name="Name">The last step of its type.</param>
/// <param name="Family">The type without that step.</param>
/// <param name="Content">The type of the part; empty if there are several.</param>
/// <param name="Root">The name of its root element; empty if there are several.</param>
/// <param name="IsOne">Whether a part leads to one of them at most.</param>
internal sealed record PartKind(string Name, string Family, string Content, string Root, bool IsOne)
{
    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/";
    private const string Microsoft2011 = "http://schemas.microsoft.com/office/2011/relationships/";
    private const string Package = "http://schemas.openxmlformats.org/package/2006/relationships/metadata/";
    private const string Formats = "application/vnd.openxmlformats-officedocument.";
    private const string Words = Formats + "wordprocessingml.";

    /// <summary>The kinds by their names.</summary>
    public static readonly FrozenDictionary<string, PartKind> All = new PartKind[]
    {
        new("officeDocument", Office, "", "document", true),
        new("styles", Office, Words + "styles+xml", "styles", true),
        new("stylesWithEffects", "http://schemas.microsoft.com/office/2007/relationships/", "application/vnd.ms-word.stylesWithEffects+xml", "styles", true),
        new("settings", Office, Words + "settings+xml", "settings", true),
        new("webSettings", Office, Words + "webSettings+xml", "webSettings", true),
        new("fontTable", Office, Words + "fontTable+xml", "fonts", true),
        new("font", Office, "", "", false),
        new("theme", Office, Formats + "theme+xml", "theme", true),
        new("themeOverride", Office, Formats + "themeOverride+xml", "themeOverride", true),
        new("numbering", Office, Words + "numbering+xml", "numbering", true),
        new("footnotes", Office, Words + "footnotes+xml", "footnotes", true),
        new("endnotes", Office, Words + "endnotes+xml", "endnotes", true),
        new("comments", Office, Words + "comments+xml", "comments", true),
        new("commentsExtended", Microsoft2011, Words + "commentsExtended+xml", "commentsEx", true),
        new("commentsIds", "http://schemas.microsoft.com/office/2016/09/relationships/", Words + "commentsIds+xml", "commentsIds", true),
        new("commentsExtensible", "http://schemas.microsoft.com/office/2018/08/relationships/", Words + "commentsExtensible+xml", "commentsExtensible", true),
        new("people", Microsoft2011, Words + "people+xml", "people", true),
        new("documenttasks", "http://schemas.microsoft.com/office/2019/05/relationships/", "application/vnd.ms-office.documenttasks+xml", "Tasks", true),
        new("header", Office, Words + "header+xml", "hdr", false),
        new("footer", Office, Words + "footer+xml", "ftr", false),
        new("glossaryDocument", Office, Words + "document.glossary+xml", "glossaryDocument", true),
        new("image", Office, "", "", false),
        new("hdphoto", "http://schemas.microsoft.com/office/2007/relationships/", "image/vnd.ms-photo", "", false),
        new("hyperlink", Office, "", "", false),
        new("chart", Office, Formats + "drawingml.chart+xml", "chartSpace", false),
        new("chartEx", "http://schemas.microsoft.com/office/2014/relationships/", "application/vnd.ms-office.chartex+xml", "", false),
        new("chartUserShapes", Office, Formats + "drawingml.chartshapes+xml", "userShapes", true),
        new("chartStyle", Microsoft2011, "application/vnd.ms-office.chartstyle+xml", "chartStyle", true),
        new("chartColorStyle", Microsoft2011, "application/vnd.ms-office.chartcolorstyle+xml", "colorStyle", true),
        new("package", Office, "", "", true),
        new("diagramData", Office, Formats + "drawingml.diagramData+xml", "dataModel", false),
        new("diagramLayout", Office, Formats + "drawingml.diagramLayout+xml", "layoutDef", false),
        new("diagramQuickStyle", Office, Formats + "drawingml.diagramStyle+xml", "styleDef", false),
        new("diagramColors", Office, Formats + "drawingml.diagramColors+xml", "colorsDef", false),
        new("diagramDrawing", "http://schemas.microsoft.com/office/2007/relationships/", "application/vnd.ms-office.drawingml.diagramDrawing+xml", "drawing", false),
        new("customXml", Office, "application/xml", "", false),
        new("customXmlProps", Office, Formats + "customXmlProperties+xml", "datastoreItem", true),
        new("core-properties", Package, "application/vnd.openxmlformats-package.core-properties+xml", "coreProperties", true),
        new("extended-properties", Office, Formats + "extended-properties+xml", "Properties", true),
        new("custom-properties", Office, Formats + "custom-properties+xml", "Properties", true),
        new("thumbnail", Package, "", "", true),
    }.ToFrozenDictionary(k => k.Name, StringComparer.OrdinalIgnoreCase);

    /// <summary>The type of a relationship of this kind.</summary>
    public string Type => Family + Name;

    /// <summary>The kind of a relationship; null if it is none of these.</summary>
    public static PartKind? Of(HouseRelationship relationship) => All.GetValueOrDefault(NameOf(relationship));

    /// <summary>The last step of a relationship's type.</summary>
    public static string NameOf(HouseRelationship relationship) => relationship.Type[(relationship.Type.LastIndexOf('/') + 1)..];
}
