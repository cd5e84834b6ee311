namespace Fennick.Diagnostics;

/// <summary>How much a diagnostic matters.</summary>
public enum Severity
{
    /// <summary>The report was made; a reader or a writer may want to know.</summary>
    Advice,

    /// <summary>The report was made, but something in it deserves attention.</summary>
    Warning,

    /// <summary>The report was not made.</summary>
    Error,
}
