namespace Fennick.Pictures;

/// <summary>Finds the picture tools of the package Fennick.Plots where it is beside this one; they load when they are first needed.</summary>
internal static class PictureToolsBeside
{
    private static readonly Lazy<IPictureTools?> Found = new(() => (IPictureTools?)Type.GetType("Fennick.Plots.PictureTools, Fennick.Plots")?.GetProperty("Instance")?.GetValue(null));

    public static IPictureTools? Find() => Found.Value;
}
