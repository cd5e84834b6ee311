using Fennick.Diagnostics;

namespace Fennick.Pictures;

/// <summary>Finds the picture tools of the package Fennick.Plots where it is beside this one; they load when they are first needed.</summary>
internal static class PictureToolsBeside
{
    private static readonly Lazy<IPictureTools?> Found = new(() => (IPictureTools?)Type.GetType("Fennick.Plots.PictureTools, Fennick.Plots")?.GetProperty("Instance")?.GetValue(null));

    public static IPictureTools? Find() => Found.Value;

    /// <summary>The tools that were given, or those beside this package.</summary>
    /// <param name="given">Those that were given; null for none.</param>
    /// <param name="purpose">What they are needed for.</param>
    /// <exception cref="ReportException">There are none.</exception>
    public static IPictureTools Need(IPictureTools? given, string purpose) =>
        given ?? Find() ?? throw new ReportException(Diagnostic.Error(null, $"nothing is there that can {purpose}", "give `PictureTools.Instance` of the package Fennick.Plots"));
}
