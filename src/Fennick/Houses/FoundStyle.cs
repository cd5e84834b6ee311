namespace Fennick.Houses;

/// <summary>How a style came to a role.</summary>
internal enum StyleOrigin
{
    /// <summary>The settings name it.</summary>
    Named,

    /// <summary>It bears the role's own name.</summary>
    Found,

    /// <summary>The house has none; it was made.</summary>
    Made,
}

/// <summary>The style that a house has for a role.</summary>
/// <param name="Role">The role in the words of the settings.</param>
/// <param name="Style">The name of the style.</param>
/// <param name="Origin">How it came to the role.</param>
/// <param name="Look">Its family, its size and what else makes it.</param>
internal sealed record FoundStyle(string Role, string Style, StyleOrigin Origin, string Look);
