using System.Xml.Linq;

namespace Fennick.Revision;

/// <summary>What a piece of a paragraph is.</summary>
internal enum PieceKind
{
    Text,

    /// <summary>A tab, a line end or a hyphen, which is an element of its own.</summary>
    Sign,

    /// <summary>The result of a field.</summary>
    Field,

    /// <summary>A chart, a picture, a formula, the mark of a note.</summary>
    Object,
}

/// <summary>A piece of a paragraph as it stands in a document.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Text">Its text.</param>
/// <param name="Element">The element that holds it: a text, a sign, the object, or what begins a field.</param>
internal sealed record Piece(PieceKind Kind, string Text, XElement Element)
{
    /// <summary>Where it starts in the text of its paragraph.</summary>
    public int Start { get; init; }

    public int End => Start + Text.Length;

    /// <summary>The first word of a field's instruction.</summary>
    public string Instruction { get; init; } = "";

    /// <summary>The texts of a field's result.</summary>
    public IReadOnlyList<XElement> Results { get; init; } = [];

    /// <summary>Whether a tracked change has brought it.</summary>
    public bool IsTracked { get; init; }
}
