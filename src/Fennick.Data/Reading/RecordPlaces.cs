using System.Runtime.CompilerServices;

namespace Fennick.Data.Reading;

/// <summary>Remembers where records come from, for as long as their list is in use.</summary>
internal static class RecordPlaces
{
    private static readonly ConditionalWeakTable<object, Func<int, string>> Known = [];

    public static void Keep(object records, Func<int, string> places) => Known.AddOrUpdate(records, places);

    /// <summary>What messages call the record of an index; null if the list is not one that was read.</summary>
    public static Func<int, string>? Of(object records) => Known.TryGetValue(records, out var places) ? places : null;
}
