namespace Fennick.Pictures;

/// <summary>Looks at the pixels of pictures and changes them.</summary>
public interface IPictureTools
{
    /// <summary>A PNG picture of a drawing in SVG.</summary>
    /// <param name="svg">The drawing.</param>
    /// <param name="width">The width of the picture in pixels.</param>
    /// <param name="height">Its height in pixels.</param>
    byte[] Draw(ReadOnlyMemory<byte> svg, int width, int height);

    /// <summary>A picture in another format, such as GIF, TIFF, WebP or BMP, as PNG: upright, in its own resolution, and without what it says of its origin.</summary>
    /// <param name="picture">The picture's file.</param>
    byte[] Convert(ReadOnlyMemory<byte> picture);

    /// <summary>A JPEG picture whose pixels are turned as its camera was held.</summary>
    /// <param name="picture">The picture's file.</param>
    byte[] Upright(ReadOnlyMemory<byte> picture);

    /// <summary>The picture without the margins that have the colour of its corner.</summary>
    /// <param name="picture">A PNG or JPEG picture's file.</param>
    /// <returns>A picture of the same format.</returns>
    byte[] Trim(ReadOnlyMemory<byte> picture);

    /// <summary>The pixels of a PNG or JPEG picture, row by row, each as <c>0xAARRGGBB</c>; brought to at most the number of pixels given.</summary>
    /// <param name="picture">The picture's file.</param>
    /// <param name="most">How many pixels at most.</param>
    uint[] Pixels(ReadOnlyMemory<byte> picture, int most);

    /// <summary>The picture with all its colours replaced by one; what is transparent stays so.</summary>
    /// <param name="picture">A PNG or JPEG picture's file.</param>
    /// <param name="rgb">The colour as <c>0xRRGGBB</c>.</param>
    /// <returns>A PNG picture.</returns>
    byte[] Tint(ReadOnlyMemory<byte> picture, int rgb);

    /// <summary>The picture with black laid over it.</summary>
    /// <param name="picture">A PNG or JPEG picture's file.</param>
    /// <param name="share">How much of it, from 0 to 1.</param>
    /// <returns>A picture of the same format.</returns>
    byte[] Darken(ReadOnlyMemory<byte> picture, double share);
}
