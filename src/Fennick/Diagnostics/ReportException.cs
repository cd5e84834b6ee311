using System.Collections.Immutable;

namespace Fennick.Diagnostics;

/// <summary>What the caller got wrong: the report was not made. The diagnostics say what, where, and what to do.</summary>
public sealed class ReportException : FennickException
{
    /// <summary>One error.</summary>
    public ReportException(Diagnostic diagnostic)
        : this([diagnostic])
    {
    }

    /// <summary>All errors of one stage, and the warnings collected so far.</summary>
    public ReportException(IEnumerable<Diagnostic> diagnostics, Exception? inner = null)
        : this(diagnostics.ToImmutableArray(), inner)
    {
    }

    private ReportException(ImmutableArray<Diagnostic> diagnostics, Exception? inner)
        : base(string.Join(Environment.NewLine, diagnostics), inner) => Diagnostics = diagnostics;

    /// <summary>What is wrong, in the order it was found.</summary>
    public ImmutableArray<Diagnostic> Diagnostics { get; }

    /// <summary>Throws if any of the diagnostics is an error.</summary>
    internal static void ThrowIfAny(IEnumerable<Diagnostic> diagnostics)
    {
        if (diagnostics.Any(d => d.Severity == Severity.Error)) throw new ReportException(diagnostics);
    }
}
