using Markdig.Syntax.Inlines;

namespace Fennick.Prose;

/// <summary>A loop or a condition in a line; its inlines are its branches.</summary>
internal sealed class ControlInline : ContainerInline;

/// <summary>The inlines of a loop, or of one branch of a condition.</summary>
internal sealed class BranchInline : ContainerInline;
