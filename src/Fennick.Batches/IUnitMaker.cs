using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;

namespace Fennick.Batches;

/// <summary>Makes the reports of a batch.</summary>
internal interface IUnitMaker
{
    /// <summary>What it is called.</summary>
    string Name { get; }

    /// <summary>What tells that something may escape the ledger, so that every unit counts as changed; nothing if nothing does. Once it is ready.</summary>
    ImmutableArray<Diagnostic> Undeclared { get; }

    /// <summary>The manuscript that it makes reports of, which other processes can do too; null if only this one can.</summary>
    Manuscript? Manuscript { get; }

    /// <summary>The forms beside the documents that it asks for itself.</summary>
    ImmutableArray<IReportWriter> Forms { get; }

    /// <summary>What is told of calls that start relative paths from the folder of this process, if units are made in it.</summary>
    IEnumerable<Diagnostic> FromProcessFolder { get; }

    /// <summary>The files that all reports are made from.</summary>
    IEnumerable<string> KnownInputs { get; }

    /// <summary>The files that one of them is made from, as far as they are known before it is made; once it is ready.</summary>
    IEnumerable<string> InputsOf(BatchUnit unit);

    /// <summary>The hash of the program: of all but parameters and data.</summary>
    string Fingerprint(FileHashes hashes);

    /// <summary>The parameters of a row.</summary>
    /// <param name="row">The row.</param>
    /// <param name="diagnostics">Takes what does not fit.</param>
    ImmutableSortedDictionary<string, object> ReadParameters(RosterRow row, List<Diagnostic> diagnostics);

    /// <summary>Gets ready; while what it returns is not disposed of, <see cref="Make"/> may be called, also at once.</summary>
    /// <param name="diagnostics">Takes what deserves attention.</param>
    /// <param name="compileTime">What compiling took; null if there was nothing to compile.</param>
    IDisposable Begin(List<Diagnostic> diagnostics, out TimeSpan? compileTime);

    /// <summary>Makes the report of a unit.</summary>
    /// <exception cref="ReportException">It cannot be made.</exception>
    MadeReport Make(BatchUnit unit, Sharing.Store store);
}
