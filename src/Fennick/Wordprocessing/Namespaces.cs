namespace Fennick.Wordprocessing;

/// <summary>Namespace addresses of ECMA-376 and of the newer mark-up that may be ignored.</summary>
internal static class Namespaces
{
    public static ReadOnlySpan<byte> Main => "http://schemas.openxmlformats.org/wordprocessingml/2006/main"u8;

    public static ReadOnlySpan<byte> Relationships => "http://schemas.openxmlformats.org/officeDocument/2006/relationships"u8;

    public static ReadOnlySpan<byte> Math => "http://schemas.openxmlformats.org/officeDocument/2006/math"u8;

    public static ReadOnlySpan<byte> Drawing => "http://schemas.openxmlformats.org/drawingml/2006/main"u8;

    public static ReadOnlySpan<byte> WordDrawing => "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing"u8;

    public static ReadOnlySpan<byte> Picture => "http://schemas.openxmlformats.org/drawingml/2006/picture"u8;

    public static ReadOnlySpan<byte> Compatibility => "http://schemas.openxmlformats.org/markup-compatibility/2006"u8;

    public static ReadOnlySpan<byte> Shape => "http://schemas.microsoft.com/office/word/2010/wordprocessingShape"u8;

    /// <summary>That of what word processors know since 2010.</summary>
    public static ReadOnlySpan<byte> Since2010 => "http://schemas.microsoft.com/office/word/2010/wordml"u8;

    /// <summary>That of what word processors know since 2013.</summary>
    public static ReadOnlySpan<byte> Since2013 => "http://schemas.microsoft.com/office/word/2012/wordml"u8;

    public static ReadOnlySpan<byte> Chart => "http://schemas.openxmlformats.org/drawingml/2006/chart"u8;
}
