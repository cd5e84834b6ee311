using System.ComponentModel;

namespace Fennick.Manuscripts.Running;

/// <summary>The compiled form of a manuscript. Only compiled manuscripts implement it.</summary>
[EditorBrowsable(EditorBrowsableState.Never)]
public interface IManuscriptProgram
{
    /// <summary>Carries out the steps and places the prose between them.</summary>
    Task RunAsync(ManuscriptRun run);
}
