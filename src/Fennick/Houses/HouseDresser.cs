using System.Collections.Concurrent;
using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Dresses a house for a language: completes and compresses all that does not change from report to report.</summary>
internal static class HouseDresser
{
    private static readonly ConcurrentDictionary<(string House, string Language), DressedHouse> Dressed = new();

    /// <summary>The dressed house; the same pair is dressed once in a process.</summary>
    public static DressedHouse Dress(HouseDesign design, Language language) =>
        Dressed.GetOrAdd((design.Name, language.Tag), _ => new DressedHouse(design, language, HouseParts.Create(design, language), FontWidths.Instance));
}
