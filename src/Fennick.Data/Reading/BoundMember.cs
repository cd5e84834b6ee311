using System.Reflection;

namespace Fennick.Data.Reading;

/// <summary>A member of a record, and the column that fills it.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Type">Its type.</param>
/// <param name="MayBeNull">Whether it takes a missing value.</param>
/// <param name="Property">The property that is set; null for a parameter of the constructor.</param>
/// <param name="IsOptional">Whether there need be no column for it.</param>
internal sealed record BoundMember(string Name, Type Type, bool MayBeNull, PropertyInfo? Property, bool IsOptional)
{
    /// <summary>The column; -1 if there is none.</summary>
    public int Column { get; init; } = -1;

    /// <summary>What the source calls the column.</summary>
    public string Head { get; init; } = "";
}
