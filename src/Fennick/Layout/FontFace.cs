namespace Fennick.Layout;

/// <summary>A face of a font family.</summary>
internal readonly record struct FontFace(string Family, bool Bold = false, bool Italic = false);
