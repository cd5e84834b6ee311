using System.Collections.Immutable;
using System.Diagnostics;
using System.Reflection;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Compilation;

namespace Fennick.Manuscripts.Running;

/// <summary>An exception in a step, with what the steps had written to the console until then.</summary>
public sealed class RunFault : Exception
{
    internal RunFault(Exception problem, ImmutableArray<StepOutput> outputs)
        : base(problem.Message, problem) => Outputs = outputs;

    /// <summary>What the steps wrote to the console.</summary>
    public ImmutableArray<StepOutput> Outputs { get; }

    /// <summary>The diagnostics for an exception, at the first place of the manuscript on its way.</summary>
    internal static ImmutableArray<Diagnostic> Describe(Exception problem, ManuscriptTree tree)
    {
        var inner = Unwrap(problem);
        var place = PlaceOf(inner, tree) ?? PlaceOf(problem, tree) ?? tree.Settings.Place;
        if (inner is OutOfMemoryException) return [Diagnostic.Error(place, "the memory is used up", "read less data at once, or allow more memory")];
        if (inner is not ReportException report) return [Diagnostic.Error(place, $"{inner.Message.ReplaceLineEndings(" ")} ({inner.GetType().Name})",
            inner is (FileNotFoundException or DirectoryNotFoundException) && !WorkingFolder.Follows ? $"relative paths start from the folder of the process, {WorkingFolder.Current}; `Inputs.Declare(\"…\")` returns the path beside the manuscript" : null)];
        return [.. report.Diagnostics.Select(d => d.Place is null ? d with { Place = place }
            : tree.Sources.Has(d.Place.File) ? d : d with { Place = place, Message = $"{d.Place}: {d.Message}" })];
    }

    private static Exception Unwrap(Exception problem) => problem switch
    {
        AggregateException { InnerExceptions: [var only] } => Unwrap(only),
        TargetInvocationException or TypeInitializationException when problem.InnerException is { } inner => Unwrap(inner),
        _ => problem,
    };

    private static SourcePlace? PlaceOf(Exception problem, ManuscriptTree tree)
    {
        foreach (var frame in new StackTrace(problem, fNeedFileInfo: true).GetFrames())
        {
            if (MappedPlace.Resolve(frame.GetFileName()) is { } ordinal && ordinal < tree.Executables.Length)
                return tree.PlaceOf(ordinal, frame.GetFileLineNumber() - 1, Math.Max(0, frame.GetFileColumnNumber() - 1));
        }
        return null;
    }
}
