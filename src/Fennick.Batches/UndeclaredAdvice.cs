using Fennick.Diagnostics;
using Fennick.Manuscripts.Provenance;

namespace Fennick.Batches;

/// <summary>What is said where nobody knows whether a report is out of date.</summary>
internal static class UndeclaredAdvice
{
    private const string Counts = "so that every unit counts as changed";

    public static Diagnostic Of(string call, CallKind kind, SourcePlace? place) => kind switch
    {
        CallKind.Program => new Diagnostic(Severity.Advice, place, $"nobody knows what the program of this step reads, {Counts}", "name its files in the head of the step, such as `reads: data/hives.csv`"),
        CallKind.Changing => new Diagnostic(Severity.Advice, place, $"`{call}` gives something else at another time or place, {Counts}", "give what it brings as a parameter"),
        _ => new Diagnostic(Severity.Advice, place, $"nobody knows what `{call}` reads, {Counts}", "read with `Csv.Read`, name the files in the setting `data`, or put the call into a method with `[DeclaresInputs]` that names them by `Inputs.Declare`"),
    };

    public static Diagnostic OfVariable(string name) =>
        new(Severity.Advice, null, $"the function uses `{name.TrimStart('<').Split('>')[0]}` from around it, and nobody knows where that comes from, {Counts}", "make it inside of the function, by `Once` if the units share it");

    public static Diagnostic OfUnreadable(string name) => new(Severity.Advice, null, $"the code of {name} cannot be looked into, {Counts}", "mark the function with `[DeclaresInputs]` if it declares what it reads");
}
