namespace Fennick.Manuscripts.Provenance;

/// <summary>A call that may bring something into a report that nobody declares.</summary>
/// <param name="Call">What is called, as one writes it: <c>File.ReadAllText</c>, <c>new Random</c>, <c>DateTime.Now</c>.</param>
/// <param name="Kind">What it may bring.</param>
/// <param name="Document">The source file by the compiler's name.</param>
/// <param name="Line">The line there, from 1.</param>
/// <param name="Column">The column there, from 1.</param>
internal sealed record UndeclaredCall(string Call, CallKind Kind, string Document, int Line, int Column);
