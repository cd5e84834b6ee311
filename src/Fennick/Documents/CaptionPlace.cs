namespace Fennick.Documents;

/// <summary>Where a caption stands.</summary>
public enum CaptionPlace
{
    /// <summary>Above what it names, kept with it.</summary>
    Above,

    /// <summary>Below what it names, kept with it.</summary>
    Below,
}
