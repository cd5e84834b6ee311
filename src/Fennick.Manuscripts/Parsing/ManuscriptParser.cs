using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Source;
using Fennick.Manuscripts.Steps;
using Fennick.Mathematics;
using Fennick.Prose;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using Block = Markdig.Syntax.Block;
using Inline = Markdig.Syntax.Inlines.Inline;
using PipeTable = Markdig.Extensions.Tables.Table;

namespace Fennick.Manuscripts.Parsing;

/// <summary>Parses a manuscript: settings, prose with braces, steps. It never needs the compiler.</summary>
internal sealed partial class ManuscriptParser
{
    /// <summary>What the fence of the settings begins with.</summary>
    public const string SettingsWord = "manuscript";

    private readonly SourceFiles sources;
    private readonly List<Diagnostic> diagnostics;
    private readonly StepReader stepReader;
    private readonly Dictionary<HoleInline, ValueHole> values = [];
    private readonly Dictionary<HoleInline, Reference> references = [];
    private readonly Dictionary<HoleInline, DressedWords> dressed = [];
    private readonly Dictionary<MarkdownObject, Control> controls = [];
    private readonly Dictionary<MarkdownObject, ImmutableArray<ControlHead>> heads = [];
    private readonly Dictionary<DirectiveBlock, Documents.Block> directives = [];
    private readonly Dictionary<MarkdownObject, Captioned> captions = [];
    private readonly Dictionary<HeadingBlock, LabelTemplate> headingLabels = [];
    private readonly HashSet<HeadingBlock> unnumbered = [];
    private readonly Dictionary<HoleInline, Documents.Inline> citations = [];
    private readonly Dictionary<ControlHead, Dictionary<string, ProseFragment>> margins = [];
    private readonly Dictionary<ControlHead, AroundCaption> around = [];
    private readonly Dictionary<HoleInline, AbbreviatedWords> abbreviations = [];
    private readonly Dictionary<HoleInline, IndexedTerm> indexed = [];
    private readonly Dictionary<Markdig.Syntax.Inlines.LinkInline, LabelTemplate> targets = [];
    private readonly Dictionary<MarkdownObject, Formula> formulas = [];
    private readonly Dictionary<FormulaNode.Live, ValueHole> lives = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<FormulaBlock, LabelTemplate> formulaLabels = [];
    private readonly Dictionary<FencedCodeBlock, Step> steps = [];
    private readonly List<(string, SourcePlace)> loneWords = [];
    private readonly List<Executable> executables = [];
    private readonly Stack<string> including = [];
    private ManuscriptSettings settings;
    private HashSet<FootnoteBlock> notes = [];

    private ManuscriptParser(SourceFiles sources, List<Diagnostic> diagnostics)
    {
        this.sources = sources;
        this.diagnostics = diagnostics;
        settings = new ManuscriptSettings { Place = sources.PlaceOf(0) };
        stepReader = new StepReader(sources, diagnostics, executables, () => settings, ParseProse, ReadLabel);
    }

    /// <summary>The whole tree; errors are in the diagnostics.</summary>
    /// <param name="sources">The manuscript; files that it includes are added.</param>
    /// <param name="overrides">Settings that count instead of the manuscript's own.</param>
    /// <param name="diagnostics">Takes what is wrong.</param>
    public static ManuscriptTree Parse(SourceFiles sources, IReadOnlyDictionary<string, string> overrides, List<Diagnostic> diagnostics) => new ManuscriptParser(sources, diagnostics).Run(overrides);

    /// <summary>The values that the house asks for: the slots whose names are braces, such as <c>{honey.Average():0.0}</c>. It is not a program: unless the manuscript allows it, nothing is given, and then only members of the manuscript's own variables.</summary>
    private Dictionary<string, ProseFragment> ReadSlots()
    {
        var expressions = new Dictionary<string, ProseFragment>();
        if (settings.House.File is not { } file || diagnostics.Any(d => d.Severity == Severity.Error)) return expressions;
        foreach (var name in settings.House.Dress(settings.Language).Slots.SelectMany(s => s.Names).Where(n => n.StartsWith('{') || n.StartsWith('=')).Distinct())
        {
            var display = $"{file.Place.File}: slot `{name}`";
            if (name.StartsWith('='))
            {
                diagnostics.Add(Diagnostic.Error(new SourcePlace(display, -1, 0), "a slot for a value is now written in braces", $"write `{{{name[1..]}}}` as its tag"));
                continue;
            }
            var value = name[1..].TrimEnd('}');
            if (!settings.TakesHouseValues)
            {
                diagnostics.Add(Diagnostic.Warning(settings.Place, $"the house asks for the value of `{value}`, which it does not get", "write `house.values: yes` into the manuscript's settings if it may"));
                continue;
            }
            if (!HouseValue().IsMatch(name))
            {
                diagnostics.Add(Diagnostic.Error(new SourcePlace(display, -1, 0), $"`{value}` is not a value that a house may ask for", "it may ask for variables of the manuscript and their members, such as `{hives.Count:N0}` or `{kilograms.Average():0.0}`; let a labelled `text` step fill a slot with anything else"));
                continue;
            }
            var given = sources.Add(display, sources.Main.Folder, $"slot: {name}", hasLines: false);
            expressions[name] = ParseProse(SettingsReader.Read(SourceFragment.Join([.. given.Lines]), sources, diagnostics)[0]);
        }
        return expressions;
    }

