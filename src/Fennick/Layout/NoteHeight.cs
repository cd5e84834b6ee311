namespace Fennick.Layout;

/// <summary>How high a footnote is, in twips.</summary>
/// <param name="Height">All of it, with the space behind it.</param>
/// <param name="Tail">What of that may hang over the foot of the page.</param>
/// <param name="Least">What of it stands at least on the page of its mark; the rest may go on at the foot of the next.</param>
/// <param name="Line">One of its lines.</param>
internal readonly record struct NoteHeight(int Height, int Tail, int Least, int Line)
{
    /// <summary>What goes on at the foot of the next page if so much of the note finds no room.</summary>
    public int Beyond(int excess) => excess <= 0 || Line <= 0 ? 0 : Math.Min(Height - Tail, (excess + Line - 1) / Line * Line);
}
