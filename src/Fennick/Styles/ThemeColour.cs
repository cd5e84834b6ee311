namespace Fennick.Styles;

/// <summary>A colour of the house's theme; changing the theme changes everything that wears it.</summary>
internal enum ThemeColour
{
    Text,
    Background,
    StrongText,
    Tint,
    Accent1,
    Accent2,
    Accent3,
    Accent4,
    Accent5,
    Accent6,
    Link,
    FollowedLink,
}
