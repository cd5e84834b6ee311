using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Batches;

/// <summary>The ledger cannot be written, so that nothing could be known of what is made.</summary>
internal sealed class LedgerFault(string path, IOException problem) : Exception(problem.Message, problem)
{
    /// <summary>The same in the user's words.</summary>
    public ReportException ToReport() => new([Diagnostic.Error(new SourcePlace(path, 0, 0), $"the ledger cannot be written: {FileProblem.Reason(problem)}", "the batch has stopped; when the disk can be written again, run the same command: it makes what is missing")], this);
}
