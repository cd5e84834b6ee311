using System.Collections.Immutable;
using System.Globalization;
using Fennick.Charts;
using Fennick.Citations;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Formatting;
using Fennick.Houses;
using Fennick.Manuscripts.Source;
using Fennick.Outputs;
using Fennick.Pictures;
using Fennick.Plots;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Manuscripts.Settings;

/// <summary>The settings of a manuscript.</summary>
internal sealed record ManuscriptSettings
{
    /// <summary>The settings of the house that may hold parameters.</summary>
    private static readonly ImmutableArray<string> HouseKeys = ["house", "house.accent", "house.logo", "house.cover", "house.font", "house.contents"];

    public static readonly ImmutableArray<string> Keys =
        ["fennick", "title", "subtitle", "author", "authors", "date", "language", .. HouseKeys, "house.style", "house.values", "data", "data.encoding", .. PageSettings.Keys.Select(k => $"page.{k}"), "page.watermark", "parameter", "format", "library", "using", "listing", "listings", "scripts", "bibliography", "citations", "outputs", "numbers.digits", "numbers.missing", "headings.numbered", "captions.numbering", "series", "cover", "strict", "living", "source", "tables.ruling", "tables.caption", "tables.turning", "tables.width", "tables.symbols", "tables.smallest", "tables.unbroken", "tables.drift",
            "figures.width", "figures.height", "figures.caption", "figures.align", "figures.native", "figures.dpi", "figures.palette", "figures.labels", "figures.drift", "figures.shrink"];

    public SettingsEntry? Title { get; init; }

    public SettingsEntry? Subtitle { get; init; }

    public ImmutableArray<string> Authors { get; init; } = [];

    public DateOnly? Date { get; init; }

    public Language Language { get; init; } = Language.Default;

    public ImmutableArray<Parameter> Parameters { get; init; } = [];

    public ImmutableArray<string> Usings { get; init; } = [];

    /// <summary>The house that the report wears.</summary>
    public House House { get; init; } = House.Tansy;

    /// <summary>The settings of the house that hold parameters in braces, as written.</summary>
    public ImmutableArray<SettingsEntry> HouseOfUnit { get; init; } = [];

    /// <summary>The forms in which the report is written beside the document.</summary>
    public ImmutableArray<IReportWriter> Outputs { get; init; } = [];

    /// <summary>Files that steps read by means of their own; null if the manuscript does not say.</summary>
    public ImmutableArray<string>? Data { get; init; }

    /// <summary>Whether the house may ask for values of the manuscript's variables.</summary>
    public bool TakesHouseValues { get; init; }

    /// <summary>The encoding of data files; UTF-8 if null.</summary>
    public string? DataEncoding { get; init; }

    /// <summary>What the pages look like where that differs from the house.</summary>
    public PageSettings Page { get; init; } = new();

    /// <summary>The word across every page.</summary>
    public string? Watermark { get; init; }

    /// <summary>What the house is made of.</summary>
    public HouseDesign Design => House.Dress(Language).Design;

    /// <summary>The libraries that the steps use.</summary>
    public ImmutableArray<Library> Libraries { get; init; } = [];

    /// <summary>Whether steps may run programs.</summary>
    public bool AllowsScripts { get; init; }

    /// <summary>Whether the code of steps stands above their results.</summary>
    public bool Listing { get; init; }

    /// <summary>Whether an annex holds the code of all steps.</summary>
    public bool HasAnnex { get; init; }

    /// <summary>Whether the document holds the manuscript itself.</summary>
    public bool EmbedsSource { get; init; }

    /// <summary>The sources that the text can cite.</summary>
    public WorkList Sources { get; init; } = WorkList.Empty;

    public CitationStyle CitationStyle { get; init; }

    public ReportSettings Report { get; init; } = new();

    /// <summary>Where the settings stand; errors of the call that concern them point here.</summary>
    public required SourcePlace Place { get; init; }

