using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Data.Reading;

/// <summary>Checks what has to hold for all records.</summary>
internal static class Requirement
{
    private const int RowsShown = 3;

    public static IReadOnlyList<T> Check<T>(IReadOnlyList<T> records, Func<T, bool> condition, string said)
    {
        var failed = records.Index().Where(r => !condition(r.Item)).ToList();
        if (failed.Count == 0) return records;
        var place = RecordPlaces.Of(records);
        var shown = string.Join("; ", failed.Take(RowsShown).Select(f => $"{(place?.Invoke(f.Index) is { } at ? at : $"record {(f.Index + 1).ToString("N0", CultureInfo.InvariantCulture)}")}: {Describe(f.Item)}"));
        throw new ReportException(Diagnostic.Error(null, $"{(failed.Count == 1 ? "1 record does" : $"{failed.Count.ToString("N0", CultureInfo.InvariantCulture)} of {records.Count.ToString("N0", CultureInfo.InvariantCulture)} records do")} not meet `{said}`: {shown}{(failed.Count > RowsShown ? "; …" : "")}",
            "put the data right, leave those records out with `Where`, or change the condition"));
    }

    private static string Describe<T>(T record) => Convert.ToString(record, CultureInfo.InvariantCulture) is var text && text?.Length > 200 ? $"{text[..200]}…" : text ?? "nothing";
}
