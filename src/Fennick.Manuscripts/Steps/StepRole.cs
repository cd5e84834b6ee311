using System.Collections.Immutable;

namespace Fennick.Manuscripts.Steps;

/// <summary>What becomes of a step's result.</summary>
internal enum StepRole
{
    /// <summary>Nothing is placed.</summary>
    Prepare,

    /// <summary>The result is placed as a table.</summary>
    Table,

    /// <summary>The result is placed as a figure.</summary>
    Figure,

    /// <summary>The result is prose or blocks, placed as they are.</summary>
    Text,

    /// <summary>The code itself is placed, then what it wrote and gave.</summary>
    Show,
}

/// <summary>The names of roles and of the keys that a step's head may have.</summary>
internal static class StepRoles
{
    public static readonly ImmutableArray<string> Names = ["prepare", "table", "figure", "text", "show"];

    /// <summary>The head keys of a step that runs a program.</summary>
    private static readonly ImmutableArray<string> ScriptKeys = ["run", "reads", "writes", "limit"];

    /// <summary>Of those of a figure, the ones that are about charts alone.</summary>
    private static readonly ImmutableArray<string> ChartKeys = ["native", "palette", "labels", "letters"];

    /// <summary>All head keys, of whatever role.</summary>
    public static readonly ImmutableArray<string> HeadKeys = ["caption", "note", "source", "alt", "width", "height", "align", "native", "dpi", "palette", "labels", "letters", "series", "ruling", "turning", "listing", "from", .. ScriptKeys];

    public static StepRole? Find(string name) => Names.IndexOf(name) is >= 0 and var index ? (StepRole)index : null;

    /// <summary>The head keys of a role.</summary>
    /// <param name="role">The role.</param>
    /// <param name="isScript">Whether the step runs a program.</param>
    public static ImmutableArray<string> KeysOf(StepRole role, bool isScript = false) => isScript ? [.. ScriptKeys, .. KeysOf(role).Except(ChartKeys)] : role switch
    {
        StepRole.Figure => ["caption", "note", "source", "alt", "width", "height", "align", "native", "dpi", "palette", "labels", "letters", "series", "listing", "from"],
        StepRole.Table => ["caption", "note", "source", "series", "ruling", "turning", "width", "listing", "from"],
        StepRole.Show => ["from"],
        _ => ["listing", "from"],
    };
}
