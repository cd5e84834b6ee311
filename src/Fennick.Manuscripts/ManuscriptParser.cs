using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Source;
using Fennick.Manuscripts.Steps;
using Fennick.Prose;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using Block = Markdig.Syntax.Block;
using Inline = Markdig.Syntax.Inlines.Inline;

namespace Fennick.Manuscripts;

/// <summary>Parses a manuscript: settings, prose with braces, steps. It never needs the compiler.</summary>
internal static class ManuscriptParser
{
    /// <summary>The whole tree; errors are in the diagnostics.</summary>
    public static ManuscriptTree Parse(ManuscriptSource source, List<Diagnostic> diagnostics) => new Pass(source, diagnostics).Run();

    private sealed class Pass(ManuscriptSource source, List<Diagnostic> diagnostics)
    {
        private const string SettingsWord = "manuscript";
        private readonly Dictionary<HoleInline, ValueHole> values = [];
        private readonly Dictionary<HoleInline, SeeInline> references = [];
        private readonly HashSet<HoleInline> pageBreaks = [];
        private readonly Dictionary<FencedCodeBlock, Step> steps = [];
        private readonly List<Executable> executables = [];

        public ManuscriptTree Run()
        {
            if (source.Text.StartsWith("---", StringComparison.Ordinal))
                Error(0, "a block between dashes holds no settings", "write them in a fence with the info word `manuscript`");
            var document = ProseParser.Parse(HoleMarks.Mark(source.Text));
            var settings = ReadSettings(document);
            var units = ImmutableArray.CreateBuilder<ManuscriptUnit>(document.Count);
            foreach (var block in document)
            {
                if (block is FencedCodeBlock { Info: SettingsWord }) continue;
                var found = new List<Executable>();
                Collect(block, found);
                units.Add(new ManuscriptUnit(block, [.. found]));
            }
            var title = settings.Title is { } t ? Parse(t) : null;
            var subtitle = settings.Subtitle is { } s ? Parse(s) : null;
            return new ManuscriptTree
            {
                Source = source,
                Settings = settings,
                Title = title,
                Subtitle = subtitle,
                Units = units.ToImmutable(),
                Executables = [.. executables],
                Values = values,
                References = references,
                PageBreaks = pageBreaks,
                Steps = steps,
            };
        }

        private ManuscriptSettings ReadSettings(MarkdownDocument document)
        {
            SourceFragment? block = null;
            foreach (var fence in document.OfType<FencedCodeBlock>().Where(f => f.Info == SettingsWord))
            {
                if (document[0] == fence) block = SourceFragment.Of(fence.Lines, source, fence.Span.Start);
                else Error(fence.Span.Start, "the settings are not the first block", "move them to the top of the file");
                CheckEnd(fence);
            }
            return ManuscriptSettings.Read(block, source, diagnostics);
        }

        /// <summary>Finds holes and steps in the order of the text.</summary>
        private void Collect(Block block, List<Executable> found)
        {
            switch (block)
            {
                case ContainerBlock container:
                    foreach (var inner in container) Collect(inner, found);
                    break;
                case FencedCodeBlock fence:
                    CheckEnd(fence);
                    if (ReadStep(fence) is { } step)
                    {
                        steps[fence] = step;
                        found.Add(step);
                    }
                    break;
                case LeafBlock { Inline: { } inlines }:
                    Collect(inlines, found, offset => offset);
                    break;
            }
        }

        private void Collect(Inline inline, List<Executable> found, Func<int, int> toSource)
        {
            if (inline is HoleInline { HasEnd: true } hole) Read(hole, found, toSource);
            else if (inline is ContainerInline container)
                foreach (var inner in container) Collect(inner, found, toSource);
        }

        private void Read(HoleInline hole, List<Executable> found, Func<int, int> toSource)
        {
            var start = toSource(hole.Span.Start);
            switch (BraceReader.Read(hole.Source))
            {
                case Brace.See(var label):
                    references[hole] = new SeeInline(label, source.PlaceOf(start));
                    break;
                case Brace.Value(var expression, var format, var lead):
                    var value = new ValueHole(executables.Count, expression, format, start + 1 + lead);
                    executables.Add(value);
                    values[hole] = value;
                    found.Add(value);
                    break;
                case Brace.PageBreak when hole is { PreviousSibling: null, NextSibling: null, Parent.ParentBlock: Markdig.Syntax.ParagraphBlock }:
                    pageBreaks.Add(hole);
                    break;
                case Brace.PageBreak:
                    Error(start, "`{page break}` does not stand alone", "put it into a paragraph of its own");
                    break;
                case Brace.Wrong(var message, var suggestion):
                    Error(start, message, suggestion);
                    break;
            }
        }

