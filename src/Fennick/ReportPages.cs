using System.Collections.Immutable;

namespace Fennick;

/// <summary>How a report fills its pages.</summary>
/// <param name="Count">How many pages it has.</param>
/// <param name="EmptyShare">The mean share of a page that stays empty because what comes next has no room there, from 0 to 1; pages that end where the report says so do not count.</param>
/// <param name="Remedies">What was done so that pages are filled, a line for each table or figure.</param>
public sealed record ReportPages(int Count, double EmptyShare, ImmutableArray<string> Remedies);
