using System.Collections.Immutable;
using Fennick.Formatting;

namespace Fennick.Manuscripts.Running;

/// <summary>What the steps of a run go by.</summary>
/// <param name="Shared">What the run shares with others.</param>
internal sealed record StepContext(Sharing.Store Shared) : LanguageContext
{
    /// <summary>The language that the settings ask for.</summary>
    public Language? Language { get; init; }

    /// <inheritdoc/>
    public override Language? CurrentLanguage => Language is null ? null : Formats.In(Language);

    /// <summary>Takes what the steps write to the console; it reaches the console if null.</summary>
    public StepConsole.Capture? Console { get; init; }

    /// <summary>The formats that steps have brought; the same for all contexts of a run.</summary>
    public OwnFormats Formats { get; } = new();

    /// <summary>Formats that steps bring while a run goes on.</summary>
    internal sealed class OwnFormats
    {
        private readonly List<OwnFormat> formats = [];
        private (Language Before, Language After)? known;

        /// <summary>Takes a format.</summary>
        public void Add(OwnFormat format)
        {
            lock (formats) formats.Add(format);
            known = null;
        }

        /// <summary>How many there are.</summary>
        public int Count
        {
            get
            {
                lock (formats) return formats.Count;
            }
        }

        /// <summary>Those that have come since there were so many.</summary>
        public ImmutableArray<OwnFormat> Since(int before)
        {
            lock (formats) return [.. formats.Skip(before)];
        }

        /// <summary>A language with them.</summary>
        public Language In(Language language)
        {
            lock (formats)
            {
                if (formats.Count == 0) return language;
                if (known is not { } found || found.Before != language) known = found = (language, language.With([.. formats]));
                return found.After;
            }
        }
    }
}
