using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Styles;

namespace Fennick.Layout;

/// <summary>Gives every table the width that its content needs, and never more than its container has; turns the page of a table that fits only then, and takes apart what fits no page.</summary>
internal static class Fitting
{
    public static FittedDocument Fit(Galley flow, IStyleBook house)
    {
        var pass = new Pass(house);
        foreach (var section in flow.Sections) pass.Fit(section);
        var body = pass.TakeSections();
        var slots = ImmutableArray.CreateBuilder<(string, GalleySection)>();
        var tables = ImmutableArray.CreateBuilder<int>();
        foreach (var (slot, section) in flow.SlotBlocks)
        {
            tables.Add(pass.TableCount);
            pass.Fit(section, mayTurn: false);
            slots.Add((slot, pass.TakeSections()[0]));
        }
        return pass.Finish(flow with { Sections = body, SlotBlocks = slots.ToImmutable() }) with { SlotTables = tables.ToImmutable() };
    }

    private sealed class Pass(IStyleBook house)
    {
        private const int LongestFormula = 40;
        private readonly ImmutableArray<GalleySection>.Builder sections = ImmutableArray.CreateBuilder<GalleySection>();
        private readonly ImmutableArray<TableGeometry>.Builder tables = ImmutableArray.CreateBuilder<TableGeometry>();
        private readonly ImmutableArray<Diagnostic>.Builder diagnostics = ImmutableArray.CreateBuilder<Diagnostic>();
        private bool continues;
        private ImmutableArray<GalleyBlock>.Builder blocks = ImmutableArray.CreateBuilder<GalleyBlock>();

        public void Fit(GalleySection section, bool mayTurn = true)
        {
            foreach (var wide in Equations(section.Blocks).Where(e => e.IsTooWide))
                diagnostics.Add(Diagnostic.Warning(null, $"the formula `{(wide.Formula.Source.Length > LongestFormula ? wide.Formula.Source[..LongestFormula] + "…" : wide.Formula.Source)}` is wider than the text, and holds no relation or sum at which it could be broken", "break it yourself with `\\\\` in `\\begin{aligned}` … `\\end{aligned}`"));
            if (!section.Blocks.Any(b => b is GalleyTable or GalleyBox))
            {
                sections.Add(section);
                return;
            }
            blocks = ImmutableArray.CreateBuilder<GalleyBlock>(section.Blocks.Length);
            continues = section.IsContinuous;
            var column = 0;
            var turned = false;
            for (var i = 0; i < section.Blocks.Length; i++)
            {
                var block = section.Blocks[i];
                // What belongs under a turned table stays with it; then the page turns back.
                if (turned && !IsUnderTable(block) && !(block is GalleyTable || LeadsToTurnedTable(section, i)))
                {
                    Close(section, turned: true);
                    turned = false;
                }
                if (block is GalleyParagraph { BreaksColumn: true }) column++;
                if (block is not GalleyTable table)
                {
                    blocks.Add(block is GalleyBox box ? FitInside(box) : block);
                    continue;
                }
                var fitter = new TableFitter(table, house);
                // A column stays where it is.
                var turns = mayTurn && section.Columns.IsEmpty && fitter.Turns(section.Page, AvailableIn(section.Page, table));
                if (turns != turned) TurnBefore(section, turned);
                turned = turns;
                Add(blocks, table, fitter, section.Columns.IsEmpty ? AvailableIn(turns ? section.Page.Turned : section.Page, table) : section.Columns[Math.Min(column, section.Columns.Length - 1)] - (house.ListStep * table.Indents));
            }
            Close(section, turned);
        }

        private static IEnumerable<GalleyEquation> Equations(IEnumerable<GalleyBlock> blocks) =>
            blocks.SelectMany(b => b is GalleyEquation equation ? [equation] : b is GalleyBox box ? box.Rows.SelectMany(r => r).SelectMany(c => Equations(c)) : []);

