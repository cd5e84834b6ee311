using Fennick.Data.Reading;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>Reads JSON: an array of objects, or an object a line.</summary>
public static class Json
{
    /// <summary>
    /// Reads objects into records. A property belongs to the member of that name; case, <c>_</c>, <c>-</c> and spaces do not count, and of a property of an object within,
    /// such as <c>place.valley</c>, neither does the point (<c>PlaceValley</c>). A property that is null, or is not there, is a missing value and needs a member that may be null.
    /// </summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="path">The file, in UTF-8.</param>
    /// <param name="at">The names that lead to the array where it stands within others, such as <c>survey.hives</c>.</param>
    /// <exception cref="ReportException">There is no such file, it is not JSON or holds no objects, a property is missing, or values have the wrong form: file, line and column are named.</exception>
    public static IReadOnlyList<T> Read<T>(string path, string? at = null) => JsonRows.Read(path, at, rows => rows.Records<T>());

    /// <summary>Reads objects as columns for statistics and overviews: numbers as they are, texts and yes/no as factors.</summary>
    /// <param name="path">The file, in UTF-8.</param>
    /// <param name="at">The names that lead to the array where it stands within others.</param>
    /// <exception cref="ReportException">There is no such file, it is not JSON or holds no objects, or a column holds numbers and texts.</exception>
    public static Columns Columns(string path, string? at = null) => ColumnReader.Read(pick => JsonRows.Read(path, at, pick), []);
}
