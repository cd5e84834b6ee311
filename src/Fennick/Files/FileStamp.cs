using System.IO.Hashing;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Running;
using Fennick.Statistics.Variables;

namespace Fennick.Files;

/// <summary>A file as it was when it was read, or the files of a pattern such as <c>data/*.csv</c> by their names.</summary>
/// <param name="Path">Its full path.</param>
/// <param name="Length">Its length; -1 if it was not there; of a pattern the number of its files.</param>
/// <param name="Changed">When it had been changed last; of a pattern a number made of the names of its files.</param>
internal readonly record struct FileStamp(string Path, long Length, DateTime Changed)
{
    /// <summary>A file as it is now.</summary>
    /// <exception cref="ReportException">This is not a path, or leads to what can be read only once, or without end.</exception>
    public static FileStamp Of(string path)
    {
        var file = new FileInfo(RunContext.FullPath(path));
        if (IsPattern(file.FullName))
        {
            var names = Matches(file.FullName);
            return new FileStamp(file.FullName, names.Length, new DateTime((long)(XxHash64.HashToUInt64(Encoding.UTF8.GetBytes(string.Join('\0', names))) % (ulong)DateTime.MaxValue.Ticks)));
        }
        if (UnixFile.Of(file.FullName) is { IsOrdinary: false })
            throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "this is a pipe or a device, not a file", "save what it gives in a file, and name that"));
        return file.Exists ? new FileStamp(file.FullName, file.Length, file.LastWriteTimeUtc) : new FileStamp(file.FullName, -1, default);
    }

    /// <summary>Whether a path stands for all files of a folder whose names are like it; its stamp then tells which there are.</summary>
    public static bool IsPattern(string path) => System.IO.Path.GetFileName(path.AsSpan()).ContainsAny('*', '?') && !File.Exists(path);

    /// <summary>The full paths of the files of a pattern, in the order of their names; hidden ones are none of them.</summary>
    public static string[] Matches(string pattern) => System.IO.Path.GetDirectoryName(pattern) is { } folder && Directory.Exists(folder)
        ? [.. Directory.EnumerateFiles(folder, System.IO.Path.GetFileName(pattern), new EnumerationOptions { MatchType = MatchType.Simple, IgnoreInaccessible = false }).Where(f => System.IO.Path.GetFileName(f)[0] is not ('.' or '~')).Order(NaturalOrder.Comparer)] : [];
}