    /// <summary>Reads the settings of a manuscript on top of those that it shares.</summary>
    public static ManuscriptSettings Read(SourceFragment? block, SourceFiles source, List<Diagnostic> diagnostics)
    {
        var settings = new ManuscriptSettings { Place = source.PlaceOf(block?.Offset ?? 0) };
        if (SharedSettings.Find(source.Main.Folder, diagnostics) is { } shared)
        {
            var file = source.Read(Path.Combine(Path.GetDirectoryName(source.Main.DisplayPath) ?? "", Path.GetRelativePath(source.Main.Folder, shared)), shared, settings.Place);
            settings = settings.With(SettingsReader.Read(SourceFragment.Join([.. file.Lines]), source, diagnostics), source, diagnostics);
        }
        return block is null ? settings : settings.With(SettingsReader.Read(block, source, diagnostics), source, diagnostics);
    }

    /// <summary>The same settings with others on top.</summary>
    public ManuscriptSettings With(IEnumerable<SettingsEntry> entries, SourceFiles source, List<Diagnostic> diagnostics)
    {
        var settings = this;
        // Names of rulings and styles are the house's, which is dressed for a language.
        foreach (var entry in entries.OrderBy(e => e.Key == "language" || e.Key.StartsWith("parameter", StringComparison.Ordinal) ? 0 : e.Key == "house" ? 1 : e.Key.StartsWith("house.", StringComparison.Ordinal) ? 2 : 3))
        {
            try
            {
                settings = settings.With(entry, source, diagnostics);
            }
            catch (ReportException problem)
            {
                diagnostics.AddRange(problem.Diagnostics.Select(d => d.Place is null ? d with { Place = source.PlaceOf(entry.Value.Offset) } : d));
            }
        }
        return settings;
    }

    /// <summary>The same settings with what a manuscript that is included needs for its steps.</summary>
    public ManuscriptSettings Join(ManuscriptSettings included) => this with
    {
        Parameters = [.. Parameters, .. included.Parameters.Where(p => Parameters.All(own => own.Name != p.Name))],
        Usings = [.. Usings.Union(included.Usings)],
        Language = Language.With([.. included.Language.OwnFormats.Values.Where(f => !Language.OwnFormats.ContainsKey(f.Name))]),
        Libraries = [.. Libraries, .. included.Libraries.Where(l => Libraries.All(own => own.Name != l.Name))],
    };

    /// <summary>The house that a report wears whose parameters have these values.</summary>
    /// <exception cref="ReportException">There is no such house, or a value does not fit.</exception>
    public House HouseFor(IReadOnlyDictionary<string, object> parameters, SourceFiles source) =>
        HouseOfUnit.Aggregate(this, (settings, entry) => settings.WithHouse(entry.Filled(parameters), source, source.PlaceOf(entry.Value.Offset))).House;

    /// <summary>What tells the houses of two units apart.</summary>
    public string HouseKey(IReadOnlyDictionary<string, object> parameters) => string.Join('\n', HouseOfUnit.Select(e => e.Filled(parameters).Text));

    private ManuscriptSettings WithHouse(SettingsEntry entry, SourceFiles source, SourcePlace place)
    {
        switch (entry.Key)
        {
            case "house":
                var found = House.Find(entry.Text, source.FileOf(entry.Offset).Folder, place);
                return this with { House = found with { Styles = House.Styles, Accent = House.Accent, Font = House.Font, Logo = House.Logo, Cover = House.Cover, LightLogo = House.LightLogo, DarkCover = House.DarkCover, KeepsContents = House.KeepsContents, NumbersHeadings = House.NumbersHeadings, PictureTools = House.PictureTools } };
            case "house.accent":
                return Colour.Parse(entry.Text) is not null && entry.Text.StartsWith('#') ? this with { House = House with { Accent = entry.Text } } : throw Wrong($"`{entry.Text}` is not a colour", "write it as `#B4690E`");
            case "house.font": return this with { House = House with { Font = entry.Text } };
            case "house.logo":
                var logo = ReadPicture(entry, source, place, "light", "as it is");
                return this with { House = House with { Logo = logo.Picture, LightLogo = logo.IsForced, PictureTools = PictureTools.Instance } };
            case "house.cover":
                var cover = ReadPicture(entry, source, place, "dark", "as it is");
                return this with { House = House with { Cover = cover.Picture, DarkCover = cover.IsForced, PictureTools = PictureTools.Instance } };
            case "house.contents":
                return this with { House = House with { KeepsContents = entry.Text switch { "kept" => true, "replaced" => false, _ => throw Wrong($"`{entry.Text}` is neither `kept` nor `replaced`", null) } } };
            default: throw new InvalidOperationException($"`{entry.Key}` is not a setting of the house.");
        }

        ReportException Wrong(string message, string? suggestion) => new(Diagnostic.Error(place, message, suggestion));
    }

