using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Fennick.Manuscripts.Compilation;

namespace Fennick.Manuscripts.Editing;

/// <summary>A value in braces as it was in the last run.</summary>
/// <param name="Expression">Its expression.</param>
/// <param name="Format">Its format.</param>
/// <param name="Shown">How it stands in the report.</param>
/// <param name="Value">The value in full.</param>
internal sealed record LastValue(string Expression, string? Format, string Shown, string Value);

/// <summary>Keeps the values of a manuscript's last run in the user's cache, for those who go on writing it.</summary>
internal static class LastValues
{
    private const int Most = 20_000;

    /// <summary>The values of the last run; none if there was none.</summary>
    public static IReadOnlyList<LastValue> Of(string manuscript)
    {
        try
        {
            return new CompiledCache().FindBytes(KeyOf(manuscript)) is { } bytes ? JsonSerializer.Deserialize(bytes, LastValuesJson.Default.LastValueArray) ?? [] : [];
        }
        catch (JsonException)
        {
            return [];
        }
    }

    /// <summary>Keeps the values of a run. If they cannot be kept, nobody sees them, and nothing else.</summary>
    public static void Keep(string manuscript, IEnumerable<LastValue> values) =>
        new CompiledCache().StoreBytes(KeyOf(manuscript), JsonSerializer.SerializeToUtf8Bytes([.. values.Take(Most)], LastValuesJson.Default.LastValueArray), clears: false);

    private static string KeyOf(string manuscript) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"values\n{manuscript}")));
}

/// <summary>Reads and writes values also where nothing may be found out about types at run time, as in single-file programs.</summary>
[JsonSerializable(typeof(LastValue[]))]
internal sealed partial class LastValuesJson : JsonSerializerContext;
