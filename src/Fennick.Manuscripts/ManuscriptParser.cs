using System.Collections.Immutable;
using System.Text.RegularExpressions;
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
        private readonly Dictionary<HoleInline, Reference> references = [];
        private readonly Dictionary<HeadingBlock, LabelTemplate> headingLabels = [];
        private readonly List<ManuscriptBody> bodies = [];
        private readonly Dictionary<FencedCodeBlock, Step> steps = [];
        private readonly List<Executable> executables = [];

        public ManuscriptTree Run()
        {
            if (source.Text.StartsWith("---", StringComparison.Ordinal))
                Error(0, "a block between dashes holds no settings", "write them in a fence with the info word `manuscript`");
            var document = ProseParser.Parse(HoleMarks.Mark(source.Text));
            var settings = ReadSettings(document);
            var queue = new Queue<Block>(document.Where(b => b is not FencedCodeBlock { Info: SettingsWord }));
            var body = ReadBody(queue, opener: null);
            var title = settings.Title is { } t ? Parse(t) : null;
            var subtitle = settings.Subtitle is { } s ? Parse(s) : null;
            return new ManuscriptTree
            {
                Source = source,
                Settings = settings,
                Title = title,
                Subtitle = subtitle,
                Body = body,
                Bodies = [.. bodies],
                Executables = [.. executables],
                Values = values,
                References = references,
                HeadingLabels = headingLabels,
                Steps = steps,
            };
        }

        /// <summary>Reads blocks up to the directive that closes or goes on, which stays in the queue.</summary>
        private ManuscriptBody ReadBody(Queue<Block> queue, ControlHead? opener)
        {
            var number = bodies.Count;
            bodies.Add(null!);
            var nodes = ImmutableArray.CreateBuilder<ManuscriptNode>();
            while (queue.TryPeek(out var block))
            {
                var directive = block as DirectiveBlock;
                var word = directive?.Source.Trim() ?? "";
                var closes = word is "end" or "end for" or "end if" or "else" || word.StartsWith("else if ", StringComparison.Ordinal);
                if (closes && opener is not null) break;
                queue.Dequeue();
                if (closes)
                {
                    Error(block.Span.Start, $"`{{{word}}}` has no beginning", "write `{for each …}` or `{if …}` before it, or leave it out");
                }
                else if (directive is not null && word != "page break")
                {
                    if (ReadHead(directive, word) is { } head) nodes.Add(ReadControl(queue, head));
                }
                else
                {
                    var found = new List<Executable>();
                    Collect(block, found);
                    nodes.Add(new ManuscriptUnit(block, [.. found]));
                }
            }
            return bodies[number] = new ManuscriptBody(number, nodes.ToImmutable());
        }

        /// <summary>Reads what a loop or a condition holds, up to its end.</summary>
        private ManuscriptControl ReadControl(Queue<Block> queue, ControlHead head)
        {
            var first = head;
            var branches = ImmutableArray.CreateBuilder<(ControlHead, ManuscriptBody)>();
            while (true)
            {
                branches.Add((head, ReadBody(queue, head)));
                if (!queue.TryDequeue(out var next))
                {
                    Error(first.Offset - 1, $"`{{{first.Text.Trim()}}}` has no end", "write `{end}` on a line of its own after what belongs to it");
                    break;
                }
                var directive = (DirectiveBlock)next;
                var word = directive.Source.Trim();
                if (word.StartsWith("end", StringComparison.Ordinal))
                {
                    var wanted = first.Kind == ControlKind.ForEach ? "end for" : "end if";
                    if (word != "end" && word != wanted) Error(next.Span.Start, $"`{{{word}}}` does not end `{{{first.Text.Trim()}}}`", $"write `{{end}}` or `{{{wanted}}}`");
                    break;
                }
                if (first.Kind == ControlKind.ForEach || head.Kind == ControlKind.Else)
                    Error(next.Span.Start, $"`{{{word}}}` cannot stand {(first.Kind == ControlKind.ForEach ? "in a loop" : "after `{else}`")}", "close what is open before it with `{end}`");
                if (ReadHead(directive, word) is not { } branch) break;
                head = branch;
            }
            return new ManuscriptControl(branches.ToImmutable());
        }

        private ControlHead? ReadHead(DirectiveBlock directive, string word)
        {
            var offset = directive.Span.Start + 1;
            ControlHead Head(ControlKind kind, string variable, string expression)
            {
                var head = new ControlHead(executables.Count, kind, variable, expression, directive.Source, offset);
                executables.Add(head);
                return head;
            }
            if (word == "else") return Head(ControlKind.Else, "", "");
            if (word.StartsWith("else if ", StringComparison.Ordinal)) return Head(ControlKind.ElseIf, "", word["else if ".Length..].Trim());
            if (word.StartsWith("if ", StringComparison.Ordinal)) return Head(ControlKind.If, "", word["if ".Length..].Trim());
            var rest = word["for each ".Length..];
            var separator = rest.IndexOf(" in ", StringComparison.Ordinal);
            var variable = separator < 0 ? "" : rest[..separator].Trim();
            if (variable.Length > 0 && Regex.IsMatch(variable, @"^(@?[\p{L}_]\w*|\(\s*[\p{L}_]\w*(\s*,\s*[\p{L}_]\w*)+\s*\))$")) return Head(ControlKind.ForEach, variable, rest[(separator + 4)..].Trim());
            Error(directive.Span.Start, $"`{{{word}}}` is no loop", "write `{for each valley in valleys}` or `{for each (name, rows) in groups}`");
            return null;
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
                case DirectiveBlock { Source: var source } when source.Trim() != "page break":
                    Error(block.Span.Start, $"`{{{source.Trim()}}}` stands inside a list or a quotation", "loops and conditions are available around whole blocks only: put it outside");
                    break;
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
                case Brace.See(var labels, var part):
                    references[hole] = new Reference([.. labels.Select(l => ReadLabel(l, start + 1 + hole.Source.IndexOf(l, StringComparison.Ordinal), source.PlaceOf(start), found))], part);
                    break;
                case Brace.Label(var name) when hole.Parent is { ParentBlock: HeadingBlock heading } && hole.NextSibling is null:
                    headingLabels[heading] = ReadLabel(name, start + 1 + hole.Source.IndexOf(name, StringComparison.Ordinal), source.PlaceOf(start), found);
                    break;
                case Brace.Label(var name):
                    Error(start, $"`{{label {name}}}` does not stand at the end of a heading", "a table or figure is labelled in its step: `csharp table " + name + "`");
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

        private Step? ReadStep(FencedCodeBlock fence)
        {
            var info = fence.Info ?? "";
            var arguments = HoleMarks.Restore(fence.Arguments ?? "").Trim();
            var words = arguments.Contains('{') ? arguments.Split(' ', 2, StringSplitOptions.RemoveEmptyEntries) : arguments.Split(' ', StringSplitOptions.RemoveEmptyEntries);
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
            var step = new Step(executables.Count, role, null, new StepHead(), code, fence.Span.Start);
            executables.Add(step);
            if (words.Length > 1)
            {
                var offset = LabelOffset(fence, words[1]);
                step = step with { Label = ReadLabel(words[1], offset, source.PlaceOf(offset), []) };
                executables[step.Ordinal] = step;
            }
            // The expressions of the head come after the step: they may use its variables.
            step = step with { Head = ReadHead(step, head) };
            executables[step.Ordinal] = step;
            return step;
        }

        /// <summary>A label whose braces hold values: <c>honey-{valley}</c>.</summary>
        private LabelTemplate ReadLabel(string text, int offset, SourcePlace place, List<Executable> found)
        {
            var parts = ImmutableArray.CreateBuilder<(string, ValueHole?)>();
            for (var at = 0; at < text.Length;)
            {
                var open = text.IndexOf('{', at);
                var end = open < 0 ? -1 : HoleScanner.FindEnd(text, open);
                if (end < 0)
                {
                    parts.Add((text[at..], null));
                    break;
                }
                if (open > at) parts.Add((text[at..open], null));
                var hole = new ValueHole(executables.Count, text[(open + 1)..end].Trim(), null, offset + open + 1);
                executables.Add(hole);
                found.Add(hole);
                parts.Add(("", hole));
                at = end + 1;
            }
            return new LabelTemplate(parts.ToImmutable(), place);
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
                        "listing" => head with { Listing = ManuscriptSettings.ReadListing(entry, place) },
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