    private ManuscriptSettings With(SettingsEntry entry, SourceFiles source, List<Diagnostic> diagnostics)
    {
        var place = source.PlaceOf(entry.Value.Offset);
        // What runs code or lets it in is said by the manuscript itself.
        if (entry.Key is "library" or "house.values" or "scripts" && Path.GetFileName(source.FileOf(entry.Offset).DisplayPath) == SharedSettings.Name)
            throw new ReportException(Diagnostic.Error(source.PlaceOf(entry.Offset), $"`{entry.Key}` cannot stand in settings that manuscripts share", "write it in the manuscript"));
        if (HouseKeys.Contains(entry.Key))
        {
            if (!entry.Parameters.Any()) return (this with { HouseOfUnit = HouseOfUnit.RemoveAll(e => e.Key == entry.Key) }).WithHouse(entry, source, place);
            if (entry.Parameters.FirstOrDefault(name => Parameters.All(p => p.Name != name)) is { } unknown)
                throw Wrong($"`{{{unknown}}}` is not a parameter of the manuscript", Nearest.Suggest(unknown, Parameters.Select(p => p.Name)) ?? "settings of the house may hold parameters in braces, and nothing else");
            var deferred = this with { HouseOfUnit = [.. HouseOfUnit, entry] };
            // What stands without a batch; a parameter without a value leaves the house as it is.
            var values = Parameters.Where(p => p.Default is not null).ToDictionary(p => p.Name, p => p.Default!);
            return entry.Parameters.All(values.ContainsKey) ? deferred.WithHouse(entry.Filled(values), source, place) : deferred;
        }
        switch (entry.Key)
        {
            case "fennick":
                return entry.Text == "1" ? this : throw Wrong("this manuscript is of another version of the format", "this Fennick reads version 1");
            case "title": return this with { Title = entry };
            case "subtitle": return this with { Subtitle = entry };
            case "author" or "authors": return this with { Authors = [.. Authors, .. entry.Text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)] };
            case "date":
                return DateOnly.TryParseExact(entry.Text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
                    ? this with { Date = date } : throw Wrong($"`{entry.Text}` is not a date", "write it as `2025-11-03`");
            case "language":
                return Language.Find(entry.Text) is { } language
                    ? this with { Language = language.With(Language.Numbers).With([.. Language.OwnFormats.Values]) } : throw Wrong($"`{entry.Text}` is not a language", "write a tag such as `en-GB` or `de`");
            case "library":
                return this with { Libraries = [.. Libraries, .. entry.Text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Select(l => ReadLibrary(l, source.FileOf(entry.Offset), place))] };
            case var key when key.StartsWith("house.style ", StringComparison.Ordinal):
                var role = key["house.style ".Length..].Trim();
                return RoleFinder.Roles.Contains(role) ? this with { House = House with { Styles = House.Styles.ToImmutableDictionary().SetItem(role, entry.Text) } }
                    : throw new ReportException(Diagnostic.Error(source.PlaceOf(entry.Offset), $"`{role}` is not a role of a style", Nearest.Suggest(role, RoleFinder.Roles) ?? "the roles are those that `fennick house check` lists"));
            case "page.watermark": return this with { Watermark = entry.Text };
            case var key when key.StartsWith("page.", StringComparison.Ordinal): return this with { Page = Page.With(key["page.".Length..], entry, place, source.PlaceOf(entry.Offset)) };
            case "using": return this with { Usings = [.. Usings, .. entry.Text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)] };
            case "bibliography": return this with { Sources = ReadSources(entry, source.FileOf(entry.Offset), place) };
            case "outputs": return this with { Outputs = ReadOutputs(entry, place) };
            case "citations":
                return entry.Text switch
                {
                    "author-date" => this with { CitationStyle = CitationStyle.AuthorDate },
                    "numbered" => this with { CitationStyle = CitationStyle.Numbered },
                    _ => throw Wrong($"`{entry.Text}` is not a way of citing", Nearest.Suggest(entry.Text, ["author-date", "numbered"]) ?? "write `author-date` or `numbered`"),
                };
            case "listings":
                return entry.Text is "appendix" or "none" ? this with { HasAnnex = entry.Text == "appendix" } : throw Wrong($"`{entry.Text}` is not a place for all code", "write `appendix`, or `none`; `listing: shown` places the code above each result");
            case "scripts":
                return entry.Text is "allowed" or "refused" ? this with { AllowsScripts = entry.Text == "allowed" } : throw Wrong($"`{entry.Text}` does not say whether steps may run programs", "write `allowed` or `refused`");
            case "listing": return this with { Listing = ReadListing(entry, place) };
            case "tables.ruling":
                return this with { Report = Report with { TableRuling = ReadRuling(entry, place) } };
            case "numbers.digits":
                return int.TryParse(entry.Text, NumberStyles.None, CultureInfo.InvariantCulture, out var digits) && digits is >= 1 and <= 15
                    ? this with { Language = Language.With(Language.Numbers with { Digits = digits }) } : throw Wrong($"`{entry.Text}` is not a number of digits", "write a whole number from 1 to 15");
            case "numbers.missing": return this with { Language = Language.With(Language.Numbers with { Missing = entry.Text }) };
            case "tables.caption": return this with { Report = Report with { TableCaption = ReadCaptionPlace(entry, place) } };
            case "data": return this with { Data = [.. Data ?? [], .. entry.Text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Select(f => FindFile(f, source.FileOf(entry.Offset), place))] };
            case "data.encoding":
                _ = TextEncoding.Find(entry.Text, place);
                return this with { DataEncoding = entry.Text };
            case "house.values": return this with { TakesHouseValues = ReadYesNo(entry, place) };
            case "headings.numbered":
                if (entry.Text.Split(' ') is [[>= '1' and <= '6' and var levels], "level" or "levels"])
                    return this with { House = House with { NumbersHeadings = true }, Report = Report with { NumberedLevels = levels - '0' } };
                return entry.Text is "yes" or "no" ? this with { House = House with { NumbersHeadings = ReadYesNo(entry, place) } } : throw Wrong($"`{entry.Text}` does not say which headings have numbers", "write `yes`, `no`, or how many levels, such as `2 levels`");
            case "captions.numbering":
                return entry.Text switch
                {
                    // What counts in chapters needs their numbers.
                    "by chapter" => this with { Report = Report with { CaptionsByChapter = true }, House = House with { NumbersHeadings = House.NumbersHeadings ?? true } },
                    "whole report" => this with { Report = Report with { CaptionsByChapter = false } },
                    _ => throw Wrong($"`{entry.Text}` is not a way of numbering captions", Nearest.Suggest(entry.Text, ["by chapter", "whole report"]) ?? "write `by chapter` or `whole report`"),
                };
            case var key when key.StartsWith("series ", StringComparison.Ordinal): return this with { Report = Report with { Series = [.. Report.Series.RemoveAll(s => s.Name == key["series ".Length..].Trim()), ReadSeries(key["series ".Length..].Trim(), entry, source.PlaceOf(entry.Offset))] } };
            case "cover": return this with { Report = Report with { HasCover = ReadYesNo(entry, place) } };
            case "living": return this with { Report = Report with { IsLiving = ReadYesNo(entry, place) } };
            case "source":
                return entry.Text is "embedded" or "beside" ? this with { EmbedsSource = entry.Text == "embedded" } : throw Wrong($"`{entry.Text}` does not say where the manuscript is kept", "write `embedded`, or `beside`");
            case "strict": return this with { Report = Report with { IsStrict = ReadYesNo(entry, place) } };
            case "tables.width": return this with { Report = Report with { TablesFillWidth = ReadTableWidth(entry, place) } };
            case "tables.symbols": return this with { Report = Report with { TableSymbols = ReadSymbols(entry, place) } };
            case "tables.turning": return this with { Report = Report with { TablesMayTurn = ReadYesNo(entry, place) } };
            case "tables.smallest": return this with { Report = Report with { SmallestTableText = ReadLength(entry, place).Of(Length.FromPoints(Design.Style(StyleRole.TableText).Points)).Points } };
            case "tables.unbroken":
                return int.TryParse(entry.Text.EndsWith(" rows", StringComparison.Ordinal) ? entry.Text[..^5] : entry.Text, NumberStyles.None, CultureInfo.InvariantCulture, out var rows)
                    ? this with { Report = Report with { UnbrokenTableRows = rows } } : throw Wrong($"`{entry.Text}` is not a number of rows", "write up to how many rows a table stands on one page, such as `12`; `0` lets every table break");
            case "tables.drift": return this with { Report = Report with { TablesMayDrift = ReadYesNo(entry, place) } };
            case "figures.drift": return this with { Report = Report with { FiguresMayDrift = ReadYesNo(entry, place) } };
            case "figures.shrink":
                return Measure.TryParse(entry.Text.Trim() is "no" ? "0 %" : entry.Text, out var share) && entry.Text.Trim() is "no" or [.., '%'] && share.Of(Length.FromPoints(1000)).Points is >= 0 and <= 500 and var thousandths
                    ? this with { Report = Report with { FigureShrink = thousandths / 1000 } } : throw Wrong($"`{entry.Text}` does not say by how much a figure may become smaller", "write a share such as `12 %`, up to `50 %`, or `no`");
            case "figures.caption": return this with { Report = Report with { FigureCaption = ReadCaptionPlace(entry, place) } };
            case "figures.width": return this with { Report = Report with { FigureWidth = ReadLength(entry, place) } };
            case "figures.align": return this with { Report = Report with { FigureAlignment = ReadAlignment(entry, place) } };
            case "figures.native": return this with { Report = Report with { HasNativeCharts = ReadYesNo(entry, place) } };
            case "figures.dpi": return this with { Report = Report with { FigureDotsPerInch = ReadDotsPerInch(entry, place) } };
            case "figures.palette": return this with { Report = Report with { FigurePalette = ReadPalette(entry, place) } };
            case "figures.labels": return this with { Report = Report with { FigureLabels = ReadLabels(entry, place) } };
            case "figures.height": return this with { Report = Report with { FigureHeight = ReadLength(entry, place) } };
            case var key when key.StartsWith("format ", StringComparison.Ordinal):
                return this with { Language = Language.With(OwnFormat.Chain(key["format ".Length..].Trim(), entry.Text)) };
            case var key when key.StartsWith("parameter ", StringComparison.Ordinal):
                if (Parameter.Declare(entry, source.PlaceOf, diagnostics) is not { } parameter) return this;
                if (Parameters.FirstOrDefault(p => p.Name == parameter.Name) is { } first)
                    throw new ReportException(Diagnostic.Error(parameter.Place, $"the parameter `{parameter.Name}` is declared twice (first at {first.Place})", "keep one of the two"));
                return this with { Parameters = Parameters.Add(parameter) };
            case "parameter" or "series" or "format":
                throw new ReportException(Diagnostic.Error(source.PlaceOf(entry.Offset), $"this {entry.Key} has no name", $"write it before the colon, such as `{entry.Key switch { "parameter" => "parameter apiary: Alder Bank", "series" => "series box: Box", _ => "format weight: number 1 | unit kg" }}`"));
            default:
                throw new ReportException(Diagnostic.Error(source.PlaceOf(entry.Offset), $"`{entry.Key}` is not a setting", Nearest.Suggest(entry.Key, Keys) ?? $"the settings are {string.Join(", ", Keys.Select(k => $"`{k}`"))}"));
        }

