namespace Fennick.Tables;

/// <summary>What tables call a member of a record, or a value of an enum: <c>record Hive([Label("Forage within 2 km (ha)")] double ForageHa)</c>.</summary>
/// <param name="words">The words.</param>
[AttributeUsage(AttributeTargets.Parameter | AttributeTargets.Property | AttributeTargets.Field)]
public sealed class LabelAttribute(string words) : Attribute
{
    /// <summary>The words.</summary>
    public string Words { get; } = words;
}