    // A name, its members, items of sequences by number or text, and the usual summaries without arguments; behind a colon a format.
    [GeneratedRegex("""^\{\s*\w+(\??\.\w+|\.(Count|LongCount|Sum|Average|Min|Max|First|Last|Single|Any)\(\)|\[\s*(\^?[0-9]+|"[^"\\{}]*")\s*\])*\s*(:[^{}]*)?\}$""")]
    private static partial Regex HouseValue();

    private ManuscriptTree Run(IReadOnlyDictionary<string, string> overrides)
    {
        var (document, block) = ParseFile(sources.Main);
        settings = ManuscriptSettings.Read(block, sources, diagnostics);
        foreach (var (key, value) in overrides)
        {
            var given = sources.Add($"--with {key}={value}", Environment.CurrentDirectory, $"{key}: {value}", hasLines: false);
            settings = settings.With(SettingsReader.Read(SourceFragment.Join([.. given.Lines]), sources, diagnostics), sources, diagnostics);
        }
        including.Push(Path.GetFullPath(Path.Combine(sources.Main.Folder, Path.GetFileName(sources.Main.DisplayPath))));
        Prepare(document, sources.Main);
        FindMisspelt(document);
        var units = ImmutableArray.CreateBuilder<ManuscriptUnit>();
        foreach (var child in document)
        {
            var found = new List<Executable>();
            Collect(child, found);
            units.Add(new ManuscriptUnit(child, [.. found]));
        }
        var title = settings.Title is { } t ? ParseProse(t) : null;
        var subtitle = settings.Subtitle is { } s ? ParseProse(s) : null;
        var pageWords = settings.Page.Words.ToDictionary(w => w.Key, w => ParseProse(w.Value));
        var slotExpressions = ReadSlots();
        return new ManuscriptTree
        {
            PageWords = pageWords,
            SlotExpressions = slotExpressions,
            Margins = margins,
            Around = around,
            Abbreviations = abbreviations,
            Indexed = indexed,
            Sources = sources,
            Settings = settings,
            Title = title,
            Subtitle = subtitle,
            Units = units.ToImmutable(),
            Executables = [.. executables],
            Values = values,
            References = references,
            Dressed = dressed,
            Controls = controls,
            Directives = directives,
            Captions = captions,
            HeadingLabels = headingLabels,
            Unnumbered = unnumbered,
            Citations = citations,
            Targets = targets,
            Formulas = formulas,
            Lives = lives,
            FormulaLabels = formulaLabels,
            Steps = steps,
            LoneWords = [.. loneWords],
        };
    }

    /// <summary>Parses a file and takes its settings out.</summary>
    private (MarkdownDocument Document, SourceFragment? Settings) ParseFile(ManuscriptSource file)
    {
        if (file.Text.StartsWith("---", StringComparison.Ordinal))
            Error(file.Start, "a block between dashes holds no settings", "write them in a fence with the info word `manuscript`");
        var document = ProseParser.Parse(file.Text, offset => file.Start + offset);
        diagnostics.AddRange(ProseParser.FindMistakes(document, offset => sources.PlaceOf(offset)));
        SourceFragment? block = null;
        foreach (var fence in document.OfType<FencedCodeBlock>().Where(f => f.Info == SettingsWord).ToArray())
        {
            if (document[0] == fence) block = SourceFragment.Of(fence.Lines, file, fence.Span.Start);
            else Error(fence.Span.Start, "the settings are not the first block", "move them to the top of the file");
            stepReader.CheckEnd(fence);
        }
        foreach (var fence in document.OfType<FencedCodeBlock>().Where(f => f.Info == SettingsWord).ToArray()) document.Remove(fence);
        return (document, block);
    }

