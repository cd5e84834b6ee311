using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Diagnostics;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;
using Fennick.Revision;
using Fennick.Running;

namespace Fennick.Batches;

/// <summary>One run of a batch into a single document.</summary>
internal sealed class BoundRun(Batch batch, IUnitMaker maker, ImmutableArray<BatchUnit> units, string path, int? group, Action<BatchProgress>? progress, CancellationToken stop)
{
    private readonly Stopwatch watch = Stopwatch.StartNew();
    private readonly ConcurrentDictionary<BatchUnit, MadeReport> reports = new(ReferenceEqualityComparer.Instance);
    private readonly FileHashes hashes = new();

    public BatchResult Run()
    {
        if (!path.EndsWith(".docx", StringComparison.OrdinalIgnoreCase)) throw new ReportException(Diagnostic.Error(new SourcePlace(path, -1, 0), "the name of a document ends in `.docx`", $"write `{path}.docx`"));
        if (!batch.Part.IsWhole) throw new ReportException(Diagnostic.Error(null, "the units of one document cannot be shared among machines", "leave `--part` out, or `--bind`"));
        using var ledger = Ledger.Open(Path.GetDirectoryName(path)!, batch.Part);
        ledger.Add(Ledger.Head(maker.Name, batch.Roster.Name, batch.Part, [Path.GetFileName(path)]));
        var forms = batch.FormsOf(maker);
        if (forms.Contains(ReportWriters.Pdf)) PdfConverter.CheckInstalled();
        var diagnostics = new List<Diagnostic>(ledger.History.Diagnostics);
        ImmutableArray<UnitOutcome> outcomes;
        using (maker.Begin(diagnostics, out var compileTime))
        {
            Destination.Check(path, [.. FilesRead.SoFar, .. maker.KnownInputs, .. units.SelectMany(maker.InputsOf).Distinct()], batch.Force);
            var runner = new UnitRunner(batch, maker, progress, stop);
            outcomes = runner.Run(units, unit => ((reports[unit] = runner.Make(unit)).Diagnostics, UnitState.Made), (_, _) => { });
            var left = units.Length - outcomes.Length;
            if (left > 0 || reports.IsEmpty) return new BatchResult(path, outcomes, left, watch.Elapsed, compileTime, [.. diagnostics]);
            var content = Bind(outcomes.Where(o => o.State == UnitState.Made).Select(o => o.Unit));
            Destination.Check(path, [.. maker.KnownInputs, .. reports.Values.SelectMany(r => r.Files).Select(f => f.Path), .. ReportFile.HouseOf(content)], batch.Force);
            using var package = ReportFile.Make(content, diagnostics);
            if (!batch.Living || !RefreshedFile.Put(package, path, content.Date, diagnostics)) ReportFile.Put(package, path, diagnostics);
            foreach (var writer in forms)
                diagnostics.AddRange(OutputFile.Save(content, Path.ChangeExtension(path, writer.Extension), writer, [.. maker.KnownInputs, .. reports.Values.SelectMany(r => r.Files).Select(f => f.Path)], batch.Force).Except(diagnostics).ToArray());
            ledger.Add(new LedgerLine
            {
                Event = LedgerEvent.Done,
                At = DateTimeOffset.Now,
                Unit = Path.GetFileName(path),
                Manuscript = maker.Fingerprint(hashes),
                House = HouseHash.Of(content.House, hashes),
                Data = hashes.Of(reports.Values.SelectMany(r => r.Files).DistinctBy(f => f.Path), Path.GetDirectoryName(path)!),
                Output = package.Hash(),
                Seconds = Math.Round(watch.Elapsed.TotalSeconds, 3),
                Warnings = [.. outcomes.SelectMany(o => o.Diagnostics.Select(d => $"{o.Unit.Name}: {d}"))],
            });
            return new BatchResult(path, outcomes, 0, watch.Elapsed, compileTime, [.. diagnostics]) { Pdfs = forms.Count(w => w == ReportWriters.Pdf) };
        }
    }

    /// <summary>The chapters under their titles, behind one list of contents if the reports have any.</summary>
    private ReportContent Bind(IEnumerable<BatchUnit> made)
    {
        var bound = made.ToArray();
        var first = reports[bound[0]].Content;
        var blocks = ImmutableArray.CreateBuilder<Block>();
        blocks.AddRange(bound.Select(u => reports[u].Content.Blocks).SelectMany(b => b).Where(b => b is Contents or ListOfTables or ListOfFigures).Distinct());
        string? heading = null;
        foreach (var unit in bound)
        {
            var content = reports[unit].Content;
            var chapter = ImmutableArray.CreateBuilder<Block>();
            if (group is { } column && (unit.Row.Cells[column] ?? "") is var value && value != heading) chapter.Add(new Heading(1, heading = value));
            var level = group is null ? 1 : 2;
            var scope = Label.FromWords(unit.Name);
            chapter.Add(new Heading(level, content.Title is { IsEmpty: false } title ? title : unit.Name, new Label($"{scope}-", null)));
            if (content.Subtitle is { IsEmpty: false } subtitle) chapter.Add(new Paragraph(new RichText([new Stress(Strong: false, subtitle)])));
            chapter.AddRange(BoundChapter.Bind(content.Blocks, scope, level));
            // Headers and footers that say what belongs to a unit stand on its own pages alone.
            if (HasWords(content.Page)) blocks.Add(new Pages(content.Page, chapter.ToImmutable()));
            else
            {
                if (blocks.Count > 0) blocks.Add(new PageBreak());
                blocks.AddRange(chapter);
            }
        }
        if (bound.Any(u => reports[u].Content.Blocks.Any(b => b is Bibliography))) blocks.Add(new Bibliography());
        return first with { Title = Path.GetFileNameWithoutExtension(path), Subtitle = null, Slots = ImmutableDictionary<string, RichText>.Empty, Page = HasWords(first.Page) ? new PageLayout() : first.Page, Blocks = blocks.ToImmutable() };
    }

    private static bool HasWords(PageLayout page) => page is not { Header: null, Footer: null, FirstHeader: null, FirstFooter: null, EvenHeader: null, EvenFooter: null };
}
