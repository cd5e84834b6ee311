using Fennick.Running;

namespace Fennick.Formatting;

/// <summary>What a run goes by that has a language.</summary>
internal abstract record LanguageContext : RunContext
{
    /// <summary>The language of what is made in the run, with the formats that it knows so far.</summary>
    public abstract Language? CurrentLanguage { get; }
}
