using System.Diagnostics;
using System.Globalization;
using System.IO.Hashing;
using System.Text;

namespace Fennick.Diagnostics;

/// <summary>What is told of an exception that nobody foresaw: a mistake of Fennick's own, not of its user.</summary>
public static class Fault
{
    /// <summary>A message with a number that is the same wherever the same goes wrong; the details go into a file in the folder for temporary ones.</summary>
    /// <param name="problem">The exception.</param>
    public static Diagnostic Describe(Exception problem)
    {
        ArgumentNullException.ThrowIfNull(problem);
        if (problem is OutOfMemoryException) return Diagnostic.Error(null, "the memory is used up", "make the report from less data at once, or on a machine with more memory");
        var number = NumberOf(problem);
        var file = Path.Combine(Path.GetTempPath(), $"fennick-fault-{number}-{Guid.NewGuid():N}.txt");
        try
        {
            using var stream = new FileStream(file, new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write, UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite });
            stream.Write(Encoding.UTF8.GetBytes($"Fennick {typeof(Fault).Assembly.GetName().Version}, .NET {Environment.Version}\n{problem}\n"));
        }
        catch (Exception unwritten) when (unwritten is IOException or UnauthorizedAccessException)
        {
            return Diagnostic.Error(null, $"something is wrong in Fennick itself: fault {number}", "nothing was overwritten; please report the number");
        }
        return Diagnostic.Error(null, $"something is wrong in Fennick itself: fault {number}", $"nothing was overwritten; please report the number with {file}");
    }

    private static string NumberOf(Exception problem)
    {
        var text = new StringBuilder();
        for (Exception? at = problem; at is not null; at = at.InnerException)
        {
            text.Append(at.GetType().FullName);
            foreach (var frame in new StackTrace(at).GetFrames()) text.Append(CultureInfo.InvariantCulture, $" {frame.GetMethod()?.DeclaringType?.FullName}.{frame.GetMethod()?.Name}");
        }
        return XxHash32.HashToUInt32(Encoding.UTF8.GetBytes(text.ToString())).ToString("X8", CultureInfo.InvariantCulture);
    }
}
