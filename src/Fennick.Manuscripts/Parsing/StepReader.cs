using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Source;
using Fennick.Manuscripts.Steps;
using Fennick.Prose;
using Markdig.Syntax;

namespace Fennick.Manuscripts.Parsing;

/// <summary>Reads the fences that are steps: role, label, head, code.</summary>
internal sealed class StepReader(
    SourceFiles sources,
    List<Diagnostic> diagnostics,
    List<Executable> executables,
    Func<ManuscriptSettings> settings,
    Func<SettingsEntry, ProseFragment> parseProse,
    Func<string, int, SourcePlace, List<Executable>, LabelTemplate> readLabel)
{
    private const string Arrow = "=>";
    private readonly Dictionary<string, ManuscriptSource> scripts = [];

    /// <summary>The step of a fence; null for a plain listing, and for what is wrong.</summary>
    public Step? Read(FencedCodeBlock fence)
    {
        var info = HoleMarks.Restore(fence.Info ?? "");
        var arguments = HoleMarks.Restore(fence.Arguments ?? "").Trim();
        var words = arguments.Contains('{') ? arguments.Split(' ', 2, StringSplitOptions.RemoveEmptyEntries) : arguments.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (FenceWords.FindMistake(info, arguments) is { } mistake) Error(fence.Span.Start, mistake.Message, mistake.Suggestion);
        if (!FenceWords.BeginsStep(info, arguments)) return null;
        var isScript = info == FenceWords.Script;
        if (StepRoles.Find(words[0]) is not { } role)
        {
            Error(fence.Span.Start, $"`{words[0]}` is not a role of a step",
                Nearest.Suggest(words[0], StepRoles.Names) ?? $"the roles are {string.Join(", ", StepRoles.Names.Select(r => $"`{r}`"))}; {(isScript ? $"a step that runs a program begins as `{FenceWords.Script} table NAME`" : "`csharp` alone is a listing")}");
            return null;
        }
        if (words.Length > 2) Error(fence.Span.Start, $"a step has one label, not `{string.Join(' ', words[1..])}`", $"write `{info} {words[0]} {Label.FromWords(string.Join(' ', words[1..]))}`");
        var file = sources.FileOf(fence.Span.Start);
        var code = SourceFragment.Of(fence.Lines, file, fence.Span.End);
        var head = SplitHead(role, isScript, ref code);
        if (head.Find(e => e.Key == "from") is { } from) code = ReadFrom(from, file, code);
        var step = new Step(executables.Count, role, null, new StepHead(), code, fence.Span.Start);
        executables.Add(step);
        if (isScript) executables[step.Ordinal] = step = step with { Script = ReadScript(step, head) };
        if (words.Length > 1)
        {
            var offset = LabelOffset(fence, words[1], file);
            step = step with { Label = readLabel(words[1], offset, sources.PlaceOf(offset), []) };
            executables[step.Ordinal] = step;
        }
        // The expressions of the head come after the step: they may use its variables.
        step = step with { Head = ReadHead(step, head) };
        executables[step.Ordinal] = step;
        return step;
    }

    public void CheckEnd(FencedCodeBlock fence)
    {
        if (fence.ClosingFencedCharCount == 0)
            Error(fence.Span.Start, "this fence has no end", $"close it with a line of {fence.OpeningFencedCharCount} {(fence.FencedChar == '~' ? "tildes" : "backticks")}");
    }

    private static int LabelOffset(FencedCodeBlock fence, string label, ManuscriptSource file)
    {
        var start = fence.Span.Start - file.Start;
        var lineEnd = file.Text.IndexOf('\n', start);
        return file.Start + file.Text.LastIndexOf(label, lineEnd < 0 ? file.Text.Length - 1 : lineEnd, StringComparison.Ordinal);
    }

    /// <summary>Splits off the lines up to <c>=></c>, if the first line says that there is a head.</summary>
    private List<SettingsEntry> SplitHead(StepRole role, bool isScript, ref SourceFragment code)
    {
        var lines = code;
        var first = Enumerable.Range(0, lines.LineCount).FirstOrDefault(i => !string.IsNullOrWhiteSpace(lines.Line(i).Text), -1);
        if (first >= 0 && lines.Line(first).Text.Trim() == Arrow)
        {
            Error(lines.Line(first).Offset, $"nothing stands before `{Arrow}`", "write the settings of the step before it, such as `caption: …`, or leave it out");
            code = lines.From(first + 1);
            return [];
        }
        if (first < 0 || SettingsReader.KeyLength(lines.Line(first).Text) is not { } length || (isScript && !StepRoles.HeadKeys.Contains(lines.Line(first).Text[..length].Trim()))) return [];
        var key = lines.Line(first).Text[..length].Trim();
        var arrow = Enumerable.Range(first, lines.LineCount - first).FirstOrDefault(i => lines.Line(i).Text.Trim() == Arrow, -1);
        if (arrow < 0 && (isScript || Enumerable.Range(first, lines.LineCount - first).Any(i => lines.Line(i).Text.StartsWith("from: ", StringComparison.Ordinal))) && StepRoles.HeadKeys.Contains(key))
        {
            // Code that comes from a file, and a program, leave nothing to stand behind an arrow.
            arrow = lines.LineCount;
        }
        if (arrow < 0)
        {
            if (StepRoles.HeadKeys.Contains(key)) Error(lines.Line(first).Offset, "the head of this step has no end", $"write a line `{Arrow}` between the head and the code");
            return [];
        }
        code = lines.From(arrow + 1);
        var entries = SettingsReader.Read(SourceFragment.Join([.. Enumerable.Range(first, arrow - first).Select(lines.Line)]), sources, diagnostics);
        var keys = StepRoles.KeysOf(role, isScript);
        foreach (var entry in entries.Where(e => !keys.Contains(e.Key)))
        {
            Error(entry.Offset, $"`{entry.Key}` is not a setting of a `{role.ToString().ToLowerInvariant()}` step{(isScript ? " that runs a program" : "")}",
                Nearest.Suggest(entry.Key, keys) ?? (!isScript && StepRoles.KeysOf(role, isScript: true).Contains(entry.Key) ? $"a step that runs a program begins as `{FenceWords.Script} {role.ToString().ToLowerInvariant()}`" : null) ?? $"it takes {string.Join(", ", keys.Select(k => $"`{k}`"))}");
        }
        return [.. entries.Where(e => keys.Contains(e.Key))];
    }

    /// <summary>The program that a step runs.</summary>
    private Script? ReadScript(Step step, List<SettingsEntry> head)
    {
        if (!settings().AllowsScripts)
            Error(step.Offset, "this step runs a program, which the settings do not allow", "write `scripts: allowed` into the settings of the manuscript, once you know what it runs");
        var limit = Script.UsualLimit;
        if (head.Find(e => e.Key == "limit") is { } time)
        {
            if (Duration.TryParse(time.Text) is { } given) limit = given;
            else diagnostics.Add(Diagnostic.Error(sources.PlaceOf(time.Value.Offset), $"`{time.Text}` is not a time", "write a number and `s`, `min` or `h`, such as `30 min`"));
        }
        if (Words("run") is not { Text.Length: > 0 } command)
        {
            Error(step.Offset, "this step does not say what it runs", "write the program and its arguments at its top, such as `run: python3 models.py`");
            return null;
        }
        return new Script(command, Words("reads"), Words("writes"), limit);

        LabelTemplate? Words(string key) => head.Find(e => e.Key == key) is { } entry ? readLabel(entry.Value.Text, entry.Value.Offset, sources.PlaceOf(entry.Value.Offset), []) : null;
    }

    /// <summary>The code of a script file, or of a region of it: <c>analysis.cs#fit</c>.</summary>
    private SourceFragment ReadFrom(SettingsEntry entry, ManuscriptSource file, SourceFragment own)
    {
        var place = sources.PlaceOf(entry.Value.Offset);
        if (!string.IsNullOrWhiteSpace(own.Text)) diagnostics.Add(Diagnostic.Error(sources.PlaceOf(own.Offset), $"this step has code of its own beside that of `{entry.Text}`", "move it into a step of its own"));
        var (target, region) = entry.Text.LastIndexOf('#') is > 0 and var hash ? (entry.Text[..hash], entry.Text[(hash + 1)..]) : (entry.Text, null);
        var path = Path.GetFullPath(Path.Combine(file.Folder, target));
        try
        {
            if (!scripts.TryGetValue(path, out var script)) scripts[path] = script = sources.Read(Path.Combine(Path.GetDirectoryName(file.DisplayPath) ?? "", target), path, place);
            var lines = script.Lines.ToList();
            if (region is null) return SourceFragment.Join(lines);
            var first = lines.FindIndex(l => l.Text.Trim() is var line && line.StartsWith("#region ", StringComparison.Ordinal) && line["#region ".Length..].Trim() == region);
            if (first < 0)
            {
                var regions = lines.Select(l => l.Text.Trim()).Where(l => l.StartsWith("#region ", StringComparison.Ordinal)).Select(l => l["#region ".Length..].Trim()).ToArray();
                throw new ReportException(Diagnostic.Error(place, $"`{target}` has no region `{region}`", Nearest.Suggest(region, regions) ?? (regions.Length == 0 ? $"put `#region {region}` and `#endregion` around the code" : $"its regions are {string.Join(", ", regions.Select(r => $"`{r}`"))}")));
            }
            var depth = 1;
            var last = first;
            while (depth > 0 && ++last < lines.Count)
            {
                var line = lines[last].Text.TrimStart();
                depth += line.StartsWith("#region", StringComparison.Ordinal) ? 1 : line.StartsWith("#endregion", StringComparison.Ordinal) ? -1 : 0;
            }
            return last == first + 1 ? SourceFragment.Join([("", lines[first].Offset)]) : SourceFragment.Join(lines[(first + 1)..last]);
        }
        catch (ReportException problem)
        {
            diagnostics.AddRange(problem.Diagnostics);
            return own;
        }
    }

    private StepHead ReadHead(Step step, List<SettingsEntry> entries)
    {
        var head = step.Head;
        foreach (var entry in entries)
        {
            var place = sources.PlaceOf(entry.Value.Offset);
            try
            {
                head = entry.Key switch
                {
                    "caption" => head with { Caption = parseProse(entry) },
                    "note" => head with { Note = parseProse(entry) },
                    "alt" => head with { AlternativeText = parseProse(entry) },
                    "source" => head with { Source = parseProse(entry) },
                    "width" when step.Role == StepRole.Table => head with { FillsWidth = ManuscriptSettings.ReadTableWidth(entry, place) },
                    "width" => head with { Width = ManuscriptSettings.ReadLength(entry, place) },
                    "height" => head with { Height = ManuscriptSettings.ReadLength(entry, place) },
                    "align" => head with { Alignment = ManuscriptSettings.ReadAlignment(entry, place) },
                    "native" => head with { IsNative = ManuscriptSettings.ReadYesNo(entry, place) },
                    "dpi" => head with { DotsPerInch = ManuscriptSettings.ReadDotsPerInch(entry, place) },
                    "palette" => head with { Palette = ManuscriptSettings.ReadPalette(entry, place) },
                    "labels" => head with { Labels = ManuscriptSettings.ReadLabels(entry, place) },
                    "letters" => head with { HasLetters = ManuscriptSettings.ReadYesNo(entry, place) },
                    "series" => head with { Series = entry.Text },
                    "ruling" => head with { Ruling = settings().ReadRuling(entry, place) },
                    "listing" => head with { Listing = ManuscriptSettings.ReadListing(entry, place) },
                    "turning" => head with { Turning = ManuscriptSettings.ReadYesNo(entry, place) },
                    "from" or "run" or "reads" or "writes" or "limit" => head,
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

    private void Error(int offset, string message, string? suggestion = null) => diagnostics.Add(Diagnostic.Error(sources.PlaceOf(offset), message, suggestion));
}
