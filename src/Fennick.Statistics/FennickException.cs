namespace Fennick;

/// <summary>
/// What the caller, a file or the data got wrong, in words for whoever wants the report. All exceptions of this kind are of this family, and a reader of data that you write may add its own;
/// anything else that is thrown is a fault of a program.
/// </summary>
public abstract class FennickException : Exception
{
    /// <summary>An exception with a message for the user.</summary>
    protected FennickException(string message, Exception? inner = null)
        : base(message, inner)
    {
    }
}
