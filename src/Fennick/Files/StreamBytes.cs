using Fennick.Diagnostics;

namespace Fennick.Files;

/// <summary>Takes in what a stream holds, up to a limit: a stream may be of an upload, and without end.</summary>
internal static class StreamBytes
{
    private const int Block = 1 << 16;

    /// <summary>The bytes of a stream from where it stands to its end.</summary>
    /// <param name="stream">The stream.</param>
    /// <param name="limit">How many there may be.</param>
    /// <param name="name">What messages call it.</param>
    /// <exception cref="ReportException">There are more.</exception>
    public static byte[] Read(Stream stream, long limit, string name)
    {
        ArgumentNullException.ThrowIfNull(stream);
        using var content = new MemoryStream();
        var block = new byte[Block];
        int count;
        while ((count = stream.Read(block)) > 0)
        {
            if (content.Length + count > limit) throw new ReportException(Diagnostic.Error(new SourcePlace(name, 0, 0), $"the stream gives more than {limit >> 20} MB", "give a smaller file"));
            content.Write(block, 0, count);
        }
        return content.ToArray();
    }
}
