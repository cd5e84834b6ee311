using Fennick.Documents;

namespace Fennick.Charts;

/// <summary>The name of a row that stands by its place, so that the same words may name several.</summary>
/// <param name="Place">Its place from the top.</param>
/// <param name="Words">What it says.</param>
/// <param name="IsHeading">Whether it heads the rows below it.</param>
internal sealed record RowName(int Place, RichText Words, bool IsHeading)
{
    public bool Equals(RowName? other) => other is not null && other.Place == Place;

    public override int GetHashCode() => Place;
}
