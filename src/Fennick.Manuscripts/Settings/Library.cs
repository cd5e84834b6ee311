using Fennick.Diagnostics;

namespace Fennick.Manuscripts.Settings;

/// <summary>A library that the steps use.</summary>
/// <param name="Name">The name of a package, or the path of an assembly.</param>
/// <param name="Version">The version of a package; null for an assembly.</param>
/// <param name="Place">Where it is named.</param>
internal sealed record Library(string Name, string? Version, SourcePlace Place);