    /// <summary>Tells of words on lines of their own that were meant to begin what an `{end}` ends.</summary>
    private void FindMisspelt(MarkdownDocument document)
    {
        var ends = diagnostics.Where(d => d.Message.EndsWith("has no beginning", StringComparison.Ordinal)).ToArray();
        foreach (var paragraph in document.OfType<ParagraphBlock>())
        {
            if (ends.Length == 0 || paragraph.Inline is not { FirstChild: HoleInline hole } only || only.FirstChild != only.LastChild || Nearest.Find(hole.Source.Trim(), ["landscape"]) is not { } near) continue;
            Error(hole.Span.Start, $"`{{{hole.Source.Trim()}}}` begins nothing", $"did you mean `{{{near}}}`?");
            // Once it begins something, its end does too.
            _ = diagnostics.Remove(ends[0]);
            ends = ends[1..];
        }
    }

    /// <summary>Puts in what is included, gives tables and pictures their captions, and finds what loops and conditions hold.</summary>
    private void Prepare(ContainerBlock container, ManuscriptSource file)
    {
        foreach (var child in container.ToArray())
        {
            if (child is DirectiveBlock { Source: var alone }) NoteLoneWord(alone, child.Span.Start);
            switch (child)
            {
                case ContainerBlock inner:
                    Prepare(inner, file);
                    break;
                case LeafBlock { Inline: { } inlines }:
                    Prepare(inlines);
                    break;
                case DirectiveBlock directive when directive.Source.Trim() is var source && source.StartsWith("include ", StringComparison.Ordinal):
                    Include(directive, source["include ".Length..].Trim(), container, file);
                    break;
                case DirectiveBlock directive when directive.Source.Trim().Split(' ')[0] is "landscape" or "columns" or "pages" && container is not MarkdownDocument:
                    Error(directive.Span.Start, $"`{{{directive.Source.Trim()}}}` stands inside a list or a quotation", "put it, and its `{end}`, outside");
                    break;
                case DirectiveBlock directive when directive.Source.Trim().Split(' ')[0] is ("table" or "figure") and var kind:
                    var next = container.IndexOf(directive) + 1;
                    ReadCaption(directive, kind == "table" ? NumberedKind.Table : NumberedKind.Figure, next < container.Count ? container[next] : null);
                    container.Remove(directive);
                    break;
            }
        }
        if (!container.Any(b => ControlGrouper<Block>.IsControl((b as DirectiveBlock)?.Source))) return;
        var nodes = new ControlGrouper<Block>(b => (b as DirectiveBlock)?.Source, b => b.Span.Start, CreateHead, Error).Group(container);
        container.Clear();
        Rebuild(container, nodes);
    }

    /// <summary>A word that is a directive by itself could be the name of a variable; whether there is one, the program knows.</summary>
    private void NoteLoneWord(string source, int offset)
    {
        if (source.Trim() is var word && (word == "end" || BraceWords.Alone.Contains(word))) loneWords.Add((word, sources.PlaceOf(offset)));
    }

    private void Prepare(ContainerInline container)
    {
        foreach (var inner in container.OfType<ContainerInline>()) Prepare(inner);
        if (!container.Any(i => ControlGrouper<Inline>.IsControl((i as HoleInline)?.Source))) return;
        var inlines = container.ToArray();
        foreach (var hole in inlines.OfType<HoleInline>()) NoteLoneWord(hole.Source, hole.Span.Start);
        foreach (var inline in inlines) inline.Remove();
        Rebuild(container, new ControlGrouper<Inline>(i => (i as HoleInline)?.Source, i => i.Span.Start, CreateHead, Error).Group(inlines));
    }

    private void Rebuild(ContainerBlock container, ImmutableArray<Grouped<Block>> nodes)
    {
        foreach (var node in nodes)
        {
            if (node is not Grouped<Block>.Control grouped)
            {
                container.Add(((Grouped<Block>.Node)node).Value);
                continue;
            }
            var control = new ControlBlock { Layout = ReadLayout(grouped.Branches[0].Head) };
            foreach (var (_, inside) in grouped.Branches)
            {
                var branch = new BranchBlock();
                Rebuild(branch, inside);
                control.Add(branch);
            }
            heads[control] = [.. grouped.Branches.Select(b => b.Head)];
            container.Add(control);
        }
    }

