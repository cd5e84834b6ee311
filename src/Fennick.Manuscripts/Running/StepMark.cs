using System.Buffers.Binary;
using System.Diagnostics;
using System.IO.MemoryMappedFiles;
using System.Text;
using Fennick.Diagnostics;

namespace Fennick.Manuscripts.Running;

/// <summary>A step that runs.</summary>
/// <param name="Name">Its label, or its line.</param>
/// <param name="Count">Which of the steps it is that have begun.</param>
/// <param name="Since">When it began.</param>
internal sealed record RunningStep(string Name, int Count, Stopwatch Since);

/// <summary>Tells whoever watches this process which step it is in, so that this is known when it dies.</summary>
internal static class StepMark
{
    private const int Size = 4096;
    private static MemoryMappedViewAccessor? view;

    /// <summary>The step that began last in this process; null if none runs.</summary>
    public static RunningStep? Running { get; private set; }

    /// <summary>Makes the file that a process marks its steps in.</summary>
    public static void Create(string path) => File.WriteAllBytes(path, new byte[Size]);

    /// <summary>From now on the steps of this process are marked.</summary>
    public static void Open(string path) => view = MemoryMappedFile.CreateFromFile(path, FileMode.Open).CreateViewAccessor(0, Size);

    /// <summary>A step begins; or, without a name, the run.</summary>
    public static void Begin(string step, SourcePlace place)
    {
        Running = step.Length == 0 ? null : new RunningStep(step, (Running?.Name == step ? Running.Count - 1 : Running?.Count ?? 0) + 1, Stopwatch.StartNew());
        if (view is null) return;
        var text = Encoding.UTF8.GetBytes($"{step}\n{place.File}\n{place.Line}\n{place.Column}");
        var length = Math.Min(text.Length, Size - sizeof(int));
        view.Write(0, 0);
        view.WriteArray(sizeof(int), text, 0, length);
        view.Write(0, length);
    }

    /// <summary>No step is running.</summary>
    public static void End()
    {
        Running = null;
        view?.Write(0, 0);
    }

    /// <summary>The step that a process was in; null if it was in none.</summary>
    public static (string Step, SourcePlace Place)? Read(string path)
    {
        var bytes = File.ReadAllBytes(path);
        var length = BinaryPrimitives.ReadInt32LittleEndian(bytes);
        if (length <= 0 || length > bytes.Length - sizeof(int)) return null;
        return Encoding.UTF8.GetString(bytes, sizeof(int), length).Split('\n') is [var step, var file, var line, var column]
            ? (step, new SourcePlace(file, int.Parse(line, System.Globalization.CultureInfo.InvariantCulture), int.Parse(column, System.Globalization.CultureInfo.InvariantCulture))) : null;
    }
}
