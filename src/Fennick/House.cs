using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Formatting;
using Fennick.Houses;
using Fennick.Pictures;
using Fennick.Running;
using Fennick.Styles;

namespace Fennick;

/// <summary>What a report wears: one of Fennick's own houses, or a document made in a word processor, with the organisation's accent, logo, cover and font on top.</summary>
/// <example>
/// <code>
/// var report = new Report("Honey harvest") { House = House.Read("larkmere.docx") with { Accent = "#B4690E" } };
/// </code>
/// </example>
public sealed record House
{
    private static readonly ConditionalWeakTable<House, Dressings> Dressed = [];
    private readonly HouseDesign? design;

    private House(HouseDesign design) => this.design = design;

    private House(HouseFile file) => File = file;

    /// <summary>Serif text under bold sans-serif heads, leaf green with a line of tansy yellow: the house of a report that names none.</summary>
    public static House Tansy { get; } = new(BuiltInHouses.Tansy);

    /// <summary>Sans serif throughout, compact, slate with an ember line under its chapters.</summary>
    public static House Flint { get; } = new(BuiltInHouses.Flint);

    /// <summary>Light serif heads over sans-serif text, wide margins, a centred title: water blue with a rust line.</summary>
    public static House Heron { get; } = new(BuiltInHouses.Heron);

    /// <summary>Fennick's own houses.</summary>
    public static IReadOnlyList<House> All { get; } = [Tansy, Flint, Heron];

    /// <summary>Its name: of a file, that of the file without folder and ending.</summary>
    public string Name => design?.Name ?? Path.GetFileNameWithoutExtension(File!.Place.File);