    private void Rebuild(ContainerInline container, ImmutableArray<Grouped<Inline>> nodes)
    {
        foreach (var node in nodes)
        {
            if (node is not Grouped<Inline>.Control grouped)
            {
                container.AppendChild(((Grouped<Inline>.Node)node).Value);
                continue;
            }
            var control = new ControlInline();
            foreach (var (_, inside) in grouped.Branches)
            {
                var branch = new BranchInline();
                Rebuild(branch, inside);
                control.AppendChild(branch);
            }
            heads[control] = [.. grouped.Branches.Select(b => b.Head)];
            container.AppendChild(control);
        }
    }

    /// <summary>What landscape pages and columns make of the blocks inside.</summary>
    private Func<ImmutableArray<Documents.Block>, Documents.Block>? ReadLayout(ControlHead head)
    {
        switch (head.Kind)
        {
            case ControlKind.Landscape: return blocks => new Landscape(blocks);
            case ControlKind.Columns:
                var text = head.Text.Trim()["columns ".Length..];
                if (Shares.Read(text) is { } shares) return blocks => new SideBySide(shares, Columns(blocks)) { Place = sources.PlaceOf(head.Offset - 1) };
                Error(head.Offset - 1, $"`{text}` are no shares of columns that make up the whole", "write `{columns 1/3, 2/3}`, `{columns 40 %, 60 %}` or `{columns 2}` for two alike");
                return blocks => new SideBySide([1], [blocks]);
            case ControlKind.Pages:
                var layout = ReadPages(head);
                return blocks => new Pages(layout, blocks);
            case ControlKind.Series: return ReadSeries(head);
            case ControlKind.Equations:
                var place = sources.PlaceOf(head.Offset - 1);
                var name = head.Text.Trim()["equations ".Length..].Trim();
                around[head] = new AroundCaption(ReadLabel(name, head.Offset + head.Text.IndexOf(name, StringComparison.Ordinal), place, []), null);
                return blocks => new EquationGroup(blocks);
            case ControlKind.Box: return BoxReader.Read(head.Text.Trim(), sources.PlaceOf(head.Offset - 1));
            default: return null;
        }

        ImmutableArray<ImmutableArray<Documents.Block>> Columns(ImmutableArray<Documents.Block> blocks)
        {
            var columns = ImmutableArray.CreateBuilder<ImmutableArray<Documents.Block>>();
            var first = 0;
            for (var i = 0; i <= blocks.Length; i++)
            {
                if (i < blocks.Length && blocks[i] is not NextColumn) continue;
                columns.Add(blocks[first..i]);
                first = i + 1;
            }
            return columns.ToImmutable();
        }
    }

    /// <summary>Reads <c>series box weighing: How hives are weighed</c>.</summary>
    private Func<ImmutableArray<Documents.Block>, Documents.Block> ReadSeries(ControlHead head)
    {
        var place = sources.PlaceOf(head.Offset - 1);
        var start = head.Text.IndexOf("series ", StringComparison.Ordinal) + "series ".Length;
        var colon = head.Text.IndexOf(": ", start, StringComparison.Ordinal);
        var words = head.Text[start..(colon < 0 ? head.Text.Length : colon)].Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (colon < 0 || words.Length is 0 or > 2)
        {
            Error(head.Offset - 1, $"`{{{head.Text.Trim()}}}` is not a caption of a series", "write `{series box label: Caption}`");
            return blocks => new SeriesItem("", RichText.Empty, blocks);
        }
        var label = words.Length == 2 ? ReadLabel(words[1], head.Offset + head.Text.IndexOf(words[1], start + words[0].Length, StringComparison.Ordinal), place, []) : null;
        around[head] = new AroundCaption(label, ParseProse(head.Text[(colon + 1)..], offset => head.Offset + colon + 1 + offset, "caption"));
        return blocks => new SeriesItem(words[0], RichText.Empty, blocks) { Place = place };
    }

    /// <summary>Reads what braces say of pages: <c>key: value</c>, parted by semicolons.</summary>
    private PageLayout ReadPages(ControlHead head)
    {
        var settings = new PageSettings();
        var start = "pages ".Length + head.Text.IndexOf("pages ", StringComparison.Ordinal);
        foreach (var (text, at) in SplitEntries(head.Text, start))
        {
            var offset = head.Offset + at;
            if (SettingsReader.KeyLength(text) is not { } length)
            {
                Error(offset, $"`{text.Trim()}` says nothing about pages", "write `{pages orientation: landscape; margins: 2 cm}`");
                continue;
            }
            var value = text[(length + 1)..];
            var lead = value.Length - value.TrimStart().Length;
            var entry = new SettingsEntry(text[..length].Trim(), offset, SourceFragment.Join([(value.Trim(), offset + length + 1 + lead)]));
            try
            {
                settings = settings.With(entry.Key, entry, sources.PlaceOf(entry.Value.Offset), sources.PlaceOf(offset));
            }
            catch (ReportException problem)
            {
                diagnostics.AddRange(problem.Diagnostics);
            }
        }
        if (!settings.Words.IsEmpty) margins[head] = settings.Words.ToDictionary(w => w.Key, w => ParseProse(w.Value));
        return settings.Layout;
    }

