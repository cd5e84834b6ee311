using System.Text;

namespace Fennick.Files;

/// <summary>Files that are there whole or not at all, also when the process or the machine dies.</summary>
internal static class WholeFile
{
    /// <summary>Writes a file and puts it in its place.</summary>
    /// <param name="path">Its full path; where that is a link, what it leads to is written.</param>
    /// <param name="write">Writes the content.</param>
    public static void Put(string path, Action<FileStream> write)
    {
        using var staged = StagedFile.Write(path, write);
        staged.Place();
    }

    /// <summary>Writes a text in UTF-8.</summary>
    public static void Put(string path, string text, bool hasMark = false) => Put(path, stream =>
    {
        if (hasMark) stream.Write(Encoding.UTF8.Preamble);
        stream.Write(Encoding.UTF8.GetBytes(text));
    });
}
