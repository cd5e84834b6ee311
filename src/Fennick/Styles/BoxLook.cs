namespace Fennick.Styles;

/// <summary>The looks of boxes; a house has a table style for each.</summary>
internal enum BoxLook
{
    Summary,
    Note,
    KeyFigures,

    /// <summary>Charts beside each other, with nothing around them.</summary>
    Panels,

    /// <summary>Text beside text, with nothing around it.</summary>
    SideBySide,
}
