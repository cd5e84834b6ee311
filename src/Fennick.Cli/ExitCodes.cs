namespace Fennick.Cli;

/// <summary>What the command tells the shell.</summary>
internal static class ExitCodes
{
    public const int Done = 0;

    /// <summary>The work failed; what is wrong was said.</summary>
    public const int Failed = 1;

    /// <summary>The call itself was wrong.</summary>
    public const int WrongCall = 2;

    /// <summary>Some units of a batch failed; the others are there.</summary>
    public const int SomeFailed = 3;
}