    private static IEnumerable<(string Text, int At)> SplitEntries(string text, int start)
    {
        var depth = 0;
        for (var i = start; i <= text.Length; i++)
        {
            if (i < text.Length && text[i] is '{' or '}') depth += text[i] == '{' ? 1 : -1;
            if (i < text.Length && (text[i] != ';' || depth > 0)) continue;
            var lead = text[start..i].Length - text[start..i].TrimStart().Length;
            if (lead < i - start) yield return (text[(start + lead)..i], start + lead);
            start = i + 1;
        }
    }

    private ControlHead CreateHead(ControlKind kind, string variable, string expression, string text, int offset)
    {
        var head = new ControlHead(executables.Count, kind, variable, expression, text, offset);
        executables.Add(head);
        return head;
    }

    /// <summary>Another manuscript's blocks stand where it is included; its parameters, namespaces and libraries join, all other settings of it do not count.</summary>
    private void Include(DirectiveBlock directive, string target, ContainerBlock container, ManuscriptSource file)
    {
        var at = container.IndexOf(directive);
        container.RemoveAt(at);
        var place = sources.PlaceOf(directive.Span.Start);
        var path = Path.GetFullPath(Path.Combine(file.Folder, target));
        if (including.Contains(path))
        {
            diagnostics.Add(Diagnostic.Error(place, $"`{target}` includes itself, {(including.Peek() == path ? "right here" : "by way of what it includes")}", "take one of the two out"));
            return;
        }
        ManuscriptSource included;
        try
        {
            included = sources.Read(Path.Combine(Path.GetDirectoryName(file.DisplayPath) ?? "", target), path, place);
        }
        catch (ReportException problem)
        {
            diagnostics.AddRange(problem.Diagnostics);
            return;
        }
        var (document, block) = ParseFile(included);
        settings = settings.Join(ManuscriptSettings.Read(block, sources, diagnostics));
        including.Push(path);
        Prepare(document, included);
        including.Pop();
        var children = document.ToArray();
        document.Clear();
        foreach (var child in children) container.Insert(at++, child);
    }

    /// <summary>Reads <c>label, width 8 cm: Caption</c>.</summary>
    private void ReadCaption(DirectiveBlock directive, NumberedKind kind, Block? captioned)
    {
        var word = kind == NumberedKind.Table ? "table" : "figure";
        var fits = kind == NumberedKind.Table ? captioned is PipeTable : captioned is ParagraphBlock { Inline: { } inlines } && inlines.All(i => i is Markdig.Syntax.Inlines.LinkInline { IsImage: true });
        if (!fits)
        {
            Error(directive.Span.Start, $"`{{{directive.Source.Trim()}}}` stands above no {(kind == NumberedKind.Table ? "pipe table" : "picture")}", $"put it on the line above one; a step is labelled in its fence: `csharp {word} LABEL`");
            return;
        }
        var text = directive.Source;
        var start = directive.Span.Start + 1;
        var object_ = text.IndexOf(word, StringComparison.Ordinal) + word.Length;
        var colon = text.IndexOf(':', object_);
        var parts = text[object_..(colon < 0 ? text.Length : colon)].Split(',');
        LabelTemplate? label = null;
        var place = sources.PlaceOf(directive.Span.Start);
        var found = new Captioned(kind, null, null, place);
        foreach (var part in parts.Select(p => p.Trim()))
        {
            if (label is null && !part.Contains(' ')) label = ReadLabel(part, start + text.IndexOf(part, object_, StringComparison.Ordinal), place, []);
            else if (kind == NumberedKind.Figure && part.Split(' ', 2) is ["width" or "height", var size] && Measure.TryParse(size, out var length) && length.IsPositive)
                found = part[0] == 'w' ? found with { Width = length } : found with { Height = length };
            else Error(directive.Span.Start, $"`{part}` says nothing about a {word}", kind == NumberedKind.Table ? "write `{table label: Caption}`" : "write `{figure label, width 8 cm: Caption}`");
        }
        var caption = colon < 0 ? null : ParseProse(text[(colon + 1)..], offset => start + colon + 1 + offset, "caption");
        captions[captioned!] = found with { Label = label, Caption = caption };
    }