        ReportException Wrong(string message, string? suggestion) => new(Diagnostic.Error(place, message, suggestion));
    }

    /// <summary>Reads a series of captioned things: its word, and behind a comma that for several.</summary>
    private CaptionSeries ReadSeries(string name, SettingsEntry entry, SourcePlace place)
    {
        if (!Label.IsValid(name)) throw new ReportException(Diagnostic.Error(place, $"`{name}` is not a name of a series", "write a short word of letters, such as `series box: Box`"));
        var words = entry.Text.Split(',', StringSplitOptions.TrimEntries);
        if (words.Length > 2 || words.Any(w => w.Length == 0)) throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` does not say what stands before the numbers of `{name}`", $"write its word, and behind a comma that for several: `series {name}: Box, Boxes`"));
        return new CaptionSeries(name, words[0], words.Length == 2 ? words[1] : Language.Culture.TwoLetterISOLanguageName == "en" ? PluralOf(words[0]) : words[0]);
    }

    /// <summary>The plural of an English word as most have it.</summary>
    private static string PluralOf(string word) => word switch
    {
        [.. var stem, 'y'] when stem.Length > 0 && !"aeiou".Contains(stem[^1], StringComparison.Ordinal) => stem + "ies",
        [.., 's' or 'x' or 'z'] or [.., 'c' or 's', 'h'] => word + "es",
        _ => word + "s",
    };

    /// <summary>Reads where figures stand.</summary>
    internal static Alignment ReadAlignment(SettingsEntry entry, SourcePlace place) => entry.Text switch
    {
        "left" => Alignment.Left,
        "centre" or "center" => Alignment.Centre,
        "right" => Alignment.Right,
        _ => throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is not a place across the page", Nearest.Suggest(entry.Text, ["left", "centre", "right"]) ?? "write `left`, `centre` or `right`")),
    };

    /// <summary>Reads a resolution.</summary>
    internal static int ReadDotsPerInch(SettingsEntry entry, SourcePlace place) =>
        int.TryParse(entry.Text, NumberStyles.None, CultureInfo.InvariantCulture, out var dots) && dots is >= 50 and <= 1200 ? dots
        : throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is not a number of pixels to the inch", "write a whole number from 50 to 1200, such as 300"));

    /// <summary>Reads the colours of series.</summary>
    internal static ImmutableArray<string> ReadPalette(SettingsEntry entry, SourcePlace place)
    {
        string[] colours = entry.Text.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        return colours.FirstOrDefault(c => Colour.Parse(c) is null || c[0] != '#') is { } wrong || colours.Length == 0
            ? throw new ReportException(Diagnostic.Error(place, $"`{(colours.Length == 0 ? entry.Text : colours.First(c => Colour.Parse(c) is null || c[0] != '#'))}` is not a colour", "write colours as `#RRGGBB`, with commas between")) : [.. colours];
    }

    private static ImmutableArray<IReportWriter> ReadOutputs(SettingsEntry entry, SourcePlace place)
    {
        var names = entry.Text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Distinct().ToArray();
        string[] known = [.. ReportWriters.All.Select(w => w.Name)];
        if (names.FirstOrDefault(n => !known.Contains(n)) is { } unknown)
            throw new ReportException(Diagnostic.Error(place, $"a report cannot be written as `{unknown}`", Nearest.Suggest(unknown, known) ?? $"beside the document there are {string.Join(", ", known.Select(k => $"`{k}`"))}"));
        return [.. names.Select(n => ReportWriters.All.First(w => w.Name == n))];
    }

    /// <summary>Reads where the names of series stand.</summary>
    internal static SeriesLabels ReadLabels(SettingsEntry entry, SourcePlace place) => entry.Text switch
    {
        "auto" => SeriesLabels.Chosen,
        "legend" => SeriesLabels.Legend,
        "ends" => SeriesLabels.AtEnds,
        "none" => SeriesLabels.None,
        _ => throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is not a place for the names of series", Nearest.Suggest(entry.Text, ["auto", "legend", "ends", "none"]) ?? "write `auto`, `legend`, `ends` or `none`")),
    };

    /// <summary>Reads the path of a picture, and behind a comma how it is to be shown.</summary>
    private static (Picture Picture, bool? IsForced) ReadPicture(SettingsEntry entry, SourceFiles source, SourcePlace place, string forced, string forbidden)
    {
        var comma = entry.Text.LastIndexOf(',');
        var how = comma < 0 ? "" : entry.Text[(comma + 1)..].Trim();
        bool? isForced = how == forced ? true : how == forbidden ? false : null;
        var name = isForced is null ? entry.Text : entry.Text[..comma].Trim();
        var path = FindFile(name, source.FileOf(entry.Offset), place);
        return (Picture.Read(path, PictureTools.Instance), isForced);
    }

    /// <summary>The path of a file that is named in a setting.</summary>
    private static string FindFile(string name, ManuscriptSource file, SourcePlace place)
    {
        var path = Path.Combine(file.Folder, name);
        return File.Exists(path) ? path
            : throw new ReportException(Diagnostic.Error(place, Directory.Exists(path) ? $"`{name}` is a folder" : $"there is no file `{name}`", Directory.Exists(path) ? "name the files in it" : Nearest.SuggestFile(path)));
    }

    private static Library ReadLibrary(string text, ManuscriptSource file, SourcePlace place)
    {
        if (text.EndsWith(".dll", StringComparison.OrdinalIgnoreCase)) return new Library(Path.GetFullPath(Path.Combine(file.Folder, text)), null, place);
        return text.Split(' ', StringSplitOptions.RemoveEmptyEntries) is [var name, [>= '0' and <= '9', ..] and var version] && name.All(c => char.IsLetterOrDigit(c) || c is '.' or '_' or '-') && version.All(c => char.IsLetterOrDigit(c) || c is '.' or '-' or '+')
            ? new Library(name, version, place)
            : throw new ReportException(Diagnostic.Error(place, $"`{text}` is not a library", "write the name of a package and its version, such as `Larkmere.Analysis 2.1.0`, or the path of a `.dll`"));
    }

    private static WorkList ReadSources(SettingsEntry entry, ManuscriptSource file, SourcePlace place)
    {
        var names = entry.Text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        foreach (var name in names) FindFile(name, file, place);
        // Mistakes in the file are told as the manuscript names it.
        var shown = Path.GetDirectoryName(file.DisplayPath) ?? "";
        try
        {
            return WorkList.Read(names.Select(n => Path.Combine(file.Folder, n)));
        }
        catch (ReportException problem)
        {
            throw new ReportException(problem.Diagnostics.Select(d => d.Place is { } at ? d with { Place = at with { File = Path.Combine(shown, Path.GetRelativePath(file.Folder, at.File)) } } : d));
        }
    }

    /// <summary>Reads the name of a ruling of the house.</summary>
    public Ruling ReadRuling(SettingsEntry entry, SourcePlace place) => Design.FindRuling(entry.Text, place);

    /// <summary>Reads <c>yes</c> or <c>no</c>.</summary>
    public static bool ReadYesNo(SettingsEntry entry, SourcePlace place) => entry.Text switch
    {
        "yes" => true,
        "no" => false,
        _ => throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is neither `yes` nor `no`", null)),
    };

    /// <summary>Reads <c>shown</c> or <c>hidden</c>.</summary>
    public static bool ReadListing(SettingsEntry entry, SourcePlace place) => entry.Text switch
    {
        "shown" => true,
        "hidden" => false,
        _ => throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is neither `shown` nor `hidden`", null)),
    };

    /// <summary>Whether tables are as wide as the text.</summary>
    public static bool ReadTableWidth(SettingsEntry entry, SourcePlace place) => entry.Text switch
    {
        "full" => true,
        "content" => false,
        _ => throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is not a width of tables", "write `full` for that of the text, or `content` for that of what they hold")),
    };

    /// <summary>Signs in tables and what they mean: <c>– nothing; .. not available</c>.</summary>
    private static ImmutableArray<TableSymbol> ReadSymbols(SettingsEntry entry, SourcePlace place) => [.. entry.Text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
        .Select(part => part.Split(' ', 2, StringSplitOptions.TrimEntries) is [var sign, { Length: > 0 } meaning] ? new TableSymbol(sign, meaning)
            : throw new ReportException(Diagnostic.Error(place, $"`{part}` does not say what a sign means", "write signs with their meanings, such as `– nothing; .. not available`")))];

    private static CaptionPlace ReadCaptionPlace(SettingsEntry entry, SourcePlace place) => entry.Text switch
    {
        "above" => CaptionPlace.Above,
        "below" => CaptionPlace.Below,
        _ => throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is not a place of a caption", "write `above` or `below`")),
    };

    /// <summary>Reads a length such as <c>15 cm</c>, or a share such as <c>80 %</c>.</summary>
    public static Measure ReadLength(SettingsEntry entry, SourcePlace place) =>
        Measure.TryParse(entry.Text, out var length) && length.IsPositive
            ? length : throw new ReportException(Diagnostic.Error(place, $"`{entry.Text}` is not a length", "write a number and `cm`, `mm`, `in`, `pt` or `%`, such as `15 cm`"));
}
