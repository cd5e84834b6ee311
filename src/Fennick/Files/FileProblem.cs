namespace Fennick.Files;

/// <summary>What the system says against reading or writing a file, in the user's words.</summary>
internal static class FileProblem
{
    // The numbers of Linux, which .NET hands on with an error of a file.
    private static readonly Dictionary<int, string> Reasons = new()
    {
        [2] = "there is no such file or folder",
        [5] = "the disk does not answer as it should",
        [17] = "there is a file of this name already",
        [20] = "what its path takes for a folder is a file",
        [21] = "this is a folder",
        [24] = "this process has too many files open",
        [26] = "the program in it is running",
        [27] = "it is too large for this disk",
        [28] = "the disk is full",
        [30] = "the disk is read-only",
        [36] = "its name is too long",
        [40] = "its link leads in a circle",
        [116] = "the network drive no longer knows it",
        [122] = "the share of the disk that you may use is full",
    };

    /// <summary>Why a file cannot be read or written.</summary>
    /// <param name="problem">What was thrown.</param>
    public static string Reason(Exception problem) => problem switch
    {
        UnauthorizedAccessException => "permission denied",
        FileNotFoundException => "there is no such file",
        DirectoryNotFoundException => "there is no such folder",
        PathTooLongException => Reasons[36],
        _ => Reasons.GetValueOrDefault(problem.HResult) ?? problem.Message.TrimEnd('.'),
    };
}
