using System.Collections.Immutable;

namespace Fennick.Manuscripts.Vocabulary;

/// <summary>What stands outside of manuscripts: in houses, in the environment, in exit codes.</summary>
internal static class OutsideWords
{
    /// <summary>The slots of a house.</summary>
    public static ImmutableArray<ReferenceEntry> Slots { get; } =
    [
        new("`title`, `subtitle`, `author`, `date`", "what the report says of itself"),
        new("`body`", "the report; on a line of its own, outside of tables"),
        new("`contents`", "the contents; so is the word processor's own table of contents"),
        new("the name of a parameter", "its value"),
        new("the label of a table, a figure, an equation or a `text` step", "that, instead of in the body; in a line among other words, words alone"),
        new("`{VALUE}` or `{VALUE:FORMAT}`", "a value of the manuscript's variables, such as `{hives.Count:N0}`, if the manuscript says `house.values: yes`"),
        new("pictures called `logo`, `cover` (or `logo 2` …)", "the pictures of the settings, at the size of the old ones"),
    ];

    /// <summary>The variables of the environment.</summary>
    public static ImmutableArray<ReferenceEntry> Variables { get; } =
    [
        new("`FENNICK_CACHE`", "the folder for compiled manuscripts, files from the web and the last values; `~/.cache/fennick` without it"),
        new("`FENNICK_EDITOR`", "the call that opens a place in your editor, for `fennick watch`, such as `code --goto {file}:{line}:{column}`"),
        new("`FENNICK_PDF_PATIENCE`", "for how many seconds the word processor may work at a PDF; 120 without it"),
        new("`SLURM_ARRAY_TASK_ID`, `JOB_COMPLETION_INDEX` and others", "which task of an array job or an indexed job this process is, for `--part auto`; see [Batches](batches.md)"),
    ];

    /// <summary>The exit codes of the command.</summary>
    public static ImmutableArray<ReferenceEntry> ExitCodes { get; } =
    [
        new("`0`", "done; nothing is wrong"),
        new("`1`", "the work failed, and what is wrong was said; an existing report is as it was"),
        new("`2`", "the call was wrong"),
        new("`3`", "some units of a batch failed; the others are there"),
    ];
}
