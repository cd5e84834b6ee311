using System.Globalization;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Wordprocessing;
using Fennick.Flow;
using Fennick.Styles;
using C = DocumentFormat.OpenXml.Drawing.Charts;
using D = DocumentFormat.OpenXml.Drawing;
using Dw = DocumentFormat.OpenXml.Drawing.Wordprocessing;

namespace Fennick.Bench;

/// <summary>Builds the body of a lowered report as a tree of typed objects, for comparison.</summary>
internal static class TypedTree
{
    public static Document Build(Galley flow)
    {
        var body = new Body();
        var ids = 0u;
        foreach (var section in flow.Sections)
        {
            foreach (var block in section.Blocks) body.Append(block is GalleyTable table ? Table(table) : Paragraph((GalleyParagraph)block));
            body.Append(new SectionProperties(
                new FooterReference { Type = HeaderFooterValues.Default, Id = "rIdFooter1" },
                new PageSize { Width = (uint)section.Page.Width.Twips, Height = (uint)section.Page.Height.Twips },
                new PageMargin { Top = section.Page.Top.Twips, Bottom = section.Page.Bottom.Twips, Left = (uint)section.Page.Left.Twips, Right = (uint)section.Page.Right.Twips }));
        }
        return new Document(body);

        OpenXmlElement Table(GalleyTable table)
        {
            var result = new Table(
                new TableProperties(
                    new TableStyle { Val = "TableOpen" },
                    new TableWidth { Width = "5000", Type = TableWidthUnitValues.Dxa },
                    new TableLayout { Type = TableLayoutValues.Fixed },
                    new TableLook { Val = "0620", FirstRow = true, LastRow = false, FirstColumn = false, LastColumn = false, NoHorizontalBand = true, NoVerticalBand = true },
                    new TableCaption { Val = table.Title },
                    new TableDescription { Val = table.Description }),
                new TableGrid(table.Columns.Select(_ => new GridColumn { Width = "1000" })));
            foreach (var row in table.Rows)
            {
                var properties = new TableRowProperties(new CantSplit());
                if (row.IsHeader) properties.Append(new TableHeader());
                var tableRow = new TableRow(properties);
                foreach (var cell in row.Cells) tableRow.Append(new TableCell(new TableCellProperties(new TableCellWidth { Width = "1000", Type = TableWidthUnitValues.Dxa }), Paragraph(new GalleyParagraph(cell.Style, cell.Inlines) { KeepWithNext = cell.KeepWithNext })));
                result.Append(tableRow);
            }
            return result;
        }

        Paragraph Paragraph(GalleyParagraph flowParagraph)
        {
            var paragraph = new Paragraph();
            if (flowParagraph.Style != StyleRole.Body)
            {
                var properties = new ParagraphProperties(new ParagraphStyleId { Val = flowParagraph.Style.ToString() });
                if (flowParagraph.KeepWithNext) properties.Append(new KeepNext());
                if (flowParagraph.List is { } place) properties.Append(new NumberingProperties(new NumberingLevelReference { Val = place.Level }, new NumberingId { Val = place.List + 1 }));
                paragraph.Append(properties);
            }
            foreach (var inline in flowParagraph.Inlines) Append(paragraph, inline);
            return paragraph;
        }

        void Append(OpenXmlCompositeElement parent, GalleyInline inline)
        {
            switch (inline)
            {
                case GalleyText text: parent.Append(Run(text.Format, new Text(text.Text) { Space = SpaceProcessingModeValues.Preserve })); break;
                case GalleyField field:
                    parent.Append(Run(field.Format, new FieldChar { FieldCharType = FieldCharValues.Begin }));
                    parent.Append(Run(field.Format, new FieldCode(Wordprocessing.FieldCodes.Of(field)) { Space = SpaceProcessingModeValues.Preserve }));
                    parent.Append(Run(field.Format, new FieldChar { FieldCharType = FieldCharValues.Separate }));
                    parent.Append(Run(field.Format, new Text(field.Result)));
                    parent.Append(Run(field.Format, new FieldChar { FieldCharType = FieldCharValues.End }));
                    break;
                case GalleyBookmark bookmark:
                    var id = (++ids).ToString(CultureInfo.InvariantCulture);
                    parent.Append(new BookmarkStart { Id = id, Name = bookmark.Name });
                    foreach (var inner in bookmark.Content) Append(parent, inner);
                    parent.Append(new BookmarkEnd { Id = id });
                    break;
                case GalleyLink link:
                    var hyperlink = new Hyperlink { Id = "rIdLink1" };
                    foreach (var inner in link.Content) Append(hyperlink, inner);
                    parent.Append(hyperlink);
                    break;
                case GalleyTab: parent.Append(new Run(new TabChar())); break;
                case GalleyBreak: parent.Append(new Run(new Break())); break;
                case GalleyChart chart:
                    parent.Append(new Run(new DocumentFormat.OpenXml.Wordprocessing.Drawing(new Dw.Inline(
                        new Dw.Extent { Cx = chart.Width.EnglishMetricUnits, Cy = chart.Height.EnglishMetricUnits },
                        new Dw.DocProperties { Id = ++ids, Name = chart.Name, Description = chart.Description },
                        new Dw.NonVisualGraphicFrameDrawingProperties(),
                        new D.Graphic(new D.GraphicData(new C.ChartReference { Id = "rIdChart1" }) { Uri = "http://schemas.openxmlformats.org/drawingml/2006/chart" })))));
                    break;
            }
        }

        static Run Run(CharacterFormat format, OpenXmlElement content) => format == CharacterFormat.Plain
            ? new Run(content)
            : new Run(new RunProperties(new RunStyle { Val = format.ToString() }), content);
    }
}
