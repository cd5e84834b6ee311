using System.Text.RegularExpressions;
using System.Xml;
using Fennick.Schema;

namespace Fennick.Houses;

/// <summary>Brings the relationships and types of a house's parts to what the standard says (ECMA-376 Part 2, §6.2 and §6.5): what is not as it should be goes or is set right, before the parts are read.</summary>
internal static partial class PackageMender
{
    private static readonly Dictionary<string, string> Pictures = new(StringComparer.OrdinalIgnoreCase)
    {
        ["png"] = "image/png",
        ["jpg"] = "image/jpeg",
        ["jpeg"] = "image/jpeg",
        ["jpe"] = "image/jpeg",
        ["gif"] = "image/gif",
        ["bmp"] = "image/bmp",
        ["tif"] = "image/tiff",
        ["tiff"] = "image/tiff",
        ["emf"] = "image/x-emf",
        ["wmf"] = "image/x-wmf",
        ["svg"] = "image/svg+xml",
        ["webp"] = "image/webp",
        ["ico"] = "image/x-icon",
        ["wdp"] = "image/vnd.ms-photo",
    };

    /// <summary>Mends a package.</summary>
    public static void Mend(HousePackage package)
    {
        var kinds = new Dictionary<string, PartKind?>(StringComparer.OrdinalIgnoreCase);
        // The package's own relationships first, so that a part is what is nearest to the root.
        foreach (var from in package.Names.Order(StringComparer.Ordinal).OrderByDescending(n => n == package.Main).Prepend("").ToArray()) MendRelationships(package, from, kinds);
        foreach (var (ending, type) in package.Defaults.ToArray())
            if (!Ending().IsMatch(ending) || !MediaType().IsMatch(type)) package.RemoveDefault(ending);
        foreach (var name in package.Names) MendType(package, name, kinds.GetValueOrDefault(name));
    }

    private static void MendRelationships(HousePackage package, string from, Dictionary<string, PartKind?> kinds)
    {
        if (package.RelationshipsOf(from) is not { Count: > 0 } relationships) return;
        var (ids, ones, kept) = (new HashSet<string>(), new HashSet<PartKind>(), new List<HouseRelationship>());
        foreach (var relationship in relationships)
        {
            // Nothing in a text names the package's own relationships.
            var id = from.Length == 0 ? $"rIdHouse{ids.Count}" : relationship.Id;
            if (!IsId(id) || !ids.Add(id)) continue;
            var kind = PartKind.Of(relationship);
            if (!relationship.IsExternal && package.Has(relationship.Target))
            {
                // A part is of one kind, whoever leads to it.
                if (kinds.TryGetValue(relationship.Target, out var known) ? kind is not null && known != kind : kind is not null && relationship.Target != package.Main && !HasRoot(package, relationship.Target, kind)) continue;
                if (kind is { IsOne: true } && !ones.Add(kind)) continue;
                if (kind is not null) kinds[relationship.Target] = kind;
            }
            kept.Add(relationship with { Id = id, Type = kind?.Type ?? relationship.Type });
        }
        package.Replace(from, kept);
    }

    private static bool HasRoot(HousePackage package, string part, PartKind kind)
    {
        if (kind.Root.Length == 0) return true;
        var name = package.Xml(part).Root!.Name;
        return name.LocalName == kind.Root && (!WordSchema.Instance.IsRoot(name.LocalName) || WordSchema.Instance.Root(name) is not null);
    }

    private static void MendType(HousePackage package, string name, PartKind? kind)
    {
        var type = package.TypeOf(name);
        if (name == package.Main || kind is null) return;
        if (kind.Content.Length > 0)
        {
            if (!string.Equals(type, kind.Content, StringComparison.OrdinalIgnoreCase) || package.OverrideOf(name) is null) package.SetType(name, kind.Content);
        }
        else if (kind.Name is "image" or "thumbnail")
        {
            if (!type.StartsWith("image/", StringComparison.OrdinalIgnoreCase) || !MediaType().IsMatch(type)) package.SetType(name, Pictures.GetValueOrDefault(Path.GetExtension(name).TrimStart('.'), "image/png"));
        }
        else if (kind.Name == "package") package.SetType(name, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet");
        else if (!MediaType().IsMatch(type)) package.SetType(name, kind.Name == "font" ? "application/vnd.openxmlformats-officedocument.obfuscatedFont" : "application/octet-stream");
    }

    private static bool IsId(string id) => id.Length > 0 && XmlConvert.IsStartNCNameChar(id[0]) && id.All(XmlConvert.IsNCNameChar);

    [GeneratedRegex(@"\A[A-Za-z0-9]{1,20}\z")]
    private static partial Regex Ending();

    [GeneratedRegex(@"\A[A-Za-z0-9!#$&^_.+-]+/[A-Za-z0-9!#$&^_.+-]+\z")]
    private static partial Regex MediaType();
}