        /// <summary>Fits the tables in a box into its cells.</summary>
        private GalleyBox FitInside(GalleyBox box)
        {
            var design = house.Design.Boxes[(int)box.Look];
            return box with { Rows = [.. box.Rows.Select(row => row.Select((cell, column) => FitInside(cell, box.RoomOf(column, design))).ToImmutableArray())] };
        }

        private ImmutableArray<GalleyBlock> FitInside(ImmutableArray<GalleyBlock> cell, Length room)
        {
            var fitted = ImmutableArray.CreateBuilder<GalleyBlock>(cell.Length);
            foreach (var block in cell)
            {
                if (block is not GalleyTable table)
                {
                    fitted.Add(block is GalleyBox inner ? FitInside(inner) : block);
                    continue;
                }
                Add(fitted, table, new TableFitter(table, house), room - (house.ListStep * table.Indents));
            }
            return fitted.ToImmutable();
        }

        /// <summary>Adds a table as wide as fits, or what it was taken apart into.</summary>
        private void Add(ImmutableArray<GalleyBlock>.Builder to, GalleyTable table, TableFitter fitter, Length available)
        {
            foreach (var (part, geometry, isFirst) in fitter.Fit(available))
            {
                if (!isFirst) to.Add(table.Continued with { Float = table.Float });
                to.Add(part);
                tables.Add(geometry);
            }
            diagnostics.AddRange(fitter.Diagnostics);
        }

        public int TableCount => tables.Count;

        /// <summary>The sections that were fitted since the last time.</summary>
        public ImmutableArray<GalleySection> TakeSections()
        {
            var fitted = sections.ToImmutable();
            sections.Clear();
            return fitted;
        }

        public FittedDocument Finish(Galley flow) => new(flow, tables.ToImmutable(), diagnostics.ToImmutable());

        private Length AvailableIn(PageGeometry page, GalleyTable table) => page.TextWidth - (house.ListStep * table.Indents);

        private static bool IsUnderTable(GalleyBlock block) => block is GalleyParagraph { Style: StyleRole.Note or StyleRole.Spacer or StyleRole.FigureCaption };

        /// <summary>Whether nothing but what keeps with the next stands between here and another table that turns its page, so that the page need not turn back.</summary>
        private bool LeadsToTurnedTable(GalleySection section, int index)
        {
            for (; index < section.Blocks.Length; index++)
            {
                if (section.Blocks[index] is GalleyTable table) return new TableFitter(table, house).Turns(section.Page, AvailableIn(section.Page, table));
                if (section.Blocks[index] is not GalleyParagraph paragraph || !Keeps(paragraph)) return false;
            }
            return false;
        }

        private bool Keeps(GalleyParagraph paragraph) => paragraph.KeepWithNext || house.Style(paragraph.Style).KeepWithNext;

        /// <summary>Ends the pages before a table that stands the other way; its caption, and a heading right above that, go with it.</summary>
        private void TurnBefore(GalleySection section, bool wasTurned)
        {
            var first = blocks.Count;
            while (first > 0 && blocks[first - 1] is GalleyParagraph paragraph && Keeps(paragraph)) first--;
            var own = blocks.Skip(first).ToArray();
            blocks.RemoveRange(first, own.Length);
            Close(section, wasTurned);
            blocks.AddRange(own);
        }

        private void Close(GalleySection section, bool turned)
        {
            if (blocks.Count > 0)
            {
                // A section ends with a paragraph.
                if (blocks[^1] is GalleyEquation) blocks.Add(new GalleyParagraph(StyleRole.Spacer, []));
                var page = turned ? section.Page.Turned : section.Page;
                sections.Add(section with { IsContinuous = continues, Page = page, Blocks = blocks.ToImmutable(), Stories = turned ? [.. section.Stories.Select(s => s.At(page.TextWidth))] : section.Stories });
                continues = false;
            }
            blocks = ImmutableArray.CreateBuilder<GalleyBlock>();
        }
    }
}