    /// <summary>Styles of the house for roles that they do not bear the name of, such as <c>body</c> → <c>LK Brödtext</c>. Of a file alone.</summary>
    public IReadOnlyDictionary<string, string> Styles { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>The accent as <c>#RRGGBB</c>; the house's own colours if null. Rules, tints, table stripes and charts follow it.</summary>
    public string? Accent { get; init; }

    /// <summary>The family of all text but code; the house's own if null.</summary>
    public string? Font { get; init; }

    /// <summary>The picture that stands in the slot <c>logo</c>.</summary>
    public Picture? Logo { get; init; }

    /// <summary>The picture that stands in the slot <c>cover</c>.</summary>
    public Picture? Cover { get; init; }

    /// <summary>Whether the logo is turned to a single light colour; null to do so where it stands on dark.</summary>
    public bool? LightLogo { get; init; }

    /// <summary>Whether the cover picture is darkened until the words on it can be read; null to do so where light words stand on it.</summary>
    public bool? DarkCover { get; init; }

    /// <summary>Whether what the file says itself stays in the report; null to keep it if it has slots, and to replace it if not. Of a file alone.</summary>
    public bool? KeepsContents { get; init; }

    /// <summary>Whether headings have numbers; null to leave that to the house. Where the house numbers them itself, they look as it says.</summary>
    public bool? NumbersHeadings { get; init; }

    /// <summary>What can change pictures; needed for a logo or a cover that is to be changed, and for those in SVG.</summary>
    public IPictureTools? PictureTools { get; init; }

    /// <summary>The file, if it is one.</summary>
    internal HouseFile? File { get; }

    /// <summary>The design, if it is one of Fennick's own.</summary>
    internal HouseDesign? Design => design;

    /// <summary>Reads a house from a <c>.docx</c> or <c>.dotx</c> file.</summary>
    /// <param name="path">The file.</param>
    /// <exception cref="ReportException">It cannot be read, is not a word-processor document, or is not sound.</exception>
    public static House Read(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        return new House(HouseReader.Read(path));
    }

    /// <summary>Reads a house from a stream, such as one of an upload or a resource.</summary>
    /// <param name="stream">The bytes of a <c>.docx</c> or <c>.dotx</c> file, from where the stream stands to its end.</param>
    /// <param name="name">What messages call it.</param>
    /// <exception cref="ReportException">It is not a word-processor document, or is not sound.</exception>
    public static House Read(Stream stream, string name = "house")
    {
        ArgumentNullException.ThrowIfNull(name);
        var bytes = StreamBytes.Read(stream, HousePackage.LargestWhole, name);
        return new House(HouseReader.Read(bytes, new SourcePlace(name, 0, 0)) with { Fingerprint = Convert.ToHexStringLower(SHA256.HashData(bytes)) });
    }

    /// <summary>The house of a name, or of a file: what holds a dot or a slash is a file.</summary>
    /// <param name="nameOrPath">For example <c>flint</c> or <c>house/larkmere.docx</c>.</param>
    /// <exception cref="ReportException">There is none of this name, or the file cannot be read.</exception>
    public static House Find(string nameOrPath)
    {
        ArgumentNullException.ThrowIfNull(nameOrPath);
        return Find(nameOrPath, "", null);
    }

    /// <summary>The house of a name, or of a file in a folder.</summary>
    internal static House Find(string nameOrPath, string folder, SourcePlace? place)
    {
        if (All.FirstOrDefault(h => string.Equals(h.Name, nameOrPath, StringComparison.OrdinalIgnoreCase)) is { } own) return own;
        if (nameOrPath.AsSpan().IndexOfAny('.', '/') >= 0)
        {
            var path = Path.Combine(folder, nameOrPath);
            return System.IO.File.Exists(RunContext.FullPath(path)) ? Read(path)
                : throw new ReportException(Diagnostic.Error(place, $"there is no file `{nameOrPath}`", Nearest.SuggestFile(path)));
        }
        throw new ReportException(Diagnostic.Error(place, $"`{nameOrPath}` is not a house", Nearest.Suggest(nameOrPath, All.Select(h => h.Name)) ?? $"the houses are {string.Join(", ", All.Select(h => $"`{h.Name}`"))}, or a file such as `house.docx`"));
    }

    /// <summary>What Fennick finds in the house.</summary>
    /// <exception cref="ReportException">A style that is named for a role is not there, or the file is not sound.</exception>
    public HouseFindings Examine()
    {
        var dressed = Dress(Language.Default);
        var measures = HouseDresser.MeasuresBeside(dressed.Place);
        return new HouseFindings
        {
            // The smaller sizes of tables go with the usual one.
            Roles = [.. RolesOf(dressed).Where(r => !r.Role.Contains("small", StringComparison.Ordinal))],
            Contents = dressed.Contents,
            PageWidth = dressed.Page.Width,
            PageHeight = dressed.Page.Height,
            TextWidth = dressed.Page.TextWidth,
            Families = [.. dressed.Design.Styles.Select(dressed.Design.Family).Distinct().Select(f => (f, measures.Knows(f)))],
            Slots = [.. SlotsOf(dressed).Distinct()],
            Margins = [.. dressed.Template.Section.References.Select(r => r.Kind.ToString())],
            Rulings = [.. dressed.Design.Rulings.Select(r => r.Ruling.Name)],
            Diagnostics = dressed.Diagnostics,
        };
    }

    private static IEnumerable<(string Name, string Place)> SlotsOf(DressedHouse dressed)
    {
        var inText = dressed.Slots.Where(s => s.IsInText).SelectMany(s => s.Names);
        foreach (var name in dressed.HasBodySlot ? inText.Append("body") : inText) yield return (name, "text");
        foreach (var slot in dressed.Slots.Where(s => !s.IsInText))
            foreach (var name in slot.Names) yield return (name, slot.Part.Contains("header", StringComparison.OrdinalIgnoreCase) ? "header" : "footer");
        foreach (var picture in dressed.PictureSlots) yield return (picture, "picture");
    }

    private static IEnumerable<RoleFinding> RolesOf(DressedHouse dressed) => dressed.Found.IsEmpty
        ? dressed.Design.Styles.Select(s => new RoleFinding(RoleFinder.WordsOf(s.Role), s.Name, "its own", RoleFinder.Look(dressed.Design, s)))
        : dressed.Found.Select(f => new RoleFinding(f.Role, f.Style, f.Origin switch { StyleOrigin.Named => "by the settings", StyleOrigin.Found => "by its name", _ => "made" }, f.Look));

    /// <summary>A report that shows every role of the house.</summary>
    public Report Specimen() => SpecimenReport.Of(this);

    /// <summary>Writes one of Fennick's own houses as a file to edit in a word processor.</summary>
    /// <param name="path">A <c>.docx</c> file.</param>
    /// <exception cref="ReportException">It cannot be written.</exception>
    public void SaveAsFile(string path)
    {
        if (design is null) throw new InvalidOperationException("The house is a file already.");
        using var package = HouseFileWriter.Write(Dress(Language.Default));
        ReportFile.Put(package, RunContext.FullPath(path), []);
    }

    /// <summary>The house made ready for a language; it is done once.</summary>
    internal DressedHouse Dress(Language language) => Dressed.GetOrCreateValue(this).Of(this, language);

    private sealed class Dressings
    {
        private readonly Lock guard = new();
        private readonly Dictionary<string, DressedHouse> byLanguage = [];

        public DressedHouse Of(House house, Language language)
        {
            lock (guard)
            {
                if (!byLanguage.TryGetValue(language.Tag, out var dressed)) byLanguage[language.Tag] = dressed = HouseDresser.Dress(house, language);
                return dressed;
            }
        }
    }
}
