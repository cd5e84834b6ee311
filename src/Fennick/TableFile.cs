using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Formatting;
using Fennick.Prose;
using Fennick.Tables;

namespace Fennick;

/// <summary>Writes single tables.</summary>
public static class TableFile
{
    extension(ITableSource source)
    {
        /// <summary>Writes just this table as a <c>.docx</c> file, as an annex to something else.</summary>
        /// <param name="path">Where to; relative to the current folder.</param>
        /// <param name="caption">The words above it.</param>
        /// <param name="number">The number it has there; without one and without a caption it stands unnumbered.</param>
        /// <param name="note">The small print under it.</param>
        /// <param name="ruling">Its rules.</param>
        /// <param name="language">The language of its words and numbers; British English if null.</param>
        /// <returns>What deserves attention.</returns>
        /// <exception cref="ReportException">The table cannot be made, or the file cannot be written.</exception>
        public IReadOnlyList<Diagnostic> Save(string path, ProseTemplate? caption = null, int? number = null, ProseTemplate? note = null, Ruling? ruling = null, Language? language = null)
        {
            var own = language ?? Language.Default;
            return ReportFile.Save(new ReportContent
            {
                Language = own,
                Title = caption?.ToInlines(own, null),
                ShowsTitle = false,
                Blocks = [new TableBlock(source.ToTable()) { Caption = caption?.ToInlines(own, null), Number = number, Note = note?.ToInlines(own, null), Ruling = ruling }],
            }, path);
        }
    }
}
