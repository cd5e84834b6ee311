using System.Runtime.CompilerServices;
using Fennick.Files;
using Fennick.Pictures;

namespace Fennick.Batches;

/// <summary>The hash of a house with its livery.</summary>
internal static class HouseHash
{
    private static readonly ConditionalWeakTable<House, string> Known = [];

    public static string Of(House house, FileHashes hashes) => Known.GetValue(house, _ => FileHashes.OfText(string.Join('\n',
        house.Name, house.File is { } file ? file.Fingerprint ?? hashes.Of(file.Path!) : "", house.Accent, house.Font, Of(house.Logo), Of(house.Cover), house.LightLogo, house.DarkCover, house.KeepsContents, house.NumbersHeadings,
        string.Join('\n', house.Styles.OrderBy(s => s.Key, StringComparer.Ordinal).Select(s => $"{s.Key}={s.Value}")))));

    private static string Of(Picture? picture) => picture is null ? "" : FileHashes.OfBytes(picture.Bytes.AsSpan());
}