    /// <summary>Finds holes and steps in the order of the text.</summary>
    private void Collect(Block block, List<Executable> found)
    {
        if (captions.TryGetValue(block, out var captioned)) found.AddRange(captioned.Executables);
        switch (block)
        {
            case ControlBlock control:
                if (margins.TryGetValue(heads[control][0], out var words)) found.AddRange(words.Values.SelectMany(w => w.Executables));
                if (around.TryGetValue(heads[control][0], out var said)) found.AddRange(said.Executables);
                Collect(control, control.OfType<BranchBlock>().Select(branch => (Action<List<Executable>>)(inside =>
                {
                    foreach (var inner in branch) Collect(inner, inside);
                })), found);
                break;
            case FootnoteBlock:
                // What is in it is carried out where its first mark stands.
                break;
            case ContainerBlock container:
                foreach (var inner in container) Collect(inner, found);
                break;
            case DirectiveBlock directive:
                ReadDirective(directive);
                break;
            case FencedCodeBlock fence:
                stepReader.CheckEnd(fence);
                if (stepReader.Read(fence) is { } step)
                {
                    steps[fence] = step;
                    found.Add(step);
                }
                break;
            case FormulaBlock formula:
                ReadFormula(formula, found);
                ReadLabel(formula, found);
                break;
            case LeafBlock { Inline: { } inlines }:
                Collect(inlines, found);
                break;
        }
    }

    private void Collect(Inline inline, List<Executable> found)
    {
        switch (inline)
        {
            case HoleInline { HasEnd: true } hole:
                Read(hole, found);
                break;
            case FormulaSpan formula:
                ReadFormula(formula, found);
                break;
            case FootnoteMark { Definition: { } note } when notes.Add(note):
                foreach (var block in note) Collect(block, found);
                break;
            case ControlInline control:
                Collect(control, control.OfType<BranchInline>().Select(branch => (Action<List<Executable>>)(inside => Collect(branch, inside))), found);
                break;
            case ContainerInline container:
                if (container is Markdig.Syntax.Inlines.LinkInline { Url: { } url } link && url.Contains(HoleMarks.Open, StringComparison.Ordinal))
                    targets[link] = ReadLabel(HoleMarks.Restore(url), TargetOffset(link), sources.PlaceOf(link.Span.Start), found);
                foreach (var inner in container) Collect(inner, found);
                break;
        }
    }

    /// <summary>Collects each branch by itself: what is marked first in one is unknown in the others.</summary>
    private void Collect(MarkdownObject control, IEnumerable<Action<List<Executable>>> branches, List<Executable> found)
    {
        var outer = notes;
        var bodies = ImmutableArray.CreateBuilder<(ControlHead, ImmutableArray<Executable>)>();
        foreach (var (collect, head) in branches.Zip(heads[control]))
        {
            notes = [.. outer];
            var inside = new List<Executable>();
            collect(inside);
            bodies.Add((head, [.. inside]));
        }
        notes = outer;
        var made = new Control(executables.Count, bodies.ToImmutable());
        executables.Add(made);
        controls[control] = made;
        found.Add(made);
    }

    private void ReadDirective(DirectiveBlock directive)
    {
        var word = directive.Source.Trim();
        switch (word)
        {
            case "page break": directives[directive] = new PageBreak(); break;
            case "next column": directives[directive] = new NextColumn(sources.PlaceOf(directive.Span.Start)); break;
            case "bibliography": directives[directive] = new Bibliography(); break;
            case "contents": directives[directive] = new Contents(); break;
            case "appendix": directives[directive] = new Appendices(); break;
            case "index of terms": directives[directive] = new IndexOfTerms(); break;
            case "list of abbreviations": directives[directive] = new ListOfAbbreviations(); break;
            case "list of tables": directives[directive] = new ListOfTables(); break;
            case "list of figures": directives[directive] = new ListOfFigures(); break;
            case var list when list.StartsWith("list of ", StringComparison.Ordinal):
                var listed = list["list of ".Length..].Trim();
                if (settings.Report.Series.FirstOrDefault(s => s.Name == listed || s.Plural.Equals(listed, StringComparison.OrdinalIgnoreCase)) is { } series) directives[directive] = new ListOfSeries(series.Name, sources.PlaceOf(directive.Span.Start));
                else Error(directive.Span.Start, $"there is no list of `{listed}`", Nearest.Find(listed, ["tables", "figures", "abbreviations", .. settings.Report.Series.Select(s => s.Name)]) is { } near ? $"did you mean `{{list of {near}}}`?" : $"a series of captions is declared in the settings: `series {listed}: …`");
                break;
            case var contents when contents.StartsWith("contents:", StringComparison.Ordinal):
                if (contents["contents:".Length..].Trim().Split(' ') is [[>= '1' and <= '6' and var levels], "level" or "levels"]) directives[directive] = new Contents(levels - '0');
                else Error(directive.Span.Start, $"`{contents}` does not say how many levels", "write `{contents: 2 levels}`, up to six");
                break;
            default:
                Error(directive.Span.Start, $"`{{{word}}}` is not available in this version");
                break;
        }
    }

