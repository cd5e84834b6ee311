using System.Runtime.CompilerServices;
using Xunit.Sdk;
using Xunit.v3;

// A manuscript's run sets the process's current folder.
[assembly: Parallelization(Mode = ParallelMode.None)]

namespace Fennick.Testing;

internal static class CompilingTests
{
    /// <summary>The tests compile into a cache of their own.</summary>
    [ModuleInitializer]
    internal static void UseOwnCache() =>
        Environment.SetEnvironmentVariable("FENNICK_CACHE", Directory.CreateTempSubdirectory("fennick-cache-").FullName);
}
