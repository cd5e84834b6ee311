using Fennick.Running;

namespace Fennick;

/// <summary>Says what a report is made from, so that a batch knows which reports are out of date, and no report is written over what it was made from.</summary>
public static class Inputs
{
    /// <summary>Says that a file is about to be read. Fennick's own readers say it themselves; a reader of one's own calls this before it opens the file.</summary>
    /// <param name="path">The file; it need not be there. In a manuscript it is relative to that, else to the current folder of the process.</param>
    /// <returns>Its full path, by which to open it: the current folder of a process is not the manuscript's where several run at once.</returns>
    /// <example>
    /// <code>
    /// [DeclaresInputs]
    /// static Hive[] ReadHives(string path)
    /// {
    ///     return JsonSerializer.Deserialize&lt;Hive[]&gt;(File.ReadAllText(Inputs.Declare(path)))!;
    /// }
    /// </code>
    /// </example>
    public static string Declare(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        return FilesRead.Note(path);
    }
}

/// <summary>
/// Promises of a method, or of all methods of a type or a library, that what they give depends on nothing but their arguments and on files that they
/// declare by <see cref="Inputs.Declare"/>: a batch looks no further into them when it asks whether a report is out of date.
/// </summary>
[AttributeUsage(AttributeTargets.Method | AttributeTargets.Constructor | AttributeTargets.Class | AttributeTargets.Struct | AttributeTargets.Interface | AttributeTargets.Assembly)]
public sealed class DeclaresInputsAttribute : Attribute;