    /// <summary>In the cell of a pipe table a bar may be escaped, as Markdown has it.</summary>
    private static bool IsInCell(HoleInline hole) => hole.ParentBlock()?.Parent is Markdig.Extensions.Tables.TableCell;

    private void Read(HoleInline hole, List<Executable> found)
    {
        var start = hole.Span.Start;
        var place = sources.PlaceOf(start);
        var source = IsInCell(hole) ? hole.Source.Replace("\\|", "|", StringComparison.Ordinal) : hole.Source;
        switch (BraceReader.Read(source))
        {
            case Brace.See(var labels, var form):
                references[hole] = new Reference([.. labels.Select(l => ReadLabel(l, start + 1 + hole.Source.IndexOf(l, StringComparison.Ordinal), place, found))], form);
                break;
            case Brace.Index(var term, var detail):
                var termAt = source.IndexOf(term, "index".Length + source.IndexOf("index", StringComparison.Ordinal), StringComparison.Ordinal);
                indexed[hole] = new IndexedTerm(ReadLabel(term, start + 1 + termAt, place, found), detail is null ? null : ReadLabel(detail, start + 1 + source.IndexOf(detail, termAt + term.Length, StringComparison.Ordinal), place, found));
                break;
            case Brace.Abbreviation(var name, null):
                citations[hole] = new AbbreviationInline(name, null, place);
                break;
            case Brace.Abbreviation(var name, { } at):
                var explained = ParseProse(hole.Source[at..], offset => start + 1 + at + offset, name);
                abbreviations[hole] = new AbbreviatedWords(name, explained, place);
                found.AddRange(explained.Executables);
                break;
            case Brace.Unnumbered when IsAtEnd(hole) is { } plain:
                unnumbered.Add(plain);
                break;
            case Brace.Unnumbered:
                Error(start, "`{no number}` does not stand at the end of a heading", "put it behind the words of the heading");
                break;
            case Brace.Label(var name) when IsAtEnd(hole) is { } heading:
                headingLabels[heading] = ReadLabel(name, start + 1 + hole.Source.IndexOf(name, StringComparison.Ordinal), place, found);
                break;
            case Brace.Label(var name):
                Error(start, $"`{{label {name}}}` does not stand at the end of a heading", "a table or figure is labelled in its step: `csharp table " + name + "`");
                break;
            case Brace.Cite(var cited, var isNamed):
                citations[hole] = new CiteInline(cited, place) { IsNamed = isNamed };
                break;
            case Brace.Page(var pageWord):
                citations[hole] = new PageInline(pageWord);
                break;
            case Brace.Dressed(var style, var colour, var words):
                var fragment = ParseProse(hole.Source[words..], offset => start + 1 + words + offset, style ?? colour!);
                dressed[hole] = new DressedWords(style, colour, fragment, place);
                found.AddRange(fragment.Executables);
                break;
            case Brace.Value(var expression, var format, var lead):
                var value = new ValueHole(executables.Count, expression, format, start + 1 + lead);
                executables.Add(value);
                values[hole] = value;
                found.Add(value);
                break;
            case Brace.Wrong(var message, var suggestion):
                Error(start, message, suggestion);
                break;
        }
    }

    /// <summary>The heading that a hole ends, alone or with others that do not show.</summary>
    private static HeadingBlock? IsAtEnd(HoleInline hole)
    {
        for (var next = hole.NextSibling; next is not null; next = next.NextSibling)
        {
            if (next is Markdig.Syntax.Inlines.LiteralInline space && space.Content.IsEmptyOrWhitespace()) continue;
            if (next is not HoleInline other || BraceReader.Read(other.Source) is not (Brace.Label or Brace.Unnumbered)) return null;
        }
        return hole.Parent?.ParentBlock as HeadingBlock;
    }