        private Step? ReadStep(FencedCodeBlock fence)
        {
            var info = fence.Info ?? "";
            var words = (fence.Arguments ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
            if (words.Length == 0) return null;
            if (info is "cs" or "c#" || (info != "csharp" && info.Equals("csharp", StringComparison.OrdinalIgnoreCase)))
            {
                Error(fence.Span.Start, $"`{info} {fence.Arguments}` is neither a step nor a listing", $"write `csharp {fence.Arguments}` for a step");
                return null;
            }
            if (info != "csharp") return null;
            if (StepRoles.Find(words[0]) is not { } role)
            {
                Error(fence.Span.Start, $"`{words[0]}` is no role of a step",
                    Nearest.Suggest(words[0], StepRoles.Names) ?? $"the roles are {string.Join(", ", StepRoles.Names.Select(r => $"`{r}`"))}; `csharp` alone is a listing");
                return null;
            }
            if (words.Length > 2) Error(fence.Span.Start, $"a step has one label, not `{string.Join(' ', words[1..])}`", $"write `csharp {words[0]} {Label.FromWords(string.Join(' ', words[1..]))}`");
            var code = SourceFragment.Of(fence.Lines, source, fence.Span.End);
            var head = ReadHead(role, ref code);
            var label = words.Length > 1 ? new Label(words[1], source.PlaceOf(LabelOffset(fence, words[1]))) : null;
            var step = new Step(executables.Count, role, label, new StepHead(), code, fence.Span.Start);
            executables.Add(step);
            // The expressions of the head come after the step: they may use its variables.
            step = step with { Head = ReadHead(step, head) };
            executables[step.Ordinal] = step;
            return step;
        }

        private int LabelOffset(FencedCodeBlock fence, string label)
        {
            var lineEnd = source.Text.IndexOf('\n', fence.Span.Start);
            return source.Text.LastIndexOf(label, lineEnd < 0 ? source.Text.Length - 1 : lineEnd, StringComparison.Ordinal);
        }

        /// <summary>Splits off the lines up to <c>=></c>, if the first line says that there is a head.</summary>
        private List<SettingsEntry> ReadHead(StepRole role, ref SourceFragment code)
        {
            var lines = code;
            var first = Enumerable.Range(0, lines.LineCount).FirstOrDefault(i => !string.IsNullOrWhiteSpace(lines.Line(i).Text), -1);
            if (first < 0 || SettingsReader.KeyLength(lines.Line(first).Text) is not { } length) return [];
            var arrow = Enumerable.Range(first, lines.LineCount - first).FirstOrDefault(i => lines.Line(i).Text.Trim() == "=>", -1);
            var isKey = StepRoles.HeadKeys.Contains(lines.Line(first).Text[..length].Trim());
            if (arrow < 0)
            {
                if (isKey) Error(lines.Line(first).Offset, "the head of this step has no end", "write a line `=>` between the head and the code");
                return [];
            }
            code = lines.From(arrow + 1);
            var entries = SettingsReader.Read(SourceFragment.Join([.. Enumerable.Range(first, arrow - first).Select(lines.Line)]), source, diagnostics);
            var keys = StepRoles.KeysOf(role);
            foreach (var entry in entries.Where(e => !keys.Contains(e.Key)))
            {
                Error(entry.Offset, $"`{entry.Key}` is no setting of a `{role.ToString().ToLowerInvariant()}` step",
                    Nearest.Suggest(entry.Key, keys) ?? (keys.IsEmpty ? "it places nothing, so it has none" : $"it takes {string.Join(", ", keys.Select(k => $"`{k}`"))}"));
            }
            return [.. entries.Where(e => keys.Contains(e.Key))];
        }

        private StepHead ReadHead(Step step, List<SettingsEntry> entries)
        {
            var head = step.Head;
            foreach (var entry in entries)
            {
                var place = source.PlaceOf(entry.Value.Offset);
                try
                {
                    head = entry.Key switch
                    {
                        "caption" => head with { Caption = Parse(entry) },
                        "note" => head with { Note = Parse(entry) },
                        "alt" => head with { AlternativeText = Parse(entry) },
                        "width" => head with { Width = ManuscriptSettings.ReadLength(entry, place) },
                        "height" => head with { Height = ManuscriptSettings.ReadLength(entry, place) },
                        "ruling" => head with { Ruling = ManuscriptSettings.ReadRuling(entry, place) },
                        "turning" => head with { Turning = ManuscriptSettings.ReadYesNo(entry, place) },
                        _ => throw new InvalidOperationException($"No reading of the head key {entry.Key}."),
                    };
                }
                catch (ReportException problem)
                {
                    diagnostics.AddRange(problem.Diagnostics);
                }
            }
            return head;
        }

        private ProseFragment Parse(SettingsEntry entry)
        {
            var document = ProseParser.Parse(HoleMarks.Mark(entry.Value.Text));
            if (document is not ([] or [ParagraphBlock])) Error(entry.Value.Offset, $"`{entry.Key}` is not a single paragraph", "put a `\\` before a character that means more at the start of a line, such as `#` or `-`");
            var found = new List<Executable>();
            foreach (var leaf in document.OfType<LeafBlock>())
                if (leaf.Inline is { } inlines) Collect(inlines, found, entry.Value.ToSource);
            return new ProseFragment(entry, document, [.. found.OfType<ValueHole>()]);
        }

        private void CheckEnd(FencedCodeBlock fence)
        {
            if (fence.ClosingFencedCharCount == 0)
                Error(fence.Span.Start, "this fence has no end", $"close it with a line `{new string(fence.FencedChar, fence.OpeningFencedCharCount)}`");
        }

        private void Error(int offset, string message, string? suggestion = null) => diagnostics.Add(Diagnostic.Error(source.PlaceOf(offset), message, suggestion));
    }
}