    /// <summary>Where the target of a link starts; the parser's own span of it does not follow when a text is moved.</summary>
    private int TargetOffset(Markdig.Syntax.Inlines.LinkInline link)
    {
        var file = sources.FileOf(link.Span.Start);
        var at = file.Text.IndexOf(HoleMarks.Restore(link.Url!), Math.Max(0, link.Span.Start - file.Start), StringComparison.Ordinal);
        return at < 0 ? link.Span.Start : file.Start + at;
    }

    private void ReadFormula(MarkdownObject written, List<Executable> found)
    {
        try
        {
            var formula = formulas[written] = FormulaReading.Read(written, offset => sources.PlaceOf(offset), holdsValues: false);
            foreach (var live in formula.Lives)
            {
                if (BraceReader.Read(live.Source) is not Brace.Value(var expression, var format, _))
                {
                    Error(written.Span.Start, $"`\\live{{{live.Source}}}` holds no expression", "write `\\live{expression:format}`");
                    continue;
                }
                var start = written is FormulaBlock block ? block.ToSource(live.Offset) : written.Span.Start + ((FormulaSpan)written).Dollars + live.Offset;
                var value = new ValueHole(executables.Count, expression, format, start + live.Source.Length - live.Source.TrimStart().Length);
                executables.Add(value);
                lives[live] = value;
                found.Add(value);
            }
        }
        catch (ReportException problem)
        {
            diagnostics.AddRange(problem.Diagnostics);
        }
    }

    private void ReadLabel(FormulaBlock formula, List<Executable> found)
    {
        if (formula.Tail.Length == 0) return;
        if (HoleScanner.FindEnd(formula.Tail, 0) == formula.Tail.Length - 1 && BraceReader.Read(formula.Tail[1..^1]) is Brace.Label(var name))
            formulaLabels[formula] = ReadLabel(name, formula.TailOffset + formula.Tail.IndexOf(name, StringComparison.Ordinal), sources.PlaceOf(formula.TailOffset), found);
        else
            Error(formula.TailOffset, $"`{formula.Tail}` is not a label of a formula", "write `{label name}` after the closing `$$`, or nothing");
    }

    /// <summary>A label, or other words, whose braces hold values: <c>honey-{valley}</c>; <c>\{</c> is a brace.</summary>
    private LabelTemplate ReadLabel(string text, int offset, SourcePlace place, List<Executable> found)
    {
        var parts = ImmutableArray.CreateBuilder<(string, ValueHole?)>();
        for (var at = 0; at < text.Length;)
        {
            var open = text.IndexOf('{', at);
            while (open > 0 && text[open - 1] == '\\') open = text.IndexOf('{', open + 1);
            var end = open < 0 ? -1 : HoleScanner.FindEnd(text, open);
            if (end < 0)
            {
                parts.Add((Unescaped(text[at..]), null));
                break;
            }
            if (open > at) parts.Add((Unescaped(text[at..open]), null));
            var hole = new ValueHole(executables.Count, text[(open + 1)..end].Trim(), null, offset + open + 1);
            executables.Add(hole);
            found.Add(hole);
            parts.Add(("", hole));
            at = end + 1;
        }
        return new LabelTemplate(parts.ToImmutable(), place);

        static string Unescaped(string part) => part.Replace("\\{", "{", StringComparison.Ordinal).Replace("\\}", "}", StringComparison.Ordinal);
    }

    private ProseFragment ParseProse(SettingsEntry entry) => ParseProse(entry.Value.Text, entry.Value.ToSource, entry.Key);

    /// <summary>Parses prose that stands outside the body.</summary>
    /// <param name="text">The prose.</param>
    /// <param name="toSource">From an offset in it to one in the manuscript.</param>
    /// <param name="name">What it is, for messages.</param>
    private ProseFragment ParseProse(string text, Func<int, int> toSource, string name)
    {
        var document = ProseParser.Parse(text, toSource);
        if (document is not ([] or [ParagraphBlock])) Error(toSource(0), $"`{name}` is not a single paragraph", "put a `\\` before a character that means more at the start of a line, such as `#` or `-`");
        diagnostics.AddRange(ProseParser.FindMistakes(document, offset => sources.PlaceOf(offset)));
        var found = new List<Executable>();
        foreach (var leaf in document.OfType<LeafBlock>())
        {
            if (leaf.Inline is not { } inlines) continue;
            Prepare(inlines);
            Collect(inlines, found);
        }
        return new ProseFragment(document, [.. found]);
    }

    private void Error(int offset, string message, string? suggestion = null) => diagnostics.Add(Diagnostic.Error(sources.PlaceOf(offset), message, suggestion));
}
